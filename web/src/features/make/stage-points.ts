import { toSourcePoint } from '@satchel/core/make/work'
import { type PointerEvent, useRef } from 'react'
import type { MakeShown } from '../../workers/make/protocol.ts'

export type Point = { x: number; y: number }

/** Where a pointer is on what is shown, px of the source. */
export function usePointOf(shown: MakeShown) {
  const overlay = useRef<SVGSVGElement>(null)
  const pointOf = (event: { clientX: number; clientY: number }): Point => {
    const box = overlay.current?.getBoundingClientRect() ?? new DOMRect(0, 0, 1, 1)
    const x = ((event.clientX - box.left) * shown.before.width) / box.width
    const y = ((event.clientY - box.top) * shown.before.height) / box.height
    return toSourcePoint(shown, x, y)
  }
  return { overlay, pointOf }
}

/** The points of a pointer's way since the last event. */
export const pointsOf = (
  event: PointerEvent,
  pointOf: (event: { clientX: number; clientY: number }) => Point,
): number[] => {
  const events = event.nativeEvent.getCoalescedEvents()
  return (events.length > 0 ? events : [event.nativeEvent]).map(pointOf).flatMap(({ x, y }) => [x, y])
}

/** Where the work shows a place of the source. */
export function toShownPoint({ place }: MakeShown, { x, y }: Point): Point {
  const turn = (-place.angleDeg * Math.PI) / 180
  const dx = x - place.sourceWidth / 2
  const dy = y - place.sourceHeight / 2
  return {
    x: (dx * Math.cos(turn) - dy * Math.sin(turn) + place.sourceWidth / 2 - place.left) * place.scale,
    y: (dx * Math.sin(turn) + dy * Math.cos(turn) + place.sourceHeight / 2 - place.top) * place.scale,
  }
}

export function toShownPoints(shown: MakeShown, path: readonly number[]): Point[] {
  const points: Point[] = []
  for (let i = 0; i + 1 < path.length; i += 2)
    points.push(toShownPoint(shown, { x: path[i] ?? 0, y: path[i + 1] ?? 0 }))
  return points
}
