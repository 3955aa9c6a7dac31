import { useQueries, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import type { Filter, Sort } from '../../data/filter.ts'
import { type BrushLineData, brushPageQuery } from '../../data/library.ts'
import { PAGE_LINES, pagesOf, placeIn, type Span } from '../../data/list-pages.ts'
import { letPagesGo } from './let-pages-go.ts'
import { useBrushCount } from './use-brush-count.ts'

export type BrushWindow = {
  total: number
  isPending: boolean
  error: Error | null
  retry: () => void
  /** The brush of a line; undefined while its page is on its way. */
  at(line: number): BrushLineData | undefined
}

/** A line out of a page, where that holds it and has come. */
function lineOf(data: { brushes: BrushLineData[] } | undefined, page: number, line: number): BrushLineData | undefined {
  const place = placeIn(page, line)
  return place === undefined ? undefined : data?.brushes[place]
}

/** Holds the pages of the list that are in view, wherever that is; the whole is only counted. */
export function useBrushWindow(filter: Filter, sort: Sort, span: Span): BrushWindow {
  const count = useBrushCount(filter, sort, { keepsBefore: true })
  const pages = pagesOf(span)
  const first = pages[0] ?? 0
  const client = useQueryClient()
  // biome-ignore lint/correctness/useExhaustiveDependencies: each time another page is come to
  useEffect(() => letPagesGo(client), [client, first])
  const results = useQueries({ queries: pages.map((page) => brushPageQuery(filter, sort, page)) })
  // what was fetched already may hold lines that are still on their way, and is not asked for again
  const earlier = Math.max(0, first - 1)
  const before = useQuery({ ...brushPageQuery(filter, sort, earlier), enabled: false })
  const at = (line: number) => {
    for (const [n, result] of results.entries()) {
      const brush = lineOf(result.data, first + n, line)
      if (brush) return brush
    }
    return lineOf(before.data, earlier, line)
  }
  // A first page that is not full tells how many there are before the count does.
  const [top] = results
  const short = first === 0 && top?.data && top.data.brushes.length < PAGE_LINES ? top.data.brushes.length : undefined
  return {
    total: short ?? Math.max(count ?? 0, first === 0 ? (top?.data?.brushes.length ?? 0) : 0),
    isPending: results.every(({ data }) => data === undefined) && results.some(({ isPending }) => isPending),
    error: results.find(({ error }) => error)?.error ?? null,
    retry: () => {
      for (const result of results) if (result.isError) void result.refetch()
    },
    at,
  }
}
