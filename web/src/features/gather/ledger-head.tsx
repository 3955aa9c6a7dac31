import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { Button } from '../../components/button.tsx'
import { formatCount, plural } from '../../components/format.ts'
import { PageTitle } from '../../components/page-title.tsx'
import { toast, toastError } from '../../components/toasts.tsx'
import { choosePocket } from '../../data/chosen-pocket.ts'
import { cancelGather, type Ledger, takeIn, undoTakeIn } from '../../data/gather.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { BulkChoices, UnreadNote } from './ledger-notes.tsx'
import { Bringing, Reading } from './ledger-progress.tsx'
import { dropUploads, type UploadState } from './upload.ts'

export function LedgerHead({ ledger, uploads }: { ledger: Ledger; uploads: UploadState }) {
  const navigate = useNavigate()
  const refresh = useRefresh()
  const client = useQueryClient()
  const { take, skip, refuse } = ledger.tally
  const hasCard = ledger.cards.some(({ isChosen }) => isChosen)
  const busy = ledger.reading !== null || uploads.busy
  const done = useMutation({
    mutationFn: () => takeIn(ledger.id),
    onSuccess: async ({ brushes, sets, grains, followed, kept, pockets }) => {
      dropUploads()
      await client.invalidateQueries()
      // what was laid out lies at hand
      if (pockets[0]) choosePocket(pockets[0])
      const taken = [
        brushes > 0 && `${plural(brushes, 'brush', 'brushes')} in ${plural(sets, 'set')}`,
        grains > 0 && plural(grains, 'grain'),
        followed > 0 && `${plural(followed, 'brush', 'brushes')} brought up to date`,
        pockets.length > 0 && 'the rack is set up',
        kept > 0 && `${plural(kept, 'brush', 'brushes')} kept as ${kept === 1 ? 'it is' : 'they are'}`,
      ].filter(Boolean)
      toast(`Taken in: ${taken.join(', ')}.`, { action: { label: 'Undo', run: undo } })
      await navigate(grains > 0 && brushes + followed === 0 ? '/sort/grains' : '/sort')
    },
    onError: toastError,
  })
  const undo = async () => {
    try {
      const { binned, back, stayed } = await undoTakeIn(ledger.id)
      await client.invalidateQueries()
      const done = [
        (binned > 0 || back + stayed === 0) && `${plural(binned, 'brush lies', 'brushes lie')} in the bin`,
        back > 0 && `${plural(back, 'brush is', 'brushes are')} as before`,
        stayed > 0 && `${plural(stayed, 'brush was', 'brushes were')} changed since, and stayed`,
      ].filter(Boolean)
      toast(`Taken back: ${done.join(', ')}.`)
    } catch (error) {
      toastError(error)
    }
  }
  const cancel = useMutation({
    mutationFn: () => {
      dropUploads()
      return cancelGather(ledger.id)
    },
    onSuccess: async () => {
      await refresh('gather')
      await refresh('tally')
      toast('Nothing was taken in; the ledger is empty again.')
    },
    onError: toastError,
  })
  return (
    <>
      <PageTitle
        note={
          <span data-testid="ledger-summary">
            {formatCount(take)} to take, {formatCount(skip)} skipped, {formatCount(refuse)} refused
          </span>
        }
        aside={
          <>
            <BulkChoices ledger={ledger} />
            <Button kind="quiet" onClick={() => cancel.mutate()} disabled={cancel.isPending}>
              Cancel all
            </Button>
            <Button
              kind="primary"
              onClick={() => done.mutate()}
              disabled={busy || (take === 0 && !hasCard) || done.isPending}
            >
              {take === 0 && hasCard ? 'Set up the rack' : `Take in ${describeTake(ledger.tally)}`}
            </Button>
          </>
        }
      >
        Gather
      </PageTitle>
      {!busy && ledger.files.read < ledger.files.total && <UnreadNote ledger={ledger} />}
      {uploads.busy ? <Bringing uploads={uploads} /> : ledger.reading && <Reading reading={ledger.reading} />}
    </>
  )
}

/** What the button takes in: "3 brushes, 2 grains". */
function describeTake({ take, grains }: Ledger['tally']): string {
  const brushes = take - grains
  if (grains === 0) return plural(brushes, 'brush', 'brushes')
  return brushes === 0 ? plural(grains, 'grain') : `${plural(brushes, 'brush', 'brushes')}, ${plural(grains, 'grain')}`
}
