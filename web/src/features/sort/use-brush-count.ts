import { keepPreviousData, useQuery } from '@tanstack/react-query'
import type { Filter, Sort } from '../../data/filter.ts'
import { brushCountQuery, brushPageQuery } from '../../data/library.ts'

type Options = {
  /** Whether the count of what was shown before stands until the new one comes. */
  keepsBefore?: boolean
}

/** How many brushes a list has. Counting may take longer than finding the first of them, and is asked for once these have come. */
export function useBrushCount(filter: Filter, sort: Sort, { keepsBefore = false }: Options = {}): number | undefined {
  const first = useQuery({ ...brushPageQuery(filter, sort, 0), enabled: false })
  const count = useQuery({
    ...brushCountQuery(filter),
    enabled: first.data !== undefined,
    ...(keepsBefore ? { placeholderData: keepPreviousData } : {}),
  })
  return count.data?.count
}
