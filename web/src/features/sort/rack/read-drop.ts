import type { DragEndEvent } from '@dnd-kit/core'

export type Drop =
  | { kind: 'brushes'; brushId: string; setId: string }
  | { kind: 'pin'; brushId: string }
  | { kind: 'set'; setId: string; overId: string }
  | undefined

/** What a finished drag means: brushes onto a set or the pocket, or a set to another place. */
export function readDrop({ active, over }: DragEndEvent): Drop {
  const carried = active.data.current
  const target = over?.data.current
  if (target?.pocket && typeof carried?.brushId === 'string') return { kind: 'pin', brushId: carried.brushId }
  const setId: unknown = target?.ontoSetId ?? target?.setId
  if (typeof setId !== 'string') return undefined
  if (typeof carried?.brushId === 'string') return { kind: 'brushes', brushId: carried.brushId, setId }
  if (typeof carried?.setId === 'string' && carried.setId !== setId)
    return { kind: 'set', setId: carried.setId, overId: setId }
  return undefined
}
