import { expect, it } from 'vitest'
import { outerNames } from '../../../data/sets.ts'
import { placesOf } from './folders.ts'

const set = (id: string, folder = '') => ({ id, folder })
const rack = [set('a'), set('b', 'Shore'), set('c'), set('d', 'Shore'), set('e', 'Dune')]

it('lays sets that lie inside one where the first of them stands, and leaves the others in their order', () => {
  const shown = placesOf(rack).map((place) =>
    'set' in place ? place.set.id : `${place.outer}:${place.sets.map(({ id }) => id).join('')}`,
  )
  expect(shown).toEqual(['a', 'Shore:bd', 'c', 'Dune:e'])
  expect(outerNames(rack)).toEqual(['Shore', 'Dune'])
})
