import { SAME_KIND_NAMES, SAME_KINDS, type SameKind } from '@satchel/core/same/kinds'
import { useQuery } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { Link, useSearchParams } from 'react-router'
import { ActsDone } from '../acts/acts-done.tsx'
import { useAct } from '../acts/use-act.ts'
import { Button, buttonLook } from '../components/button.tsx'
import { formatCount, plural } from '../components/format.ts'
import { PageTitle } from '../components/page-title.tsx'
import { Empty, LoadError, Loading } from '../components/states.tsx'
import { toastError } from '../components/toasts.tsx'
import { jobsQuery } from '../data/jobs.ts'
import { compareMarks, type SameFilter, type SameMarks, sameMarksQuery } from '../data/same-marks.ts'
import { AllOfAKind } from '../features/same-marks/all-of-a-kind.tsx'
import { SameList } from '../features/same-marks/same-list.tsx'

const isKind = (text: string | null): text is SameKind => SAME_KIND_NAMES.some((kind) => kind === text)

/** All groups of marks of the library that are alike: what is kept of each. */
export function SameMarksRoute() {
  const [search] = useSearchParams()
  const wanted = search.get('kind')
  const filter: SameFilter = isKind(wanted) || wanted === 'kept' ? wanted : undefined
  const page = useQuery(sameMarksQuery(filter, 0))
  const doing = useAct()
  return (
    <div className="flex h-[calc(100dvh-112px)] flex-col px-6 pb-4 pt-5">
      <title>Same marks · Sort · Gentle Satchel</title>
      <PageTitle
        note={page.data && noteOf(page.data)}
        aside={
          <>
            <ActsDone onTakeBack={doing.takeBack} />
            <Link to="/sort" className={buttonLook()}>
              <ArrowLeft size={18} aria-hidden /> Sort
            </Link>
          </>
        }
      >
        Same marks
      </PageTitle>
      {page.isPending && <Loading what="groups of same marks" />}
      {page.isError && <LoadError error={page.error} onRetry={() => void page.refetch()} />}
      {page.data && (
        <>
          {page.data.uncompared > 0 && <Uncompared count={page.data.uncompared} />}
          <Kinds counts={page.data.counts} filter={filter} />
          {filter && filter !== 'kept' && page.data.counts[filter] > 1 && (
            <AllOfAKind kind={filter} groups={page.data.total} brushes={page.data.counts[filter]} doing={doing} />
          )}
          {page.data.total > 0 ? (
            <SameList key={filter ?? 'any'} filter={filter} count={page.data.total} doing={doing} />
          ) : (
            <Empty title={filter ? 'None of these' : 'No mark is here twice'}>
              {filter
                ? 'No brush of the library is of this kind just now; choose another kind above.'
                : 'Whatever comes into the library is compared with all that is there. Brushes whose marks are the same or alike stand here in groups, each with what uses it, so that you can keep one instead of many.'}
            </Empty>
          )}
        </>
      )}
    </div>
  )
}

const noteOf = ({ uncompared, counts }: SameMarks) => {
  const open = SAME_KIND_NAMES.reduce((sum, kind) => sum + counts[kind], 0)
  return open === 0 && uncompared === 0 ? 'nothing to decide' : `${plural(open, 'brush', 'brushes')} to decide on`
}

/** Says that some marks wait; they are compared by themselves, or, where that was stopped, when it is asked for. */
function Uncompared({ count }: { count: number }) {
  const jobs = useQuery(jobsQuery).data?.jobs ?? []
  const isUnderWay = jobs.some(
    ({ kind, state }) => kind === 'compare-marks' && (state === 'queued' || state === 'running'),
  )
  return (
    <p role="status" className="mb-3 flex flex-wrap items-center gap-3 text-13 text-quiet">
      {plural(count, 'mark')} {count === 1 ? 'is' : 'are'} not compared yet
      {isUnderWay ? '; that is under way.' : '.'}
      {!isUnderWay && <Button onClick={() => void compareMarks().catch(toastError)}>Compare them now</Button>}
    </p>
  )
}

/** How many there are of each kind; each is a link to those alone. */
function Kinds({ counts, filter }: { counts: SameMarks['counts']; filter: SameFilter }) {
  const all = SAME_KIND_NAMES.reduce((sum, kind) => sum + counts[kind], 0)
  const links: [SameFilter, string, number][] = [
    [undefined, 'All', all],
    ...SAME_KIND_NAMES.map((kind): [SameFilter, string, number] => [kind, SAME_KINDS[kind].word, counts[kind]]),
    ['kept', 'kept on purpose', counts.kept],
  ]
  return (
    <nav aria-label="Kinds of same marks" className="mb-3 flex flex-wrap gap-x-1 gap-y-1">
      {links.map(([kind, word, count]) => (
        <Link
          key={word}
          to={kind ? `/sort/same?kind=${kind}` : '/sort/same'}
          replace
          aria-current={kind === filter ? 'page' : undefined}
          className={`rounded-4 px-3 py-1.5 ${kind === filter ? 'bg-raised font-semibold text-saddle' : 'hover:bg-surface'}`}
        >
          {word.slice(0, 1).toUpperCase() + word.slice(1)}{' '}
          <span className="measure text-quiet">{formatCount(count)}</span>
        </Link>
      ))}
    </nav>
  )
}
