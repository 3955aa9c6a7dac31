import { format } from 'date-fns'
import { PackageCheck } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { TextArea, TextField } from '../../components/field.tsx'
import { formatBytes, plural } from '../../components/format.ts'
import { buildRelease, type Pack, type Release, releasePack } from '../../data/packs.ts'
import { usePackChange } from './use-pack-change.ts'

/** The line of releases in time: each is frozen and stays as it was. */
export function Releases({ pack, onHandOut }: { pack: Pack; onHandOut: (release: Release) => void }) {
  const [asking, setAsking] = useState(false)
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
      {pack.brushes === 0 && (
        <p className="text-quiet">Choose at least one set that holds brushes; then it can be released.</p>
      )}
      {pack.releases.length === 0 ? (
        <p className="text-quiet">Not released yet. A release never changes, so everyone who gets it has the same.</p>
      ) : (
        <ol className="grid gap-3 border-l-2 border-line pl-4">
          {pack.releases.map((release) => (
            <li key={release.id} className="relative grid gap-1 rounded-10 border border-line bg-surface p-3">
              <span className="eyelet absolute -left-[23px] top-4" aria-hidden />
              <div className="flex flex-wrap items-baseline justify-between gap-2">
                <strong className="measure !text-15">{release.version}</strong>
                <span className="text-13 text-quiet">{format(new Date(release.createdAt), 'd MMM yyyy, HH:mm')}</span>
              </div>
              {release.notes && <p>{release.notes}</p>}
              <p className="text-13 text-quiet">
                {plural(release.brushes, 'brush', 'brushes')}
                {release.zipBytes !== null &&
                  `, ${plural(release.zipFiles ?? 0, 'file')}, ${formatBytes(release.zipBytes)}`}
              </p>
              {release.state === 'building' && <p role="status">Being built; the ring above shows how far it is.</p>}
              {release.state === 'failed' && <Lost pack={pack} release={release} />}
              {release.state === 'ready' && (
                <div>
                  <Button onClick={() => onHandOut(release)}>Hand out {release.version}</Button>
                </div>
              )}
            </li>
          ))}
        </ol>
      )}
      <ReleaseDialog pack={pack} open={asking} onClose={() => setAsking(false)} />
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
  const change = usePackChange()
  const release = async (form: FormData) => {
    const made = await change(() =>
      releasePack(pack.id, { version: String(form.get('version')), notes: String(form.get('notes')) }),
    )
    if (made) onClose()
  }
  return (
    <Dialog
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title={`Release ${pack.title}`}
      description={`${plural(pack.brushes, 'brush', 'brushes')} of ${pack.sets.map((set) => set.name).join(', ')}, as they are now.`}
    >
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
          defaultValue={pack.nextVersion}
          required
          hint="Three numbers with dots: large, small, mended."
        />
        <TextArea label="What is new" name="notes" />
        <Button kind="primary" type="submit">
          Release it
        </Button>
      </form>
    </Dialog>
  )
}
