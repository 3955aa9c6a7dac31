import { useQuery } from '@tanstack/react-query'
import { format } from 'date-fns'
import { PackageCheck } from 'lucide-react'
import { type ReactNode, Suspense, useState } from 'react'
import { Link } from 'react-router'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { fetched } from '../../components/fetched.tsx'
import { TextArea, TextField } from '../../components/field.tsx'
import { formatBytes, plural } from '../../components/format.ts'
import { LoadError, Loading } from '../../components/states.tsx'
import { exchangesQuery } from '../../data/exchanges.ts'
import {
  buildRelease,
  NOW,
  nextReleaseQuery,
  type Pack,
  type Release,
  recallRelease,
  releasePack,
} from '../../data/packs.ts'
import { PublishedAt } from './published-at.tsx'
import { usePackChange } from './use-pack-change.ts'

// asked for seldom
const PublishDialog = fetched(async () => ({ default: (await import('./publish-dialog.tsx')).PublishDialog }))

type ReleasesProps = {
  pack: Pack
  /** What is to be said before the next one. */
  checkList: ReactNode
  onHandOut: (release: Release) => void
}

/** The line of releases in time: each is frozen and stays as it was. */
export function Releases({ pack, checkList, onHandOut }: ReleasesProps) {
  const [asking, setAsking] = useState(false)
  const [recalling, setRecalling] = useState<Release>()
  const [publishing, setPublishing] = useState<Release>()
  const hasExchange = (useQuery(exchangesQuery).data?.exchanges.length ?? 0) > 0
  return (
    <section aria-labelledby="releases" className="grid content-start gap-3">
      <div className="flex items-center justify-between gap-3">
        <h2 id="releases" className="font-title text-24">
          Releases
        </h2>
        <Button kind="primary" disabled={pack.brushes === 0} onClick={() => setAsking(true)}>
          <PackageCheck size={18} aria-hidden /> Release {plural(pack.brushes, 'brush', 'brushes')}
        </Button>
      </div>
      {checkList}
      {pack.brushes === 0 && (
        <p className="text-quiet">Add a brush, or a set that holds some; then it can be released.</p>
      )}
      {pack.releases.length === 0 ? (
        <p className="text-quiet">Not released yet. A release never changes, so everyone who gets it has the same.</p>
      ) : (
        <ol className="grid gap-3 border-l-2 border-line pl-4">
          {pack.releases.map((release, at) => (
            <li key={release.id} className="relative grid gap-1 rounded-10 border border-line bg-surface p-3">
              <span className="eyelet absolute -left-[23px] top-4" aria-hidden />
              <div className="flex flex-wrap items-baseline justify-between gap-2">
                <strong className="measure !text-15">{release.version}</strong>
                <span className="text-13 text-quiet">{format(new Date(release.createdAt), 'd MMM yyyy, HH:mm')}</span>
              </div>
              {release.recalledAt && (
                <p className="text-madder">
                  <strong>Recalled {format(new Date(release.recalledAt), 'd MMM yyyy')}:</strong> {release.recallReason}
                </p>
              )}
              {release.notes && <p className="whitespace-pre-line">{release.notes}</p>}
              <p className="text-13 text-quiet">
                {plural(release.brushes, 'brush', 'brushes')}
                {release.zipBytes !== null &&
                  `, ${plural(release.zipFiles ?? 0, 'file')}, ${formatBytes(release.zipBytes)}`}
              </p>
              {release.state === 'building' && <p role="status">Being built; the ring above shows how far it is.</p>}
              {release.state === 'failed' && <Lost pack={pack} release={release} />}
              {release.state === 'ready' && (
                <div className="flex flex-wrap items-center gap-2">
                  {!release.recalledAt && (
                    <>
                      <Button onClick={() => onHandOut(release)}>Hand out {release.version}</Button>
                      {hasExchange && (
                        <Button kind="quiet" onClick={() => setPublishing(release)}>
                          Publish {release.version}
                        </Button>
                      )}
                      <Button kind="quiet" onClick={() => setRecalling(release)}>
                        Recall {release.version}
                      </Button>
                    </>
                  )}
                  <Link
                    to={differenceAddress(
                      pack.id,
                      pack.releases[at + 1]?.id ?? release.id,
                      at + 1 < pack.releases.length ? release.id : NOW,
                    )}
                    className="text-13 text-saddle underline underline-offset-2"
                  >
                    What changed{' '}
                    {at + 1 < pack.releases.length ? `since ${pack.releases[at + 1]?.version}` : 'until now'}
                  </Link>
                </div>
              )}
            </li>
          ))}
        </ol>
      )}
      <PublishedAt packId={pack.id} />
      {publishing && (
        <Suspense>
          <PublishDialog pack={pack} release={publishing} onClose={() => setPublishing(undefined)} />
        </Suspense>
      )}
      <ReleaseDialog pack={pack} open={asking} onClose={() => setAsking(false)} />
      <RecallDialog pack={pack} release={recalling} onClose={() => setRecalling(undefined)} />
    </section>
  )
}

/** A release whose download is not there, and nobody builds it any more: why, and once more. */
function Lost({ pack, release }: { pack: Pack; release: Release }) {
  const change = usePackChange()
  return (
    <div className="grid justify-items-start gap-2">
      <p className="text-madder">Its download could not be built. {release.lost}</p>
      <Button onClick={() => void change(() => buildRelease(pack.id, release.id))}>Build it again</Button>
    </div>
  )
}

function ReleaseDialog({ pack, open, onClose }: { pack: Pack; open: boolean; onClose: () => void }) {
  const next = useQuery({ ...nextReleaseQuery(pack.id), enabled: open, gcTime: 0 })
  return (
    <Dialog
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title={`Release ${pack.title}`}
      description={`${plural(pack.brushes, 'brush', 'brushes')}, as they are now: ${contentsWords(pack)}.`}
    >
      {next.isPending && <Loading what="what is new" />}
      {next.isError && <LoadError error={next.error} onRetry={() => void next.refetch()} />}
      {next.data && <ReleaseFields pack={pack} next={next.data} onClose={onClose} />}
    </Dialog>
  )
}

const contentsWords = ({ single, sets }: Pack) =>
  [
    ...(single.length > 0 ? [plural(single.length, 'single brush', 'single brushes')] : []),
    ...sets.map(({ name }) => name),
  ].join(', ')

type Next = {
  files: number
  pictureBytes: number
  version: string
  notes: string
  why: string
  since: { id: string; version: string } | null
}

function ReleaseFields({ pack, next, onClose }: { pack: Pack; next: Next; onClose: () => void }) {
  const change = usePackChange()
  const release = async (form: FormData) => {
    const made = await change(() =>
      releasePack(pack.id, { version: String(form.get('version')), notes: String(form.get('notes')) }),
    )
    if (made) onClose()
  }
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        void release(new FormData(event.currentTarget))
      }}
    >
      <TextField
        label="Version"
        name="version"
        defaultValue={next.version}
        required
        hint={`Three numbers with dots: large, small, mended. This one is proposed because ${next.why}.`}
      />
      <TextArea
        label="What is new"
        name="notes"
        defaultValue={next.notes}
        rows={6}
        hint={next.since ? `Drafted from what differs from ${next.since.version}; write it as you like.` : undefined}
      />
      {next.since && (
        <Link to={differenceAddress(pack.id, next.since.id, NOW)} className="text-13 text-saddle underline">
          Look at all that changed since {next.since.version}
        </Link>
      )}
      <p className="text-13 text-quiet">
        {plural(next.files, 'file')} for everyone to open, a Satchel pack of the same, help and a sheet to print; the
        pictures are {formatBytes(next.pictureBytes)}.
      </p>
      <Button kind="primary" type="submit">
        Release it
      </Button>
    </form>
  )
}

/** Taking a release back cannot be undone: whoever follows its link is told why from then on. */
function RecallDialog({ pack, release, onClose }: { pack: Pack; release: Release | undefined; onClose: () => void }) {
  const change = usePackChange()
  const recall = async (form: FormData) => {
    if (!release) return
    const done = await change(() => recallRelease(pack.id, release.id, String(form.get('reason'))))
    if (done) onClose()
  }
  return (
    <Dialog
      open={release !== undefined}
      onOpenChange={(now) => !now && onClose()}
      title={`Recall ${release?.version ?? ''}`}
      description="Its links stop giving it and say why; installs of it are told. It does not come back: mend what is wrong and release anew."
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault()
          void recall(new FormData(event.currentTarget))
        }}
      >
        <TextArea label="Why, for those who have it" name="reason" required maxLength={500} />
        <Button kind="danger" type="submit">
          Recall {release?.version} for good
        </Button>
      </form>
    </Dialog>
  )
}

const differenceAddress = (packId: string, from: string, to: string) =>
  `/hand-out/${packId}/difference?from=${from}&to=${to}`
