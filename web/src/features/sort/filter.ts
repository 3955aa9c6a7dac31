import { useMemo } from 'react'
import { useSearchParams } from 'react-router'

/** What the list is narrowed by, and how it is shown; it lives in the address. */
export type Filter = {
  setId?: string
  q?: string
  tag?: string
  reading?: string
  frames?: string
  sizeFrom?: string
  sizeTo?: string
  maker?: string
  bin?: string
  loose?: string
}
export const SORTS = [
  { value: 'name', label: 'A to Z' },
  { value: 'set', label: 'As in the set' },
  { value: 'newest', label: 'Newest first' },
  { value: 'size', label: 'By size' },
] as const
export type Sort = (typeof SORTS)[number]['value']
export type View = 'lines' | 'tiles'

const KEYS = ['setId', 'q', 'tag', 'reading', 'frames', 'sizeFrom', 'sizeTo', 'maker', 'bin', 'loose'] as const

export function useFilter() {
  const [params, setParams] = useSearchParams()
  const text = params.toString()
  return useMemo(() => {
    const read = new URLSearchParams(text)
    const filter: Filter = {}
    for (const key of KEYS) {
      const value = read.get(key)
      if (value) filter[key] = value
    }
    const sort = SORTS.find(({ value }) => value === read.get('sort'))?.value ?? 'name'
    const view: View = read.get('view') === 'tiles' ? 'tiles' : 'lines'
    /** Changes parts of the address; undefined takes a part out. */
    const change = (next: Record<string, string | undefined>) =>
      setParams(
        (before) => {
          for (const [key, value] of Object.entries(next)) {
            if (value) before.set(key, value)
            else before.delete(key)
          }
          return before
        },
        { replace: true },
      )
    return { filter, sort, view, change }
  }, [text, setParams])
}
