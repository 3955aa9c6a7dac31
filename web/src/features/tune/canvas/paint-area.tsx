import { type PointerEvent, useEffect, useRef, useState } from 'react'
import type { InkedCanvas } from './use-stroke-canvas.ts'
import { useTwoFingers } from './use-two-fingers.ts'
import { canvasSize, holdInside, stepZoom, type View, zoomAt } from './zoom.ts'

type Props = {
  inked: InkedCanvas
  view: View
  onView: (view: View) => void
  /** Where the line between before and after stands, 0…1; undefined for none. */
  splitAt: number | undefined
  onSplit: (at: number) => void
  /** What is called what on either side of the line. */
  names: { before: string; after: string }
  /** Stands in until the strokes are painted. */
  thumbnail: string
}

const PAN_PX = 60
const PAN_KEYS: Record<string, { x: number; y: number }> = {
  ArrowLeft: { x: -PAN_PX, y: 0 },
  ArrowRight: { x: PAN_PX, y: 0 },
  ArrowUp: { x: 0, y: -PAN_PX },
  ArrowDown: { x: 0, y: PAN_PX },
}

/** Gauge strokes that follow every change, and room for free strokes. Wheel zooms, middle button pans, two fingers do both. */
export function PaintArea({ inked, view, onView, splitAt, onSplit, names, thumbnail }: Props) {
  const frame = useRef<HTMLDivElement>(null)
  const [size, setSize] = useState({ width: 0, height: 0 })
  const panning = useRef<{ x: number; y: number; view: View }>(undefined)
  const { element, canvas } = inked
  useEffect(() => {
    if (!frame.current) return
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: Math.round(entry.contentRect.width), height: Math.round(entry.contentRect.height) })
    })
    observer.observe(frame.current)
    return () => observer.disconnect()
  }, [])
  useEffect(() => {
    const { width, height } = canvasSize(size, view.zoom)
    canvas.current?.resize(width, height)
  }, [canvas, size, view.zoom])
  // React's own wheel listeners are passive: the page would scroll.
  useEffect(() => {
    const box = frame.current
    if (!box) return
    const onWheel = (event: WheelEvent) => {
      if (!(event.ctrlKey || event.metaKey) && view.zoom <= 1) return
      event.preventDefault()
      const rect = box.getBoundingClientRect()
      if (event.ctrlKey || event.metaKey) {
        const zoom = stepZoom(view.zoom, event.deltaY < 0 ? 1 : -1)
        onView(zoomAt(view, zoom, { x: event.clientX - rect.left, y: event.clientY - rect.top }, size))
      } else onView(holdInside({ ...view, x: view.x - event.deltaX, y: view.y - event.deltaY }, size))
    }
    box.addEventListener('wheel', onWheel, { passive: false })
    return () => box.removeEventListener('wheel', onWheel)
  }, [view, size, onView])
  const twoFingers = useTwoFingers({ view, size, onView, onBegin: () => canvas.current?.dropStroke() })
  const onPan = (event: PointerEvent) => {
    const start = panning.current
    if (start)
      onView(
        holdInside(
          { ...view, x: start.view.x + event.clientX - start.x, y: start.view.y + event.clientY - start.y },
          size,
        ),
      )
  }
  return (
    <section
      ref={frame}
      className="well relative min-h-80 flex-1 touch-none overflow-clip"
      {...twoFingers}
      aria-label={view.zoom > 1 ? 'Strokes: arrow keys pan' : 'Strokes'}
      tabIndex={view.zoom > 1 ? 0 : undefined}
      onKeyDown={(event) => {
        const step = PAN_KEYS[event.key]
        if (!step || view.zoom <= 1 || event.target !== event.currentTarget) return
        event.preventDefault()
        onView(holdInside({ ...view, x: view.x - step.x, y: view.y - step.y }, size))
      }}
      onPointerDown={(event) => {
        if (event.button !== 1) return
        event.preventDefault()
        event.currentTarget.setPointerCapture(event.pointerId)
        panning.current = { x: event.clientX, y: event.clientY, view }
      }}
      onPointerMove={onPan}
      onPointerUp={() => (panning.current = undefined)}
    >
      <canvas
        ref={element}
        data-testid="paint-area"
        role="img"
        aria-label="Gauge strokes and your own: draw here to try the brush"
        className={`absolute left-0 top-0 max-w-none touch-none cursor-crosshair ${inked.isPainted ? '' : 'invisible'}`}
        style={{
          transformOrigin: '0 0',
          transform: `translate(${view.x}px, ${view.y}px) scale(${view.zoom})`,
          imageRendering: view.zoom > 1 ? 'pixelated' : 'auto',
        }}
      />
      {!inked.isPainted && (
        <img src={thumbnail} alt="" className="absolute inset-0 m-auto max-h-full max-w-full rounded-4 opacity-80" />
      )}
      {inked.findings?.squeezes.map(({ x, y, fromPx }) => (
        <span
          key={`${x} ${y} ${fromPx}`}
          title="The strip is squeezed here"
          className="pointer-events-none absolute h-5 w-5 -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-dashed border-amber"
          style={{ left: view.x + x * view.zoom, top: view.y + y * view.zoom }}
        />
      ))}
      {splitAt !== undefined && <SplitLine at={splitAt} view={view} size={size} onMove={onSplit} names={names} />}
    </section>
  )
}

function SplitLine({
  at,
  view,
  size,
  onMove,
  names,
}: {
  at: number
  view: View
  size: { width: number; height: number }
  onMove: (at: number) => void
  names: Props['names']
}) {
  const width = canvasSize(size, view.zoom).width * view.zoom
  const hold = (share: number) => Math.min(1, Math.max(0, share))
  return (
    <>
      <span className="pointer-events-none absolute left-2 top-2 rounded-4 bg-raised px-1.5 text-12 text-ink">
        {names.before}
      </span>
      <span className="pointer-events-none absolute right-2 top-2 rounded-4 bg-raised px-1.5 text-12 text-ink">
        {names.after}
      </span>
      <div
        role="slider"
        tabIndex={0}
        aria-label={`Line between ${names.before} and ${names.after}`}
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(at * 100)}
        onKeyDown={(event) => {
          const direction = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
          if (!direction) return
          event.preventDefault()
          onMove(hold(at + direction * (event.shiftKey ? 0.1 : 0.02)))
        }}
        onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
        onPointerMove={(event) => {
          if (!event.currentTarget.hasPointerCapture(event.pointerId)) return
          const left = event.currentTarget.parentElement?.getBoundingClientRect().left ?? 0
          onMove(hold((event.clientX - left - view.x) / width))
        }}
        className="absolute inset-y-0 w-4 -translate-x-1/2 cursor-ew-resize touch-none before:absolute before:inset-y-0 before:left-1/2 before:w-px before:bg-saddle after:absolute after:left-1/2 after:top-1/2 after:h-8 after:w-2 after:-translate-x-1/2 after:-translate-y-1/2 after:rounded-4 after:bg-saddle"
        style={{ left: view.x + at * width }}
      />
    </>
  )
}
