import { describe, expect, it } from 'vitest'
import { choose, NO_CHOICE } from './choice.ts'

const ids = ['a', 'b', 'c', 'd', 'e']

describe('choosing lines', () => {
  it('toggles one, and starts the next range there', () => {
    const one = choose(NO_CHOICE, { type: 'toggle', index: 1, id: 'b' })
    expect([...one.chosen]).toEqual(['b'])
    const range = choose(one, { type: 'range', ids: ids.slice(1, 4) })
    expect([...range.chosen]).toEqual(['b', 'c', 'd'])
    expect(range.at).toBe(one.at)
    expect([...choose(range, { type: 'toggle', index: 2, id: 'c' }).chosen]).toEqual(['b', 'd'])
  })

  it('ranges upwards from the anchor too, and keeps what was chosen before', () => {
    const start = choose(choose(NO_CHOICE, { type: 'only', index: 4, id: 'e' }), { type: 'move', to: 2 })
    expect([...choose(start, { type: 'range', ids: ids.slice(2, 5) }).chosen].sort()).toEqual(['c', 'd', 'e'])
  })

  it('chooses all and none without moving', () => {
    const moved = choose(NO_CHOICE, { type: 'move', to: 2 })
    const all = choose(choose(moved, { type: 'ask' }), { type: 'answer', round: 0, how: 'all', ids })
    expect(all.chosen.size).toBe(5)
    expect(choose(all, { type: 'none' })).toMatchObject({ chosen: new Set(), at: 2, anchor: 0 })
  })

  it('takes no lines of a list that is not shown any more, nor any that were asked for before none', () => {
    for (const type of ['reset', 'none'] as const) {
      const later = choose(choose(NO_CHOICE, { type: 'ask' }), { type })
      expect(choose(later, { type: 'answer', round: 0, how: 'range', ids })).toMatchObject({
        chosen: new Set(),
        asking: 0,
      })
    }
  })
})
