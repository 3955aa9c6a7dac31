import Papa from 'papaparse'

/** A count of one calendar day. Days are written as in ISO 8601: 2026-03-09. */
export type DayCount = { day: string; key: string; count: number }
export const PERIODS = { day: 'Day', week: 'Week from', month: 'Month from' } as const
export type Period = keyof typeof PERIODS
/** What was counted from one day on, until the next one begins: each key's share, and all together. */
export type PeriodCount = { from: string; counts: Record<string, number>; all: number }

const DAY_MS = 86_400_000
/** So many bars are told apart; beyond it days are put together to weeks, and weeks to months. */
const BARS_MOST = 60

const toMs = (day: string) => Date.parse(`${day}T00:00:00Z`)
const toDay = (ms: number) => new Date(ms).toISOString().slice(0, 10)

/** The first day of the period that a day lies in. Weeks begin on Monday (ISO 8601). */
export const beginningOf: Record<Period, (day: string) => string> = {
  day: (day) => day,
  week: (day) => toDay(toMs(day) - ((new Date(toMs(day)).getUTCDay() + 6) % 7) * DAY_MS),
  month: (day) => `${day.slice(0, 7)}-01`,
}
const NEXT: Record<Period, (from: string) => string> = {
  day: (from) => toDay(toMs(from) + DAY_MS),
  week: (from) => toDay(toMs(from) + 7 * DAY_MS),
  month: (from) => beginningOf.month(toDay(toMs(from) + 31 * DAY_MS)),
}

/** The shortest period of which no more lie between two days than can be told apart. */
export function periodFor(first: string, last: string): Period {
  const days = (toMs(last) - toMs(first)) / DAY_MS + 1
  if (days <= BARS_MOST) return 'day'
  return days <= BARS_MOST * 7 ? 'week' : 'month'
}

/**
 * Counts put together by periods, none left out in which nothing was: a line in time without gaps.
 * @param rows In any order. @param today The last day that is shown. @returns Nothing where nothing was counted.
 */
export function countByPeriod(
  rows: readonly DayCount[],
  today: string,
): { period: Period; keys: string[]; periods: PeriodCount[] } {
  const days = rows.map(({ day }) => day).sort()
  const [first] = days
  if (first === undefined) return { period: 'day', keys: [], periods: [] }
  const last = [today, days.at(-1) ?? today].sort().at(-1) ?? today
  const period = periodFor(first, last)
  const periods: PeriodCount[] = []
  for (let from = beginningOf[period](first); from <= last; from = NEXT[period](from))
    periods.push({ from, counts: {}, all: 0 })
  const byFrom = new Map(periods.map((each) => [each.from, each]))
  for (const { day, key, count } of rows) {
    const its = byFrom.get(beginningOf[period](day))
    if (!its) continue
    its.counts[key] = (its.counts[key] ?? 0) + count
    its.all += count
  }
  return { period, keys: [...new Set(rows.map(({ key }) => key))].sort(), periods }
}

/** How many days lay between a link and what was first fetched by it, put together. */
const WAITS: readonly { most: number; called: string }[] = [
  { most: 0, called: 'the same day' },
  { most: 1, called: '1 day' },
  { most: 3, called: '2 or 3 days' },
  { most: 7, called: '4 to 7 days' },
  { most: 14, called: '8 to 14 days' },
  { most: 30, called: '15 to 30 days' },
  { most: Number.POSITIVE_INFINITY, called: 'longer' },
]

/** Waits of whole days, put together; each group is there, also where nobody waited so long. */
export const countWaits = (rows: readonly { days: number; count: number }[]): { called: string; count: number }[] =>
  WAITS.map(({ most, called }, at) => {
    const least = (WAITS[at - 1]?.most ?? -1) + 1
    const its = rows.filter(({ days }) => days <= most && (days >= least || at === 0))
    return { called, count: its.reduce((sum, { count }) => sum + count, 0) }
  })

/**
 * A table as CSV (RFC 4180), to be opened in a spreadsheet: cells that one would take for a formula are kept from being one
 * (common practice).
 */
export const toCsv = (headings: readonly string[], rows: readonly (readonly (string | number)[])[]): string =>
  `${Papa.unparse([[...headings], ...rows.map((row) => [...row])], { escapeFormulae: true, newline: '\r\n' })}\r\n`
