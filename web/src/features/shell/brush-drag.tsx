import {
  type CollisionDetection,
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable'
import type { ReactNode } from 'react'
import { DRAG_WORDS } from '../../components/drag-words.ts'

const START_PX = 6 // a click that shakes a little is still a click

/** Under the pointer where there is one; by nearness for the keyboard, among the things of its own kind. */
const collide: CollisionDetection = (args) => {
  if (args.pointerCoordinates) return pointerWithin(args)
  const isBrush = args.active.data.current?.brushId !== undefined
  return closestCenter({
    ...args,
    droppableContainers: args.droppableContainers.filter(({ data }) => isBrush || !data.current?.pocket),
  })
}

/** Only lists of places scroll under a drag: the one dragged from would run away on the way to the pocket. */
const canScroll = (element: Element) => element.matches('[data-drag-places]')

/** One space for all dragging: brushes go from a stage's list onto its sets, or onto the pocket at the page's foot. */
export function BrushDrag({ children }: { children: ReactNode }) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: START_PX } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={collide}
      accessibility={{ announcements: DRAG_WORDS }}
      autoScroll={{ canScroll }}
    >
      {children}
    </DndContext>
  )
}
