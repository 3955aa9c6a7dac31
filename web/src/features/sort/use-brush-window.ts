import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query'
import type { Filter, Sort } from '../../data/filter.ts'
import { type BrushLineData, brushCountQuery, brushPageQuery, PAGE_LINES } from '../../data/library.ts'

/** The part of the list that is on the page: first and last line, counted from 0, the last excluded. */
type Span = { from: number; to: number }

export type BrushWindow = {
  total: number
  isPending: boolean
  error: Error | null
  retry: () => void
  /** The brush of a line; undefined while its page is on its way. */
  at(line: number): BrushLineData | undefined
}

/** Holds the pages of the list that are in view, wherever that is; the whole is only counted. */
export function useBrushWindow(filter: Filter, sort: Sort, { from, to }: Span): BrushWindow {
  const count = useQuery({ ...brushCountQuery(filter), placeholderData: keepPreviousData })
  const first = Math.floor(from / PAGE_LINES)
  const pages = Array.from({ length: Math.floor(Math.max(from, to - 1) / PAGE_LINES) - first + 1 }, (_, i) => first + i)
  const results = useQueries({ queries: pages.map((page) => brushPageQuery(filter, sort, page)) })
  const at = (line: number) => results[Math.floor(line / PAGE_LINES) - first]?.data?.brushes[line % PAGE_LINES]
  // A first page that is not full tells how many there are before the count does.
  const [top] = results
  const short = first === 0 && top?.data && top.data.brushes.length < PAGE_LINES ? top.data.brushes.length : undefined
  return {
    total: short ?? Math.max(count.data?.count ?? 0, first === 0 ? (top?.data?.brushes.length ?? 0) : 0),
    isPending: results.every(({ data }) => data === undefined) && results.some(({ isPending }) => isPending),
    error: results.find(({ error }) => error)?.error ?? null,
    retry: () => {
      for (const result of results) if (result.isError) void result.refetch()
    },
    at,
  }
}
