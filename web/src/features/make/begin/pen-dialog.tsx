import { type PenStroke, toPenSvg } from '@satchel/core/make/pen-drawing'
import { Undo2 } from 'lucide-react'
import { type PointerEvent, useRef, useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Slider } from '../../../components/controls.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { KEY_PEN_HELP, KeyCross, useKeyPen } from '../../../components/key-pen.tsx'
import type { Picture } from '../../../data/sources.ts'

type Props = { onClose: () => void; onPicture: (picture: Picture) => void }
type PenPoint = PenStroke['points'][number]

/** Pressed as hard as a pointer without pressure says it is. */
const MIDDLE_PRESSURE = 0.5
const USUAL_PERCENT = 3

/** Half a shape is drawn by pen; its right edge is where it will be mirrored. */
export function PenDialog({ onClose, onPicture }: Props) {
  const [strokes, setStrokes] = useState<readonly PenStroke[]>([])
  const [live, setLive] = useState<readonly PenPoint[]>()
  const [percent, setPercent] = useState(USUAL_PERCENT)
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
    if (live) setStrokes([...strokes, { points: live, width: percent / 100 }])
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
  const all = live ? [...strokes, { points: live, width: percent / 100 }] : strokes
  const begin = () => {
    onPicture({ file: new File([toPenSvg(strokes)], 'drawn by pen.svg', { type: 'image/svg+xml' }) })
    onClose()
  }
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Draw by pen"
      description="For an ornament, draw the left half of a shape: what lies furthest to the right touches its mirror image, and up points outward."
      shape="wide"
    >
      <div className="grid gap-4 sm:grid-cols-[minmax(0,1fr)_236px]">
        <div className="well relative aspect-square w-[min(100%,56dvh)] touch-none">
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
        <div className="grid content-start gap-3">
          <Slider
            label="Pen"
            value={percent}
            usual={USUAL_PERCENT}
            min={0.5}
            max={20}
            step={0.5}
            eased
            unit="%"
            onChange={setPercent}
          />
          <p className="text-13 text-quiet">A pen that feels pressure draws thin and thick.</p>
          <Button disabled={strokes.length === 0} onClick={() => setStrokes(strokes.slice(0, -1))}>
            <Undo2 size={18} aria-hidden /> Take the last stroke away
          </Button>
        </div>
      </div>
      <div className="flex justify-end gap-2">
        <Button kind="quiet" onClick={onClose}>
          Cancel
        </Button>
        <Button kind="primary" disabled={strokes.length === 0} onClick={begin}>
          Begin with this drawing
        </Button>
      </div>
    </Dialog>
  )
}
