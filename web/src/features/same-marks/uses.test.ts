import { expect, it } from 'vitest'
import { sayUses } from './uses.ts'

it('says what uses a brush, the sets first, and that more do than are named', () => {
  expect(sayUses({})).toBe('Used nowhere')
  expect(sayUses({ pocket: { count: 1, names: ['Pocket'] }, set: { count: 2, names: ['Dune', 'Shore'] } })).toBe(
    'In 2 sets: Dune, Shore; pinned in Pocket',
  )
  expect(sayUses({ pack: { count: 5, names: ['A', 'B', 'C'] } })).toBe('In 5 packs: A, B, C …')
  expect(sayUses({ source: { count: 1, names: ['Kelp'] }, install: { count: 1, names: ['Inks'] } })).toBe(
    'Made of Kelp; installed with Inks',
  )
})
