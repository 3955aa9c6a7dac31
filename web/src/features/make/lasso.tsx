import { type Crop, LASSO_MAX } from '@satchel/core/make/steps/crop'
import { useState } from 'react'
import { KEY_PEN_HELP, KeyCross, type PenEvent, useKeyPen } from '../../components/key-pen.tsx'
import { PixelsCanvas } from '../../components/pixels-canvas.tsx'
import type { MakeShown } from '../../workers/make/protocol.ts'
import { pointsOf, toShownPoints, usePointOf } from './stage-points.ts'

type LassoProps = { shown: MakeShown; crop: Crop; onCrop: (crop: Crop) => void }

/** The whole picture, to draw around what is kept. */
export function Lasso({ shown, crop, onCrop }: LassoProps) {
  const [line, setLine] = useState<number[]>()
  const { overlay, pointOf } = usePointOf(shown)
  const { width, height } = shown.before
  const begin = (event: PenEvent) => {
    const { x, y } = pointOf(event)
    setLine([x, y])
  }
  const up = () => {
    if (line && line.length >= 6) onCrop(aroundLasso(shown, crop, thinOut(line, LASSO_MAX)))
    setLine(undefined)
  }
  const { keys, ...cross } = useKeyPen({
    area: overlay,
    draws: true,
    onDown: begin,
    onMove: (event) => {
      const { x, y } = pointOf(event)
      setLine((line) => [...(line ?? []), x, y])
    },
    onUp: up,
    onCancel: () => setLine(undefined),
  })
  const corners = toShownPoints(shown, line ?? crop.lasso ?? [])
    .map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`)
    .join(' ')
  return (
    <>
      <PixelsCanvas pixels={shown.before} label="The whole picture" className="absolute inset-0 h-full w-full" />
      <svg
        ref={overlay}
        data-testid="lasso"
        viewBox={`0 0 ${width} ${height}`}
        className="absolute inset-0 h-full w-full cursor-crosshair"
        onPointerDown={(event) => {
          if (event.button !== 0) return
          event.currentTarget.setPointerCapture(event.pointerId)
          begin(event)
        }}
        onPointerMove={(event) => line && setLine([...line, ...pointsOf(event, pointOf)])}
        onPointerUp={up}
        onPointerCancel={() => setLine(undefined)}
        {...keys}
      >
        <title>{`Draw around what is kept. ${KEY_PEN_HELP}`}</title>
        {corners && (
          <>
            <path
              d={`M0 0H${width}V${height}H0ZM${corners.replaceAll(' ', 'L')}Z`}
              fill="#181818"
              fillOpacity={0.45}
              fillRule="evenodd"
            />
            <polygon points={corners} fill="none" stroke="var(--saddle)" strokeWidth={width / 300} />
          </>
        )}
        <KeyCross {...cross} width={width} height={height} />
      </svg>
    </>
  )
}

/** A crop to what a lasso holds; its box is one of the turned picture. */
function aroundLasso(shown: MakeShown, crop: Crop, lasso: number[]): Crop {
  const { width, height } = shown.before
  const points = toShownPoints(shown, lasso)
  const share = (values: number[], side: number, of: (...values: number[]) => number) =>
    Math.min(1, Math.max(0, of(...values) / side))
  const xs = points.map(({ x }) => x)
  const ys = points.map(({ y }) => y)
  const box = { left: share(xs, width, Math.min), right: share(xs, width, Math.max) }
  const rows = { top: share(ys, height, Math.min), bottom: share(ys, height, Math.max) }
  if (box.left >= box.right || rows.top >= rows.bottom) return crop
  return { ...crop, ...box, ...rows, lasso: lasso.map((value) => Math.round(value * 10) / 10) }
}

/** At most so many numbers of a way, evenly. */
function thinOut(line: readonly number[], most: number): number[] {
  const step = Math.ceil(line.length / most)
  return line.filter((_, i) => Math.floor(i / 2) % step === 0)
}
