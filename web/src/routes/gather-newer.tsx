import { useQuery } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { Link } from 'react-router'
import { buttonLook } from '../components/button.tsx'
import { plural } from '../components/format.ts'
import { PageTitle } from '../components/page-title.tsx'
import { Empty, LoadError, Loading } from '../components/states.tsx'
import { currentGatherQuery, ledgerQuery } from '../data/gather.ts'
import { JoinedList } from '../features/gather/newer/joined-list.tsx'

/** Brushes of a newer release that were changed here, too: what is to be had of each side. */
export function GatherNewerRoute() {
  const current = useQuery(currentGatherQuery)
  const id = current.data?.id ?? undefined
  const ledger = useQuery({ ...ledgerQuery(id ?? ''), enabled: id !== undefined })
  const count = ledger.data?.newer.reduce((sum, { counts }) => sum + (counts.joins ?? 0) + (counts.open ?? 0), 0)
  return (
    <div className="flex h-[calc(100dvh-112px)] flex-col px-6 pb-4 pt-5">
      <title>Changed by both · Gather · Gentle Satchel</title>
      <PageTitle
        note={
          count ? `${plural(count, 'brush', 'brushes')}: nothing of yours is given up unless you say so` : undefined
        }
        aside={
          <Link to="/gather" className={buttonLook()}>
            <ArrowLeft size={18} aria-hidden /> Gather
          </Link>
        }
      >
        Changed by both
      </PageTitle>
      {(current.isPending || (id !== undefined && ledger.isPending)) && <Loading what="the ledger" />}
      {current.isError && <LoadError error={current.error} onRetry={() => void current.refetch()} />}
      {ledger.isError && <LoadError error={ledger.error} onRetry={() => void ledger.refetch()} />}
      {((current.data && id === undefined) || count === 0) && (
        <Empty title="Nothing to decide">
          When a newer release of a pack lies in Gather, brushes that you and its maker have both changed are shown
          here.
        </Empty>
      )}
      {id !== undefined && count !== undefined && count > 0 && <JoinedList id={id} count={count} />}
    </div>
  )
}
