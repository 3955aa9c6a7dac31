import {
  BRUSH_IS_NAMES,
  type BrushFilterKey,
  type BrushIs,
  FILTER_KEYS,
  PLACE_KEYS,
} from '@satchel/core/forms/brush-filter-words'
import { useMemo } from 'react'
import { changeParams, useAddress } from '../../../components/use-address.ts'
import type { Filter, Sort } from '../../../data/filter.ts'

export const SORTS: readonly { value: Sort; label: string }[] = [
  { value: 'name', label: 'A to Z' },
  { value: 'set', label: 'As in the set' },
  { value: 'newest', label: 'Newest first' },
  { value: 'size', label: 'By size' },
  { value: 'darkness', label: 'Light to dark' },
  { value: 'width', label: 'Narrow to wide' },
  { value: 'roughness', label: 'Smooth to rough' },
]

export type View = 'lines' | 'tiles'

/** What an address asks for; what it does not say, or says wrongly, is the usual. */
export function readFilter(params: URLSearchParams): { filter: Filter; sort: Sort; view: View } {
  const filter: Filter = {}
  for (const key of FILTER_KEYS) {
    const value = params.get(key)
    if (value) filter[key] = value
  }
  const sort = SORTS.find(({ value }) => value === params.get('sort'))?.value ?? 'name'
  return { filter, sort, view: params.get('view') === 'tiles' ? 'tiles' : 'lines' }
}

/** What brushes are to be, of those that have no control of their own. */
export const isOf = ({ is = '' }: Filter): BrushIs[] => BRUSH_IS_NAMES.filter((name) => is.split(',').includes(name))

/** The names in a list of them with commas between. */
export const namesIn = (text: string | undefined): string[] => (text ? text.split(',') : [])

/** Parts of the address that list names: in whatever order these come, they look for the same. */
const LISTS: readonly BrushFilterKey[] = ['is', 'uses']
const inOrder = (text: string | undefined) => namesIn(text).sort().join()

/** What of a filter is its place on the rack, and what narrows it. */
export function splitFilter(filter: Filter): { place: Filter; search: Filter } {
  const place: Filter = {}
  const search: Filter = {}
  for (const key of FILTER_KEYS) {
    const value = filter[key]
    if (value !== undefined) (PLACE_KEYS.some((each) => each === key) ? place : search)[key] = value
  }
  return { place, search }
}

/** The address of a search. */
export const addressOf = (filter: Filter, sort: Sort): string =>
  `/sort?${changeParams(new URLSearchParams(), { ...filter, sort: sort === 'name' ? undefined : sort })}`

/** Whether two searches look for the same. */
export const isSameSearch = (a: Filter, b: Filter): boolean =>
  FILTER_KEYS.every((key) =>
    LISTS.includes(key) ? inOrder(a[key]) === inOrder(b[key]) : (a[key] ?? '') === (b[key] ?? ''),
  )

/** An address without all that narrows. */
export const NOTHING_NARROWED: Record<string, undefined> = Object.fromEntries(
  FILTER_KEYS.map((key) => [key, undefined]),
)

/**
 * What the list shows by the address, and how to change that. What was chosen holds at once: turning the address takes its time.
 * @returns `params` are all of the address as it is wanted.
 */
export function useFilter() {
  const [params, change] = useAddress()
  const text = params.toString()
  const read = useMemo(() => readFilter(new URLSearchParams(text)), [text])
  return { ...read, params, change }
}
