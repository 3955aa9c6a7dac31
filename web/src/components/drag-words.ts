import type { Active, Announcements, Over } from '@dnd-kit/core'

type Named = Pick<Active | Over, 'data'> | null
const nameOf = (thing: Named, otherwise: string): string => String(thing?.data.current?.name ?? otherwise)

/** What a screen reader says while something is dragged: things are called by the `name` in their data. */
export const DRAG_WORDS: Announcements = {
  onDragStart: ({ active }) => `Picked up ${nameOf(active, 'it')}.`,
  onDragOver: ({ active, over }) =>
    over ? `${nameOf(active, 'It')} is over ${nameOf(over, 'a place')}.` : `${nameOf(active, 'It')} is over no place.`,
  onDragEnd: ({ active, over }) =>
    over
      ? `${nameOf(active, 'It')} was let go on ${nameOf(over, 'a place')}.`
      : `${nameOf(active, 'It')} was let go and stays where it was.`,
  onDragCancel: ({ active }) => `${nameOf(active, 'It')} stays where it was.`,
}
