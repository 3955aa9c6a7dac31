import { useQueries } from '@tanstack/react-query'
import { type LedgerLine, type LineGroup, linesQuery, PAGE_LINES } from '../../data/gather.ts'

/** Holds the pages of lines that are in view. @returns The line at a place; undefined while it is on its way. */
export function useLineWindow(
  id: string,
  { from, to }: { from: number; to: number },
  group?: LineGroup,
): { at: (line: number) => LedgerLine | undefined; error: Error | null; retry: () => void } {
  const first = Math.floor(Math.max(0, from) / PAGE_LINES)
  const last = Math.floor(Math.max(from, to) / PAGE_LINES)
  const pages = Array.from({ length: last - first + 1 }, (_, i) => first + i)
  const results = useQueries({ queries: pages.map((page) => linesQuery(id, page, group)) })
  return {
    at: (line) => results[Math.floor(line / PAGE_LINES) - first]?.data?.lines[line % PAGE_LINES],
    error: results.find(({ error }) => error)?.error ?? null,
    retry: () => {
      for (const result of results) if (result.isError) void result.refetch()
    },
  }
}
