import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Square, Unlink } from 'lucide-react'
import type { ReactNode } from 'react'
import { Link, useNavigate } from 'react-router'
import { ownSetsQuery } from '../api/sets.ts'
import { Button, buttonLook } from '../components/button.tsx'
import { formatBytes, formatCount, formatTimeLeft, plural } from '../components/format.ts'
import { PageTitle } from '../components/page-title.tsx'
import { Progress } from '../components/progress.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { toast, toastError } from '../components/toasts.tsx'
import { AlikeDialog } from '../features/gather/alike-dialog.tsx'
import { DropArea } from '../features/gather/drop-area.tsx'
import { LedgerList } from '../features/gather/ledger.tsx'
import {
  cancelGather,
  currentGatherQuery,
  decide,
  forgetUpload,
  goOnReading,
  type Ledger,
  ledgerQuery,
  shrink,
  startGather,
  stopReading,
  takeIn,
  undoTakeIn,
} from '../features/gather/queries.ts'
import { addUploads, dropUploads, sendAgain, type UploadState, useUploads } from '../features/gather/upload.ts'
import { usePhoneDialog } from '../features/phone/use-phone-dialog.tsx'

export function GatherRoute() {
  const current = useQuery(currentGatherQuery)
  const client = useQueryClient()
  const uploads = useUploads()
  const phone = usePhoneDialog()
  const add = async (files: { path: string; file: File }[]) => {
    if (files.length === 0) return
    try {
      const { id } = await startGather()
      addUploads(id, files)
      await client.invalidateQueries({ queryKey: ['gather'] })
    } catch (error) {
      toastError(error)
    }
  }
  const id = current.data?.id
  return (
    <div className="flex h-[calc(100dvh-112px)] flex-col px-6 pb-4 pt-5">
      <title>Gather · Gentle Satchel</title>
      {current.isPending && <Loading what="the ledger" />}
      {current.isError && <LoadError error={current.error} onRetry={() => void current.refetch()} />}
      {current.isSuccess && !id && (
        <>
          <PageTitle>Gather</PageTitle>
          <DropArea large onFiles={add} onPhone={phone.open} />
        </>
      )}
      {id && <OpenLedger id={id} uploads={uploads} onFiles={add} onPhone={phone.open} />}
      {phone.dialog}
    </div>
  )
}

function OpenLedger({
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
      <LedgerList ledger={ledger.data} setNames={sets.data?.sets.map((set) => set.name) ?? []} />
    </>
  )
}

function LedgerHead({ ledger, uploads }: { ledger: Ledger; uploads: UploadState }) {
  const navigate = useNavigate()
  const client = useQueryClient()
  const { take, skip, refuse } = ledger.tally
  const busy = ledger.reading !== null || uploads.busy
  const done = useMutation({
    mutationFn: () => takeIn(ledger.id),
    onSuccess: async ({ brushes, sets, grains }) => {
      dropUploads()
      await client.invalidateQueries()
      const taken = [
        brushes > 0 && `${plural(brushes, 'brush', 'brushes')} in ${plural(sets, 'set')}`,
        grains > 0 && plural(grains, 'grain'),
      ].filter(Boolean)
      toast(`Taken in: ${taken.join(', ')}.`, { action: { label: 'Undo', run: undo } })
      await navigate(brushes > 0 ? '/sort' : '/sort/grains')
    },
    onError: toastError,
  })
  const undo = async () => {
    try {
      const { binned } = await undoTakeIn(ledger.id)
      await client.invalidateQueries()
      toast(`Taken back: ${plural(binned, 'brush lies', 'brushes lie')} in the bin.`)
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
      await client.invalidateQueries({ queryKey: ['gather'] })
      await client.invalidateQueries({ queryKey: ['tally'] })
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
            <Button kind="primary" onClick={() => done.mutate()} disabled={busy || take === 0 || done.isPending}>
              Take in {describeTake(ledger.tally)}
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

/** How far the files are on their way up. */
function Bringing({ uploads: { done, files, sentBytes, bytes, trouble } }: { uploads: UploadState }) {
  return (
    <Busy done={sentBytes} total={bytes}>
      Bringing in {formatCount(done)} of {plural(files, 'file')}, {formatBytes(sentBytes)} of {formatBytes(bytes)};{' '}
      {trouble ? (
        <span className="text-amber">it stops for now and goes on by itself: {trouble}</span>
      ) : (
        'you may look elsewhere meanwhile.'
      )}
    </Busy>
  )
}

/** Files that came in part before the page was left: chosen again, they go on from there. */
function Arriving({ ledger: { id, arriving } }: { ledger: Ledger }) {
  const client = useQueryClient()
  const letGo = useMutation({
    mutationFn: (uploadId: string) => forgetUpload(id, uploadId),
    onSuccess: () => client.invalidateQueries({ queryKey: ledgerQuery(id).queryKey }),
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

/** How far reading is, in pictures: a zip counts all that is in it. */
function Reading({ reading }: { reading: NonNullable<Ledger['reading']> }) {
  const { jobId, done, total } = reading
  const stop = useMutation({ mutationFn: () => stopReading(jobId), onError: toastError })
  const left = formatTimeLeft(reading)
  return (
    <Busy done={done} total={total}>
      Reading {formatCount(done)} of {plural(total, 'picture')}
      {left && `, ${left}`}; you may look elsewhere meanwhile.{' '}
      <Button
        kind="quiet"
        className="text-13"
        onClick={() => stop.mutate()}
        disabled={stop.isPending || stop.isSuccess}
      >
        <Square size={18} aria-hidden /> Stop reading
      </Button>
    </Busy>
  )
}

function Busy({ done, total, children }: { done: number; total: number; children: ReactNode }) {
  return (
    <div className="mb-3 flex flex-wrap items-center gap-3 text-13 text-quiet">
      <div className="w-56">
        <Progress done={done} total={total} label="Gathering" />
      </div>
      <span role="status">{children}</span>
    </div>
  )
}

/** What the button takes in: "3 brushes, 2 grains". */
function describeTake({ take, grains }: Ledger['tally']): string {
  const brushes = take - grains
  if (grains === 0) return plural(brushes, 'brush', 'brushes')
  return brushes === 0 ? plural(grains, 'grain') : `${plural(brushes, 'brush', 'brushes')}, ${plural(grains, 'grain')}`
}

/** The reading was stopped: what is not read yet can still be read, or is left out. */
function UnreadNote({ ledger }: { ledger: Ledger }) {
  const client = useQueryClient()
  const unread = ledger.files.total - ledger.files.read
  const goOn = async () => {
    try {
      await goOnReading(ledger.id)
      await client.invalidateQueries({ queryKey: ledgerQuery(ledger.id).queryKey })
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
function BulkChoices({ ledger: { id, tally } }: { ledger: Ledger }) {
  const client = useQueryClient()
  const run = async (change: () => Promise<unknown>) => {
    try {
      await change()
      await client.invalidateQueries({ queryKey: ledgerQuery(id).queryKey })
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
