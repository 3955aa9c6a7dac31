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

const KEYS = ['setId', 'q', 'tag', 'reading', 'frames', 'sizeFrom', 'sizeTo', 'maker', 'bin', 'loose'] as const

/** What an address asks for; what it does not say, or says wrongly, is the usual. */
export function readFilter(params: URLSearchParams): { filter: Filter; sort: Sort; view: View } {
  const filter: Filter = {}
  for (const key of KEYS) {
    const value = params.get(key)
    if (value) filter[key] = value
  }
  const sort = SORTS.find(({ value }) => value === params.get('sort'))?.value ?? 'name'
  return { filter, sort, view: params.get('view') === 'tiles' ? 'tiles' : 'lines' }
}

export function useFilter() {
  const [params, setParams] = useSearchParams()
  const text = params.toString()
  return useMemo(() => {
    const change = (next: Record<string, string | undefined>) =>
      setParams((before) => changeParams(before, next), { replace: true })
    return { ...readFilter(new URLSearchParams(text)), change }
  }, [text, setParams])
}
