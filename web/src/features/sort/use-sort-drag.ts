import { type DragEndEvent, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core'
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable'

const START_PX = 6 // a click that shakes a little is still a click

/** Drag with pointer, touch or keyboard. */
export function useSortSensors() {
  return useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: START_PX } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
}

export type Drop =
  | { kind: 'brushes'; brushId: string; setId: string }
  | { kind: 'set'; setId: string; overId: string }
  | undefined

/** What a finished drag means: brushes onto a set, or a set to another place. */
export function readDrop({ active, over }: DragEndEvent): Drop {
  const carried = active.data.current
  const target = over?.data.current
  const setId: unknown = target?.ontoSetId ?? target?.setId
  if (typeof setId !== 'string') return undefined
  if (typeof carried?.brushId === 'string') return { kind: 'brushes', brushId: carried.brushId, setId }
  if (typeof carried?.setId === 'string' && carried.setId !== setId)
    return { kind: 'set', setId: carried.setId, overId: setId }
  return undefined
}
