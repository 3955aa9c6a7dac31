import { useQuery } from '@tanstack/react-query'
import { Button } from '../../components/button.tsx'
import { LoadError, Loading } from '../../components/states.tsx'
import { ledgerQuery } from '../../data/gather.ts'
import { ownSetsQuery } from '../../data/sets.ts'
import { DropArea } from './drop-area.tsx'
import { LedgerList } from './ledger.tsx'
import { LedgerHead } from './ledger-head.tsx'
import { Arriving } from './ledger-notes.tsx'
import { NewerPacks } from './newer/newer-packs.tsx'
import { SetupOffers } from './setup-offers.tsx'
import { sendAgain, type UploadState } from './upload.ts'

export function OpenLedger({
  id,
  uploads,
  onFiles,
  onPhone,
}: {
  id: string
  uploads: UploadState
  onFiles: (files: { path: string; file: File }[]) => void
  onPhone: () => void
}) {
  const ledger = useQuery(ledgerQuery(id))
  const sets = useQuery(ownSetsQuery)
  if (ledger.isPending) return <Loading what="the ledger" />
  if (ledger.isError) return <LoadError error={ledger.error} onRetry={() => void ledger.refetch()} />
  return (
    <>
      <LedgerHead ledger={ledger.data} uploads={uploads} />
      <div className="mb-3">
        <DropArea large={false} onFiles={onFiles} onPhone={onPhone} />
      </div>
      {!uploads.busy && ledger.data.arriving.length > 0 && <Arriving ledger={ledger.data} />}
      {uploads.failed.length > 0 && (
        <div className="mb-3 flex items-start gap-3 rounded-10 border border-madder bg-surface p-3 text-13 text-madder">
          <ul role="alert" className="max-h-24 flex-1 overflow-auto">
            {uploads.failed.map((each) => (
              <li key={each.id}>
                "{each.path}" did not arrive: {each.error}
              </li>
            ))}
          </ul>
          {uploads.failed.some(({ mayPass }) => mayPass) && <Button onClick={sendAgain}>Send again</Button>}
        </div>
      )}
      {ledger.data.newer.length > 0 && <NewerPacks packs={ledger.data.newer} />}
      {ledger.data.cards.length > 0 && <SetupOffers ledger={ledger.data} />}
      <LedgerList ledger={ledger.data} setNames={sets.data?.sets.map((set) => set.name) ?? []} />
    </>
  )
}
