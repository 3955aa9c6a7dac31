/** From the first line of a page of the list to that of the next. */
export const PAGE_STEP = 60
/** Lines that a page holds: it runs over the beginning of the next, so that what is in view lies in one. */
export const PAGE_LINES = 100

/** The part of the list that is on the page: first and last line, counted from 0, the last excluded. */
export type Span = { from: number; to: number }

/**
 * The pages that a part of the list takes. What the page before holds of it is shown until they come.
 * @returns One page, wherever a part of at most 41 lines lies.
 */
export function pagesOf({ from, to }: Span): number[] {
  const first = Math.floor(from / PAGE_STEP)
  const last = Math.max(first, Math.ceil((to - PAGE_LINES) / PAGE_STEP))
  return Array.from({ length: last - first + 1 }, (_, i) => first + i)
}

/** Where a line stands in a page, or undefined where that page does not hold it. */
export function placeIn(page: number, line: number): number | undefined {
  const at = line - page * PAGE_STEP
  return at >= 0 && at < PAGE_LINES ? at : undefined
}
