import type { Detail } from '@satchel/core/trace/trace'
import { type KeyboardEvent, type PointerEvent, Suspense, useRef } from 'react'
import { CurveChart } from '../../components/charts/charts.tsx'
import { CURVE_HEIGHT_PX, nearestAcross } from '../../components/charts/curve-places.ts'

type Props = { details: readonly Detail[]; tolerancePx: number; onChoose: (tolerancePx: number) => void }

/** Overlap against anchors: what more detail costs. The place that is good enough is touched. */
export function DetailCurve({ details, tolerancePx, onChoose }: Props) {
  const element = useRef<HTMLDivElement>(null)
  const anchors = details.map((detail) => Math.max(1, detail.anchors))
  const overlaps = details.map(({ overlap }) => overlap)
  // a curve that is level is not made to look steep
  const highest = Math.max(...overlaps)
  const y = { from: Math.min(...overlaps, highest - 0.02), to: highest }
  const at = nearestTo(details, tolerancePx)
  const chosen = details[at]
  const choose = (index: number) => {
    const next = details[Math.min(details.length - 1, Math.max(0, index))]
    if (next) onChoose(next.tolerancePx)
  }
  const touch = (event: PointerEvent) => {
    const box = element.current?.getBoundingClientRect()
    if (!box) return
    choose(nearestAcross(anchors, box.width, event.clientX - box.left))
  }
  const onKeyDown = (event: KeyboardEvent) => {
    // to the right lie more anchors, and the finest comes first
    const step = { ArrowRight: -1, ArrowUp: -1, ArrowLeft: 1, ArrowDown: 1 }[event.key]
    const end = { Home: details.length - 1, End: 0 }[event.key]
    if (step === undefined && end === undefined) return
    event.preventDefault()
    choose(end ?? at + (step ?? 0))
  }
  return (
    <div
      ref={element}
      role="slider"
      tabIndex={0}
      aria-label="Detail: overlap against anchors"
      aria-valuemin={0}
      aria-valuemax={details.length - 1}
      aria-valuenow={details.length - 1 - at}
      aria-valuetext={chosen && `${chosen.anchors} anchors, overlap ${percent(chosen.overlap)}`}
      className="cursor-pointer touch-none rounded-10 border border-line bg-raised"
      onKeyDown={onKeyDown}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        touch(event)
      }}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) touch(event)
      }}
    >
      <Suspense fallback={<div style={{ height: CURVE_HEIGHT_PX }} />}>
        <div aria-hidden className="measure pointer-events-none">
          <CurveChart
            points={details.map(({ overlap }, i) => ({ x: anchors[i] ?? 1, y: overlap }))}
            {...{ at, y }}
            sayX={(count) => Math.round(count).toLocaleString('en')}
            sayY={percent}
          />
        </div>
      </Suspense>
      <p className="pb-2 text-center text-12" aria-hidden>
        {chosen && `${chosen.anchors.toLocaleString('en')} anchors, ${percent(chosen.overlap)} overlap`}
      </p>
    </div>
  )
}

const percent = (share: number) => `${(100 * share).toFixed(1)} %`

export function nearestTo(details: readonly Detail[], tolerancePx: number): number {
  const away = details.map((detail) => Math.abs(detail.tolerancePx - tolerancePx))
  return away.indexOf(Math.min(...away))
}
