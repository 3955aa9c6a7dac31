import type { Active, Over } from '@dnd-kit/core'
import { expect, it } from 'vitest'
import { DRAG_WORDS } from './drag-words.ts'

const thing = (name?: string) => ({ id: '0f3c', data: { current: name ? { name } : {} } }) as unknown as Active & Over
const reed = thing('Reed')

it('a drag is told by names, never by the page’s own numbers', () => {
  expect(DRAG_WORDS.onDragStart({ active: reed })).toBe('Picked up Reed.')
  expect(DRAG_WORDS.onDragOver({ active: reed, over: thing('the pocket') })).toBe('Reed is over the pocket.')
  expect(DRAG_WORDS.onDragOver({ active: reed, over: null })).toBe('Reed is over no place.')
  expect(DRAG_WORDS.onDragEnd({ active: reed, over: thing('Kelp') })).toBe('Reed was let go on Kelp.')
  expect(DRAG_WORDS.onDragEnd({ active: reed, over: null })).toBe('Reed was let go and stays where it was.')
  expect(DRAG_WORDS.onDragCancel({ active: thing(), over: thing() })).toBe('It stays where it was.')
  expect(DRAG_WORDS.onDragOver({ active: thing(), over: thing() })).not.toContain('0f3c')
})
