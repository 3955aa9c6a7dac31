import { countByPeriod, countWaits, PERIODS } from '@satchel/core/people/figures'
import { format } from 'date-fns'
import { type ReactNode, useState } from 'react'
import { Link } from 'react-router'
import { plural } from '../../../components/format.ts'
import type { Figures } from '../../../data/people.ts'
import { CountChart } from './count-chart.tsx'
import { CountTable } from './count-table.tsx'

type By = 'version' | 'app'
/** What is told apart where no app was named, or a release is gone. */
const UNNAMED: Record<By, string> = { version: 'a release that is gone', app: 'for every app' }

type Props = { packId: string; title: string; figures: Figures }

/** The figures, each with its table beside it. */
export function FiguresPage({ packId, title, figures }: Props) {
  const { downloads, holders, unused, waits, lessons } = figures
  const [by, setBy] = useState<By>('version')
  const rows = downloads.map(({ day, count, ...of }) => ({ day, count, key: of[by] || UNNAMED[by] }))
  const { period, keys, periods } = countByPeriod(rows, format(new Date(), 'yyyy-MM-dd'))
  const have = holders.map(({ version, count }) => ({ called: version ?? 'nothing so far', count }))
  const waited = countWaits(waits)
  const all = holders.reduce((sum, { count }) => sum + count, 0)
  if (all === 0)
    return (
      <p className="text-quiet">
        Nobody has it yet.{' '}
        <Link to={`/hand-out/${packId}/people`} className="text-saddle underline underline-offset-2">
          Hand it out
        </Link>
        , and this page counts what is fetched.
      </p>
    )
  return (
    <div className="grid gap-10">
      <Figure
        heading="What was fetched"
        aside={
          <fieldset className="flex gap-4 text-13">
            <legend className="sr-only">Told apart by</legend>
            {(['version', 'app'] as const).map((each) => (
              <label key={each} className="flex cursor-pointer items-center gap-1.5">
                <input type="radio" name="by" checked={by === each} onChange={() => setBy(each)} />
                {{ version: 'by release', app: 'by app' }[each]}
              </label>
            ))}
          </fieldset>
        }
        chart={
          <CountChart
            label={`What was fetched, by ${period}`}
            keys={keys}
            rows={periods.map(({ from, counts }) => ({ called: from, counts }))}
          />
        }
        table={
          <CountTable
            caption={`What was fetched of ${title}`}
            headings={[PERIODS[period], ...keys, 'All']}
            rows={periods
              .filter((each) => each.all > 0)
              .map(({ from, counts, all: sum }) => [from, ...keys.map((key) => counts[key] ?? 0), sum])}
          />
        }
      />
      <Figure
        heading="Who has which version"
        aside={
          <p className="text-13 text-quiet">
            {plural(all, 'hand-out')},{' '}
            <Link to={`/hand-out/${packId}/people`} className="text-saddle underline underline-offset-2">
              {unused} not used so far
            </Link>
          </p>
        }
        chart={<CountChart label="Hand-outs by version" keys={['hand-outs']} rows={asBars(have, 'hand-outs')} />}
        table={
          <CountTable
            caption={`Who has which version of ${title}`}
            headings={['Version', 'Hand-outs']}
            rows={have.map(({ called, count }) => [called, count])}
          />
        }
      />
      <Figure
        heading="From the link to the first time"
        chart={<CountChart label="Hand-outs by days waited" keys={['hand-outs']} rows={asBars(waited, 'hand-outs')} />}
        table={
          <CountTable
            caption={`Days until ${title} was fetched`}
            headings={['Fetched after', 'Hand-outs']}
            rows={waited.map(({ called, count }) => [called, count])}
          />
        }
      />
      {lessons.length > 0 && (
        <Figure
          heading="Since each lesson"
          aside={<p className="text-13 text-quiet">how many of the class have fetched something since it opened</p>}
          chart={
            <CountChart
              label="Who fetched something since each lesson"
              keys={['have', 'have not']}
              rows={lessons.map(({ title: called, fetched, all: each }) => ({
                called,
                counts: { have: fetched, 'have not': each - fetched },
              }))}
            />
          }
          table={
            <CountTable
              caption={`Lessons of ${title}`}
              headings={['Lesson', 'Class', 'Opened', 'Have', 'Of']}
              rows={lessons.map(({ title: called, edition, opensAt, fetched, all: each }) => [
                called,
                edition,
                format(new Date(opensAt), 'yyyy-MM-dd'),
                fetched,
                each,
              ])}
            />
          }
        />
      )}
    </div>
  )
}

const asBars = (rows: readonly { called: string; count: number }[], key: string) =>
  rows.map(({ called, count }) => ({ called, counts: { [key]: count } }))

type FigureProps = { heading: string; aside?: ReactNode; chart: ReactNode; table: ReactNode }

const Figure = ({ heading, aside, chart, table }: FigureProps) => (
  <section aria-label={heading} className="grid gap-3">
    <div className="flex flex-wrap items-baseline gap-x-6 gap-y-1">
      <h2 className="font-title text-24">{heading}</h2>
      {aside}
    </div>
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-6 wide:grid-cols-[minmax(0,1.4fr)_minmax(0,1fr)]">
      {chart}
      {table}
    </div>
  </section>
)
