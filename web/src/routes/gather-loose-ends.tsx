import { useQuery } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { Link } from 'react-router'
import { buttonLook } from '../components/button.tsx'
import { PageTitle } from '../components/page-title.tsx'
import { Empty, LoadError, Loading } from '../components/states.tsx'
import { currentGatherQuery, ledgerEndsQuery, mendLedger, undoLedgerMend } from '../data/gather.ts'
import { LooseBody, noteOf } from '../features/loose-ends/loose-body.tsx'

/** References of a library that is being gathered and lead to nothing among its files. */
export function GatherLooseEndsRoute() {
  const current = useQuery(currentGatherQuery)
  const id = current.data?.id ?? undefined
  const loose = useQuery({ ...ledgerEndsQuery(id ?? ''), enabled: id !== undefined })
  const sure = loose.data?.ends.filter(({ isSure }) => isSure).length ?? 0
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Loose ends · Gather · Gentle Satchel</title>
      <PageTitle
        note={loose.data && noteOf(loose.data, sure)}
        aside={
          <Link to="/gather" className={buttonLook()}>
            <ArrowLeft size={18} aria-hidden /> Gather
          </Link>
        }
      >
        Loose ends
      </PageTitle>
      {current.data && id === undefined && (
        <Empty title="Nothing is being gathered">Lay a library in Gather first.</Empty>
      )}
      {(current.isPending || (id !== undefined && loose.isPending)) && <Loading what="references" />}
      {loose.isError && <LoadError error={loose.error} onRetry={() => void loose.refetch()} />}
      {loose.data && id !== undefined && (
        <LooseBody
          {...{ sure, loose: loose.data }}
          none="Every picture and every grain that a brush among these files names is there."
          onMend={(mending) => mendLedger(id, mending)}
          onUndo={(mendId) => undoLedgerMend(id, mendId)}
        />
      )}
    </div>
  )
}
