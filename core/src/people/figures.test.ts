import { execFileSync } from 'node:child_process'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { beginningOf, countByPeriod, countWaits, periodFor, toCsv } from './figures.ts'

const DAY_MS = 86_400_000
const FIRST = Date.parse('2019-12-28T00:00:00Z')
const day = (n: number) => new Date(FIRST + n * DAY_MS).toISOString().slice(0, 10)
const someRows = fc.array(
  fc.record({
    day: fc.nat(2500).map(day),
    key: fc.constantFrom('1.0.0', '1.1.0'),
    count: fc.integer({ min: 1, max: 99 }),
  }),
  { minLength: 1, maxLength: 30 },
)

describe('counts in time', () => {
  it('lose nothing, count nothing twice, and leave no period out', () => {
    fc.assert(
      fc.property(someRows, fc.nat(2500).map(day), (rows, today) => {
        const { period, periods } = countByPeriod(rows, today)
        const sum = (all: readonly { count: number }[]) => all.reduce((total, { count }) => total + count, 0)
        expect(periods.reduce((total, { all }) => total + all, 0)).toBe(sum(rows))
        for (const { from, counts } of periods)
          for (const [key, count] of Object.entries(counts))
            expect(count).toBe(sum(rows.filter((row) => row.key === key && beginningOf[period](row.day) === from)))
        const steps = periods
          .slice(1)
          .map(({ from }, i) => (Date.parse(from) - Date.parse(periods[i]?.from ?? '')) / DAY_MS)
        const [least, most] = { day: [1, 1], week: [7, 7], month: [28, 31] }[period]
        for (const step of steps) expect(step >= (least ?? 0) && step <= (most ?? 0)).toBe(true)
        expect((periods.at(-1)?.from ?? '') <= [today, ...rows.map((row) => row.day)].sort().at(-1)!).toBe(true)
        expect(periods.length).toBeLessThanOrEqual(86)
      }),
    )
  })

  it('weeks begin on the day that Python’s own calendar says', () => {
    const days = Array.from({ length: 40 }, (_, n) => day(n * 61))
    const script =
      'import sys, datetime\nfor d in sys.argv[1:]:\n x = datetime.date.fromisoformat(d); y, w, _ = x.isocalendar(); print(datetime.date.fromisocalendar(y, w, 1))'
    const said = execFileSync('/usr/bin/python3', ['-c', script, ...days], { encoding: 'utf8' })
      .trim()
      .split('\n')
    expect(days.map(beginningOf.week)).toEqual(said)
  })

  it('days up to sixty, weeks beyond, months beyond those; the day of today is shown though nothing was', () => {
    expect(periodFor('2026-01-01', '2026-03-01')).toBe('day') // 60 days
    expect(periodFor('2026-01-01', '2026-03-02')).toBe('week')
    expect(periodFor('2026-01-01', '2027-02-24')).toBe('week') // 420 days
    expect(periodFor('2026-01-01', '2027-02-25')).toBe('month')
    const { periods } = countByPeriod([{ day: '2026-03-01', key: 'a', count: 2 }], '2026-03-03')
    expect(periods.map(({ from, all }) => [from, all])).toEqual([
      ['2026-03-01', 2],
      ['2026-03-02', 0],
      ['2026-03-03', 0],
    ])
    expect(countByPeriod([], '2026-03-03').periods).toEqual([])
  })
})

it('waits fall into one group each', () => {
  const rows = [0, 1, 2, 3, 4, 7, 8, 14, 15, 30, 31, 900].map((days) => ({ days, count: 1 }))
  expect(countWaits(rows).map(({ count }) => count)).toEqual([1, 1, 2, 2, 2, 2, 2])
  // a clock that was set back
  expect(countWaits([{ days: -1, count: 3 }])[0]?.count).toBe(3)
})

it('a table as CSV is read back by Python’s own reader (RFC 4180), and holds no formula', () => {
  const rows = [
    ['Kelp, "soft"', 1],
    ['two\nlines', 2],
    ['=1+1', 3],
    ['', 0],
  ] as const
  const csv = toCsv(['Name', 'n'], rows)
  const script = 'import csv, io, json, sys\nprint(json.dumps(list(csv.reader(io.StringIO(sys.argv[1], newline="")))))'
  const read = JSON.parse(execFileSync('/usr/bin/python3', ['-c', script, csv], { encoding: 'utf8' }))
  expect(read).toEqual([
    ['Name', 'n'],
    ['Kelp, "soft"', '1'],
    ['two\nlines', '2'],
    ["'=1+1", '3'],
    ['', '0'],
  ])
  expect(csv.endsWith('\r\n')).toBe(true)
})
