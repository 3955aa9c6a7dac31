import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { FolderCheck, Gauge, PackagePlus, Signpost, Unlink } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button, buttonLook } from '../components/button.tsx'
import { plural } from '../components/format.ts'
import { PageTitle } from '../components/page-title.tsx'
import { Empty, LoadError, Loading } from '../components/states.tsx'
import { toastError } from '../components/toasts.tsx'
import { useAddress } from '../components/use-address.ts'
import { CellDialog } from '../features/fit/cell-dialog.tsx'
import { InstallDialog } from '../features/fit/install-dialog.tsx'
import { Matrix } from '../features/fit/matrix.tsx'
import { destinationsQuery, measureAll, type Order, pageQuery } from '../features/fit/queries.ts'
import { jobsQuery } from '../features/jobs/queries.ts'

/** Every brush beside every destination, with how like itself it arrives there. */
export function FitRoute() {
  const [search, change] = useAddress()
  const order = orderOf(search)
  /** What the install dialog was opened for. */
  const [installing, setInstalling] = useState<{ brush?: { id: string; name: string }; destinationId?: string }>()
  const destinations = useQuery(destinationsQuery)
  const first = useQuery(pageQuery(order, 0))
  const all = destinations.data?.destinations ?? []
  const opened = all.find(({ id }) => id === search.get('to'))
  const brushId = search.get('brush')
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Fit · Gentle Satchel</title>
      <PageTitle
        note={first.data && `${plural(first.data.total, 'brush', 'brushes')}, ${plural(all.length, 'destination')}`}
        aside={
          <>
            <input
              type="search"
              aria-label="Find brushes"
              placeholder="find"
              value={order.find}
              onChange={(event) => change({ find: event.target.value })}
              className="rounded-4 border border-line bg-raised px-2.5 py-1.5"
            />
            <MeasureAll />
            <Link to="/fit/destinations" className={buttonLook()}>
              <Signpost size={18} aria-hidden /> Destinations
            </Link>
            <Link to="/fit/installs" className={buttonLook()}>
              <FolderCheck size={18} aria-hidden /> Installed
            </Link>
            <Link to="/fit/loose-ends" className={buttonLook()}>
              <Unlink size={18} aria-hidden /> Loose ends
            </Link>
            <Button kind="primary" onClick={() => setInstalling({})}>
              <PackagePlus size={18} aria-hidden /> Install
            </Button>
          </>
        }
      >
        Fit
      </PageTitle>
      {order.by !== undefined && (
        <label className="mb-3 flex w-fit items-center gap-2 text-13">
          <input
            type="checkbox"
            checked={order.left}
            onChange={(event) => change({ left: event.target.checked ? '1' : undefined })}
            className="h-5 w-5"
          />
          only brushes that leave something behind in {all.find(({ id }) => id === order.by)?.description.name}
        </label>
      )}
      {(destinations.isPending || first.isPending) && <Loading what="brushes and destinations" />}
      {destinations.isError && <LoadError error={destinations.error} onRetry={() => void destinations.refetch()} />}
      {first.isError && <LoadError error={first.error} onRetry={() => void first.refetch()} />}
      {first.data && destinations.data && (
        <Body total={first.data.total} order={order}>
          <div className="overflow-x-auto lg:overflow-visible">
            <Matrix
              destinations={all}
              order={order}
              total={first.data.total}
              onSort={(id) => change(nextSort(order, id))}
              onOpen={(brush, to) => change({ brush, to })}
            />
          </div>
        </Body>
      )}
      {opened && brushId && (
        <CellDialog
          brushId={brushId}
          destination={opened}
          onClose={() => change({ brush: undefined, to: undefined })}
          onInstall={(name) => {
            setInstalling({ brush: { id: brushId, name }, destinationId: opened.id })
            change({ brush: undefined, to: undefined })
          }}
        />
      )}
      {installing && <InstallDialog destinations={all} {...installing} onClose={() => setInstalling(undefined)} />}
    </div>
  )
}

const orderOf = (search: URLSearchParams): Order => ({
  by: search.get('by') ?? undefined,
  worst: search.get('worst') === '1',
  left: search.get('left') === '1',
  find: search.get('find') ?? '',
})

/** What is least alike first, then what is most, then by name again. */
const nextSort = (order: Order, id: string): Record<string, string | undefined> => {
  if (order.by !== id) return { by: id, worst: '1' }
  return order.worst ? { by: id, worst: undefined } : { by: undefined, worst: undefined, left: undefined }
}

function Body({ total, order, children }: { total: number; order: Order; children: React.ReactNode }) {
  if (total > 0) return children
  if (order.find !== '' || order.left) return <p className="py-10 text-center text-quiet">No brush is like that.</p>
  return (
    <Empty
      title="No brushes to fit yet"
      action={
        <Link to="/gather" className={buttonLook('primary')}>
          Gather some
        </Link>
      }
    >
      Every brush of the library stands here beside every painting app, with how like itself it arrives there.
    </Empty>
  )
}

function MeasureAll() {
  const client = useQueryClient()
  const jobs = useQuery(jobsQuery)
  const isRunning = jobs.data?.jobs.some(
    ({ kind, state }) => kind === 'fit-all' && (state === 'queued' || state === 'running'),
  )
  const measure = useMutation({
    mutationFn: measureAll,
    onSuccess: () => client.invalidateQueries({ queryKey: jobsQuery.queryKey }),
    onError: toastError,
  })
  return (
    <Button onClick={() => measure.mutate()} disabled={isRunning || measure.isPending}>
      <Gauge size={18} aria-hidden /> {isRunning ? 'Measuring all' : 'Measure all'}
    </Button>
  )
}
