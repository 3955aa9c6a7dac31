import { useMutation } from '@tanstack/react-query'
import { Unlink } from 'lucide-react'
import { Link } from 'react-router'
import { Button, buttonLook } from '../../components/button.tsx'
import { formatBytes, plural } from '../../components/format.ts'
import { toastError } from '../../components/toasts.tsx'
import { decide, forgetUpload, goOnReading, type Ledger, ledgerQuery, shrink } from '../../data/gather.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { AlikeDialog } from './alike-dialog.tsx'

/** Files that came in part before the page was left: chosen again, they go on from there. */
export function Arriving({ ledger: { id, arriving } }: { ledger: Ledger }) {
  const refresh = useRefresh()
  const letGo = useMutation({
    mutationFn: (uploadId: string) => forgetUpload(id, uploadId),
    onSuccess: () => refresh(ledgerQuery(id).queryKey),
    onError: toastError,
  })
  return (
    <section
      aria-label="Files that came in part"
      className="mb-3 max-h-32 overflow-auto rounded-10 border border-amber bg-surface p-3 text-13"
    >
      <ul className="flex flex-col gap-1">
        {arriving.map(({ id: uploadId, path, sizeBytes, receivedBytes }) => (
          <li key={uploadId} className="flex flex-wrap items-center gap-x-3">
            <span className="min-w-0 flex-[1_1_18rem] break-words">
              "{path}" stopped at {formatBytes(receivedBytes)} of {formatBytes(sizeBytes)}. Choose the same file again,
              and it goes on from there.
            </span>
            <Button kind="quiet" className="text-13" disabled={letGo.isPending} onClick={() => letGo.mutate(uploadId)}>
              Let it go
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** The reading was stopped: what is not read yet can still be read, or is left out. */
export function UnreadNote({ ledger }: { ledger: Ledger }) {
  const refresh = useRefresh()
  const unread = ledger.files.total - ledger.files.read
  const goOn = async () => {
    try {
      await goOnReading(ledger.id)
      await refresh(ledgerQuery(ledger.id).queryKey)
    } catch (error) {
      toastError(error)
    }
  }
  return (
    <p className="mb-3 flex items-center gap-3 text-13 text-amber">
      The reading was stopped: {plural(unread, 'file')} not read yet, and left out if you take the rest in now.
      <Button onClick={() => void goOn()}>Go on reading</Button>
    </p>
  )
}

/** Decisions for many lines at once: marks that are there already, copies and heavy tips. */
export function BulkChoices({ ledger: { id, tally } }: { ledger: Ledger }) {
  const refresh = useRefresh()
  const run = async (change: () => Promise<unknown>) => {
    try {
      await change()
      await refresh(ledgerQuery(id).queryKey)
    } catch (error) {
      toastError(error)
    }
  }
  return (
    <>
      {tally.same > 0 && (
        <AlikeDialog
          id={id}
          count={tally.same}
          onSkip={() => run(() => decide(id, { group: 'same' }, { outcome: 'skip' }))}
        />
      )}
      {tally.copies > 0 && (
        <Button onClick={() => void run(() => decide(id, { group: 'copies' }, { outcome: 'take' }))}>
          Take {plural(tally.copies, 'copy', 'copies')} too
        </Button>
      )}
      {tally.loose > 0 && (
        <Link to="/gather/loose-ends" className={buttonLook()}>
          <Unlink size={18} aria-hidden /> Mend {plural(tally.loose, 'brush', 'brushes')} with loose ends
        </Link>
      )}
      {tally.heavy > 0 && (
        <Button onClick={() => void run(() => shrink(id, { group: 'heavy' }, true))}>
          Smaller copies of {plural(tally.heavy, 'heavy tip')}
        </Button>
      )}
    </>
  )
}
