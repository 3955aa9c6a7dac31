import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { plural } from '../components/format.ts'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { useAddress } from '../components/use-address.ts'
import { destinationsQuery, pageQuery } from '../data/fit.ts'
import { InstallDialog } from '../features/installs/install-dialog.tsx'
import { CellDialog } from '../features/matrix/cell-dialog.tsx'
import { FitTools } from '../features/matrix/fit-tools.tsx'
import { Matrix } from '../features/matrix/matrix.tsx'
import { Body, OnlyLeft } from '../features/matrix/matrix-body.tsx'
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
        aside={<FitTools find={order.find} onFind={(find) => change({ find })} onInstall={() => setInstalling({})} />}
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
