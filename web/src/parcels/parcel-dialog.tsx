import { useQuery } from '@tanstack/react-query'
import { Download } from 'lucide-react'
import { useState } from 'react'
import { Button, buttonLook } from '../components/button.tsx'
import { Dialog } from '../components/dialog.tsx'
import { SelectField } from '../components/field.tsx'
import { formatBytes, plural } from '../components/format.ts'
import { Progress } from '../components/progress.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { jobsQuery } from '../data/jobs.ts'
import { makeParcel, parcelFile, parcelLookQuery, parcelsQuery, type Wanted } from '../data/parcels.ts'
import { useRefresh } from '../data/use-refresh.ts'
import { useWrapping } from './wrapping.ts'

/** Says what a file will hold before it is made, how far it is, and gives it. */
export default function ParcelDialog() {
  const { wanted, leave } = useWrapping()
  if (!wanted) return null
  return <Wrapped key={JSON.stringify(wanted)} first={wanted} onClose={leave} />
}

function Wrapped({ first, onClose }: { first: Wanted; onClose: () => void }) {
  const [wanted, setWanted] = useState(first)
  const [madeId, setMadeId] = useState<string>()
  const look = useQuery(parcelLookQuery(wanted))
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={look.data?.title ?? 'A file to fetch'}
      {...(look.data ? { description: look.data.comes } : {})}
    >
      {look.isPending && <Loading what="what it will hold" />}
      {look.isError && <LoadError error={look.error} onRetry={() => void look.refetch()} />}
      {'paper' in wanted && madeId === undefined && (
        <SelectField
          label="Paper"
          value={wanted.paper}
          choices={PAPERS}
          onChange={(event) => setWanted({ ...wanted, paper: event.target.value === 'letter' ? 'letter' : 'a4' })}
        />
      )}
      {look.data && (
        <p className="text-quiet">
          {plural(look.data.brushes, 'brush', 'brushes')}
          {look.data.files !== null && ` in ${plural(look.data.files, 'file')}`}
          {look.data.aboutBytes !== null && `; about ${formatBytes(look.data.aboutBytes)}`}.
        </p>
      )}
      {madeId === undefined ? (
        <Make wanted={wanted} disabled={!look.data} onMade={setMadeId} />
      ) : (
        <Made id={madeId} onAgain={() => setMadeId(undefined)} />
      )}
    </Dialog>
  )
}

const PAPERS = [
  { value: 'a4', label: 'A4' },
  { value: 'letter', label: 'Letter' },
]

function Make({ wanted, disabled, onMade }: { wanted: Wanted; disabled: boolean; onMade: (id: string) => void }) {
  const refresh = useRefresh()
  const [why, setWhy] = useState<string>()
  const make = async () => {
    try {
      const { id } = await makeParcel(wanted)
      await refresh(parcelsQuery.queryKey, jobsQuery.queryKey)
      onMade(id)
    } catch (error) {
      setWhy(error instanceof Error ? error.message : String(error))
    }
  }
  return (
    <>
      {why !== undefined && (
        <p role="alert" className="text-madder">
          {why}
        </p>
      )}
      <Button kind="primary" disabled={disabled} onClick={() => void make()}>
        Make the file
      </Button>
    </>
  )
}

function Made({ id, onAgain }: { id: string; onAgain: () => void }) {
  const parcels = useQuery(parcelsQuery)
  const jobs = useQuery(jobsQuery)
  const parcel = parcels.data?.parcels.find((each) => each.id === id)
  if (parcels.isError) return <LoadError error={parcels.error} onRetry={() => void parcels.refetch()} />
  if (!parcel) return <Loading what="the file" />
  if (parcel.fileName !== null)
    return (
      <>
        <a href={parcelFile(id)} download className={buttonLook('primary')}>
          <Download size={18} aria-hidden /> Download {parcel.fileName}, {formatBytes(parcel.sizeBytes ?? 0)}
        </a>
        <p className="text-13 text-quiet">It is kept for two days, and can be made again at any time.</p>
      </>
    )
  if (parcel.lost !== null)
    return (
      <>
        <p role="alert" className="text-madder">
          It could not be made. {parcel.lost}
        </p>
        <Button onClick={onAgain}>Try again</Button>
      </>
    )
  const { done = 0, total = 0 } = jobs.data?.jobs.find((job) => job.id === parcel.jobId) ?? {}
  return (
    <div className="grid gap-1" role="status">
      <Progress done={done} total={total} label="How far the file is" />
      <span className="text-13 text-quiet">
        It is being made. You may close this: the ring above tells when it is done.
      </span>
    </div>
  )
}
