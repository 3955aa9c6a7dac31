import prettyBytes from 'pretty-bytes'

/** A size for a person, with one decimal at most. */
export const formatBytes = (bytes: number): string => prettyBytes(bytes, { binary: true, maximumFractionDigits: 1 })

/** A count as it is written everywhere: "2,105". */
export const formatCount = (count: number): string => COUNTS.format(count)
/** Made once: making it takes longer than a thousand counts. */
const COUNTS = new Intl.NumberFormat('en')

/** A count with its noun, in the plural where it needs one. */
export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${formatCount(count)} ${count === 1 ? one : many}`

/** A day as people here write it: "31 January 2031". */
export const formatDay = (at: string | Date): string => DAYS.format(new Date(at))
const DAYS = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })

/** The last day of a time that ends with a moment: one that ends as a day begins ends with the day before. */
export const formatLastDay = (until: string): string => formatDay(new Date(new Date(until).getTime() - 1))

/** A moment of the past, to the minute. */
export const formatMoment = (at: string): string => MOMENTS.format(new Date(at))
const MOMENTS = new Intl.DateTimeFormat('en', { dateStyle: 'medium', timeStyle: 'short' })

/** How long something may still take, from how far it has come; empty while nobody can tell. */
export function formatTimeLeft(
  { startedAt, done, total }: { startedAt: string | null; done: number; total: number },
  nowMs = Date.now(),
): string {
  if (!startedAt || done === 0 || total === 0) return ''
  const spentS = (nowMs - new Date(startedAt).getTime()) / 1000
  const leftS = Math.max(0, Math.round((spentS / done) * (total - done)))
  return leftS > 90 ? `about ${Math.round(leftS / 60)} min left` : `about ${leftS} s left`
}
