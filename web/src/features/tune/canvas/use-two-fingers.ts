import { type PointerEvent, useRef } from 'react'
import { type Fingers, pinchView, type View } from './zoom.ts'

type Options = {
  view: View
  size: { width: number; height: number }
  onView: (view: View) => void
  /** The first finger had begun a stroke: it was none. */
  onBegin: () => void
}

/** Two fingers pan and zoom; one finger, or a pen, draws. */
export function useTwoFingers({ view, size, onView, onBegin }: Options) {
  const touches = useRef(new Map<number, { x: number; y: number }>())
  const start = useRef<{ view: View; from: Fingers }>(undefined)
  const note = (event: PointerEvent) => {
    const { left, top } = event.currentTarget.getBoundingClientRect()
    touches.current.set(event.pointerId, { x: event.clientX - left, y: event.clientY - top })
  }
  const fingers = (): Fingers | undefined => {
    const [one, two] = [...touches.current.values()]
    return one && two && [one, two]
  }
  const lift = (event: PointerEvent) => {
    touches.current.delete(event.pointerId)
    if (touches.current.size === 0) start.current = undefined
  }
  return {
    onPointerDownCapture: (event: PointerEvent) => {
      if (event.pointerType !== 'touch') return
      note(event)
      const from = fingers()
      // Until all are lifted, no finger that is left over draws.
      if (from || start.current) event.preventDefault()
      if (!from || start.current) return
      start.current = { view, from }
      onBegin()
    },
    onPointerMoveCapture: (event: PointerEvent) => {
      if (!touches.current.has(event.pointerId)) return
      note(event)
      const to = fingers()
      if (start.current && to) onView(pinchView(start.current.view, { from: start.current.from, to }, size))
    },
    onPointerUpCapture: lift,
    onPointerCancelCapture: lift,
  }
}
