import { BRUSH_IS_NAMES, type BrushIs, FILTER_KEYS } from '@satchel/core/forms/brush-filter-words'
import { useMemo } from 'react'
import { useSearchParams } from 'react-router'
import { changeParams } from '../../../components/use-address.ts'
import type { Filter, Sort } from '../../../data/filter.ts'

export const SORTS: readonly { value: Sort; label: string }[] = [
  { value: 'name', label: 'A to Z' },
  { value: 'set', label: 'As in the set' },
  { value: 'newest', label: 'Newest first' },
  { value: 'size', label: 'By size' },
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

/** The address of a search. */
export const addressOf = (filter: Filter, sort: Sort): string =>
  `/sort?${changeParams(new URLSearchParams(), { ...filter, sort: sort === 'name' ? undefined : sort })}`

/** Whether two searches look for the same. */
export const isSameSearch = (a: Filter, b: Filter): boolean =>
  FILTER_KEYS.every((key) => (key === 'is' ? isOf(a).join() === isOf(b).join() : (a[key] ?? '') === (b[key] ?? '')))

/** An address without all that narrows. */
export const NOTHING_NARROWED: Record<string, undefined> = Object.fromEntries(
  FILTER_KEYS.map((key) => [key, undefined]),
)

export function useFilter() {
  const [params, setParams] = useSearchParams()
  const text = params.toString()
  return useMemo(() => {
    const change = (next: Record<string, string | undefined>) =>
      setParams((before) => changeParams(before, next), { replace: true })
    return { ...readFilter(new URLSearchParams(text)), change }
  }, [text, setParams])
}
