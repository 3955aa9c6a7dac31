import type { DragEndEvent } from '@dnd-kit/core'
import { expect, it } from 'vitest'
import { readDrop } from './read-drop.ts'

const drop = (active: object, over?: object) =>
  readDrop({
    active: { data: { current: active } },
    over: over && { data: { current: over } },
  } as unknown as DragEndEvent)

it('a brush is copied to the set or pinned to the pocket it is dropped on, and nothing happens elsewhere', () => {
  const brush = { brushId: 'b' }
  expect(drop(brush, { ontoSetId: 's' })).toEqual({ kind: 'brushes', brushId: 'b', setId: 's' })
  expect(drop(brush, { setId: 's' })).toEqual({ kind: 'brushes', brushId: 'b', setId: 's' })
  expect(drop(brush, { pocket: true })).toEqual({ kind: 'pin', brushId: 'b' })
  expect(drop(brush)).toBeUndefined()
})

it('a set moves to another’s place, and neither onto itself nor into the pocket', () => {
  expect(drop({ setId: 's' }, { setId: 't' })).toEqual({ kind: 'set', setId: 's', overId: 't' })
  expect(drop({ setId: 's' }, { setId: 's' })).toBeUndefined()
  expect(drop({ setId: 's' }, { pocket: true })).toBeUndefined()
})
