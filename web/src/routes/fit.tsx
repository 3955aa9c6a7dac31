import { useQuery } from '@tanstack/react-query'
import { FolderCheck, PackagePlus, Signpost, Unlink } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button, buttonLook } from '../components/button.tsx'
import { plural } from '../components/format.ts'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { useAddress } from '../components/use-address.ts'
import { destinationsQuery, pageQuery } from '../data/fit.ts'
import { InstallDialog } from '../features/installs/install-dialog.tsx'
import { CellDialog } from '../features/matrix/cell-dialog.tsx'
import { Matrix } from '../features/matrix/matrix.tsx'
import { Body, MeasureAll, OnlyLeft } from '../features/matrix/matrix-body.tsx'
import { nextSort, orderOf } from '../features/matrix/matrix-order.ts'

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
        <OnlyLeft
          isOn={order.left}
          app={all.find(({ id }) => id === order.by)?.description.name}
          onChange={(left) => change({ left })}
        />
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
