import { expect, it } from 'vitest'
import { byFolder } from './folders.ts'

const set = (id: string, folder = '') => ({ id, folder })
const shown = (sets: ReturnType<typeof set>[]) =>
  byFolder(sets).map(({ folder, sets }) => `${folder}:${sets.map(({ id }) => id).join('')}`)

it('groups sets that came together where the first of them stands, and leaves the others in their order', () => {
  expect(shown([set('a'), set('b', 'Shore'), set('c'), set('d', 'Shore'), set('e', 'Dune'), set('f', 'Dune')])).toEqual(
    [':a', 'Shore:bd', ':c', 'Dune:ef'],
  )
})

it('makes no group of one', () => {
  expect(shown([set('a', 'Shore'), set('b')])).toEqual([':a', ':b'])
})
