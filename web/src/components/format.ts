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
