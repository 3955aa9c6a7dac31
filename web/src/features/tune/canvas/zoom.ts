/** How the strokes are looked at: screen px per canvas px, and where the canvas's corner lies in the frame, screen px. */
export type View = { zoom: number; x: number; y: number }

export const WHOLE_VIEW: View = { zoom: 1, x: 0, y: 0 }
export const ZOOM_STEPS = [0.25, 0.5, 1, 2, 4, 8] as const

/** The next step of zoom in or out. */
export function stepZoom(zoom: number, direction: 1 | -1): number {
  const steps = direction > 0 ? ZOOM_STEPS : [...ZOOM_STEPS].reverse()
  return steps.find((step) => (step - zoom) * direction > 1e-6) ?? zoom
}

/** The canvas for a frame: below 1 : 1 it is larger than the frame, above it is as large. */
export function canvasSize(frame: { width: number; height: number }, zoom: number): { width: number; height: number } {
  const scale = Math.min(1, zoom)
  return { width: Math.round(frame.width / scale), height: Math.round(frame.height / scale) }
}

/** Zooms so that the place under the pointer stays, and keeps the frame filled. */
export function zoomAt(
  view: View,
  zoom: number,
  at: { x: number; y: number },
  frame: { width: number; height: number },
): View {
  const ratio = zoom / view.zoom
  return holdInside({ zoom, x: at.x - (at.x - view.x) * ratio, y: at.y - (at.y - view.y) * ratio }, frame)
}

type Point = { x: number; y: number }
export type Fingers = readonly [Point, Point]

const ZOOM_MAX = Math.max(...ZOOM_STEPS)

/** The view when two fingers that lay at `from` have come to `to`: what was between them stays between them. */
export function pinchView(
  view: View,
  { from, to }: { from: Fingers; to: Fingers },
  frame: { width: number; height: number },
): View {
  const [start, end] = [middleOf(from), middleOf(to)]
  const zoom = toZoom((view.zoom * apart(to)) / Math.max(1, apart(from)))
  const zoomed = zoomAt(view, zoom, start, frame)
  return holdInside({ ...zoomed, x: zoomed.x + end.x - start.x, y: zoomed.y + end.y - start.y }, frame)
}

/** Any zoom from 1 up; below it only the steps, since each makes another canvas. */
const toZoom = (wanted: number): number =>
  wanted >= 1
    ? Math.min(ZOOM_MAX, wanted)
    : ZOOM_STEPS.reduce((best, step) => (Math.abs(step - wanted) < Math.abs(best - wanted) ? step : best))

const middleOf = ([a, b]: Fingers): Point => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 })
const apart = ([a, b]: Fingers): number => Math.hypot(a.x - b.x, a.y - b.y)

export function holdInside({ zoom, x, y }: View, frame: { width: number; height: number }): View {
  const size = canvasSize(frame, zoom)
  const hold = (value: number, room: number) => Math.min(0, Math.max(room, value))
  return { zoom, x: hold(x, frame.width - size.width * zoom), y: hold(y, frame.height - size.height * zoom) }
}
