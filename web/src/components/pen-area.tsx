import type { PenStroke } from '@satchel/core/make/pen-drawing'
import { type PointerEvent, useRef, useState } from 'react'
import { KEY_PEN_HELP, KeyCross, useKeyPen } from './key-pen.tsx'

type PenPoint = PenStroke['points'][number]
type Props = {
  strokes: readonly PenStroke[]
  /** Of the next stroke, as a share of the side. */
  width: number
  className: string
  onStroke: (stroke: PenStroke) => void
}

/** Pressed as hard as a pointer without pressure says it is. */
const MIDDLE_PRESSURE = 0.5

/** A square that is drawn on by pen, pointer or keys. */
export function PenArea({ strokes, width, className, onStroke }: Props) {
  const [live, setLive] = useState<readonly PenPoint[]>()
  const area = useRef<SVGSVGElement>(null)
  const pointOf = (event: { clientX: number; clientY: number; pressure: number }): PenPoint => {
    const box = area.current?.getBoundingClientRect() ?? new DOMRect(0, 0, 1, 1)
    return {
      x: (event.clientX - box.left) / box.width,
      y: (event.clientY - box.top) / box.height,
      pressure: 2 * (event.pressure || MIDDLE_PRESSURE),
    }
  }
  const down = (event: PointerEvent<SVGSVGElement>) => {
    if (event.button !== 0) return
    event.currentTarget.setPointerCapture(event.pointerId)
    setLive([pointOf(event)])
  }
  const move = (event: PointerEvent<SVGSVGElement>) => {
    if (!live) return
    const events = event.nativeEvent.getCoalescedEvents()
    setLive([...live, ...(events.length > 0 ? events : [event.nativeEvent]).map(pointOf)])
  }
  const up = () => {
    if (live) onStroke({ points: live, width })
    setLive(undefined)
  }
  const { keys, ...cross } = useKeyPen({
    area,
    draws: true,
    onDown: (event) => setLive([pointOf(event)]),
    onMove: (event) => setLive((live) => [...(live ?? []), pointOf(event)]),
    onUp: up,
    onCancel: () => setLive(undefined),
  })
  const all = live ? [...strokes, { points: live, width }] : strokes
  return (
    <div className={`well relative aspect-square touch-none ${className}`}>
      <svg
        ref={area}
        data-testid="pen-area"
        viewBox="0 0 1 1"
        className="h-full w-full cursor-crosshair"
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={() => setLive(undefined)}
        {...keys}
      >
        <title>{`Where the pen draws. ${KEY_PEN_HELP}`}</title>
        <g fill="none" stroke="#181818" strokeLinecap="round" strokeLinejoin="round">
          {all.map((stroke, s) =>
            stroke.points.map((to, i) => {
              const from = stroke.points[Math.max(0, i - 1)] ?? to
              return (
                <path
                  // biome-ignore lint/suspicious/noArrayIndexKey: strokes and their points only grow
                  key={`${s} ${i}`}
                  d={`M${from.x} ${from.y}L${to.x} ${to.y}`}
                  strokeWidth={stroke.width * to.pressure}
                />
              )
            }),
          )}
        </g>
        <KeyCross {...cross} width={1} height={1} />
      </svg>
    </div>
  )
}
