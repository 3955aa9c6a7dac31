import type { Detail } from '@satchel/core/trace/trace'
import { type KeyboardEvent, type PointerEvent, useRef } from 'react'

const VIEW = { width: 300, height: 190, left: 44, right: 12, top: 12, bottom: 34 }

type Props = { details: readonly Detail[]; tolerancePx: number; onChoose: (tolerancePx: number) => void }

/** Overlap against anchors: what more detail costs. The place that is good enough is touched. */
export function DetailCurve({ details, tolerancePx, onChoose }: Props) {
  const element = useRef<SVGSVGElement>(null)
  const anchors = details.map((detail) => Math.log(Math.max(1, detail.anchors)))
  const overlaps = details.map(({ overlap }) => overlap)
  const [fewest, most] = [Math.min(...anchors), Math.max(...anchors)]
  // a curve that is level is not made to look steep
  const [low, high] = [Math.min(...overlaps, Math.max(...overlaps) - 0.02), Math.max(...overlaps)]
  const xOf = (count: number) =>
    VIEW.left +
    ((VIEW.width - VIEW.left - VIEW.right) * (Math.log(Math.max(1, count)) - fewest)) / Math.max(1e-9, most - fewest)
  const yOf = (overlap: number) =>
    VIEW.top + ((VIEW.height - VIEW.top - VIEW.bottom) * (high - overlap)) / Math.max(1e-9, high - low)
  const at = nearestTo(details, tolerancePx)
  const chosen = details[at]
  const choose = (index: number) => {
    const next = details[Math.min(details.length - 1, Math.max(0, index))]
    if (next) onChoose(next.tolerancePx)
  }
  const touch = (event: PointerEvent) => {
    const box = element.current?.getBoundingClientRect()
    if (!box) return
    const x = ((event.clientX - box.left) * VIEW.width) / box.width
    const away = details.map((detail) => Math.abs(xOf(detail.anchors) - x))
    choose(away.indexOf(Math.min(...away)))
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
      <svg ref={element} viewBox={`0 0 ${VIEW.width} ${VIEW.height}`} aria-hidden className="w-full">
        <g className="measure fill-quiet text-[10px]">
          <text x={VIEW.left - 6} y={VIEW.top + 4} textAnchor="end">
            {percent(high)}
          </text>
          <text x={VIEW.left - 6} y={VIEW.height - VIEW.bottom + 2} textAnchor="end">
            {percent(low)}
          </text>
          <text x={VIEW.left} y={VIEW.height - 18}>
            {Math.round(Math.exp(fewest)).toLocaleString('en')}
          </text>
          <text x={VIEW.width - VIEW.right} y={VIEW.height - 18} textAnchor="end">
            {Math.round(Math.exp(most)).toLocaleString('en')} anchors
          </text>
        </g>
        <polyline
          points={details.map(({ anchors: count, overlap }) => `${xOf(count)},${yOf(overlap)}`).join(' ')}
          className="fill-none stroke-saddle"
          strokeWidth={2}
        />
        {details.map(({ tolerancePx: tolerance, anchors: count, overlap }, i) => (
          <circle
            key={tolerance}
            cx={xOf(count)}
            cy={yOf(overlap)}
            r={i === at ? 7 : 3.5}
            className={i === at ? 'fill-saddle stroke-raised' : 'fill-raised stroke-saddle'}
            strokeWidth={2}
          />
        ))}
        <text
          x={(VIEW.left + VIEW.width - VIEW.right) / 2}
          y={VIEW.height - 5}
          textAnchor="middle"
          className="fill-ink text-[11px]"
        >
          {chosen && `${chosen.anchors.toLocaleString('en')} anchors, ${percent(chosen.overlap)} overlap`}
        </text>
      </svg>
    </div>
  )
}

const percent = (share: number) => `${(100 * share).toFixed(1)} %`

export function nearestTo(details: readonly Detail[], tolerancePx: number): number {
  const away = details.map((detail) => Math.abs(detail.tolerancePx - tolerancePx))
  return away.indexOf(Math.min(...away))
}
