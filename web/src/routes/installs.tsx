import { useQuery } from '@tanstack/react-query'
import { ArrowLeft, PackagePlus } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button, buttonLook } from '../components/button.tsx'
import { plural } from '../components/format.ts'
import { PageTitle } from '../components/page-title.tsx'
import { Empty, LoadError, Loading } from '../components/states.tsx'
import { destinationsQuery } from '../data/fit.ts'
import { installsQuery } from '../data/installs.ts'
import { InstallCard, isInside } from '../features/installs/install-card.tsx'
import { InstallDialog } from '../features/installs/install-dialog.tsx'
import { useOutAll } from '../features/installs/use-out-all.ts'

/** What lies in the folders of apps, and what was there. */
export function InstallsRoute() {
  const installs = useQuery(installsQuery)
  const destinations = useQuery(destinationsQuery).data?.destinations ?? []
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const [isNew, setNew] = useState(false)
  const inside = installs.data?.installs.filter(isInside) ?? []
  const marked = inside.filter(({ id }) => chosen.has(id))
  const outAll = useOutAll(marked, () => setChosen(new Set()))
  const newInstall = (
    <Button kind="primary" onClick={() => setNew(true)}>
      <PackagePlus size={18} aria-hidden /> Install
    </Button>
  )
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Installed · Gentle Satchel</title>
      <PageTitle
        note={installs.data && `${plural(inside.length, 'install')} in folders`}
        aside={
          <>
            {marked.length > 0 && (
              <Button kind="danger" disabled={outAll.isPending} onClick={() => outAll.mutate()}>
                Take {marked.length} out
              </Button>
            )}
            {newInstall}
            <Link to="/fit" className={buttonLook()}>
              <ArrowLeft size={18} aria-hidden /> Fit
            </Link>
          </>
        }
      >
        Installed
      </PageTitle>
      {isNew && <InstallDialog destinations={destinations} onClose={() => setNew(false)} />}
      {installs.isPending && <Loading what="installs" />}
      {installs.isError && <LoadError error={installs.error} onRetry={() => void installs.refetch()} />}
      {installs.data?.installs.length === 0 && (
        <Empty title="Nothing is installed" action={newInstall}>
          Brushes are written for an app, looked through, and put into its folder; later they are repaired, brought up
          to date, and taken out again so that the folder is as it was.
        </Empty>
      )}
      <ul className="grid gap-4 sm:grid-cols-[repeat(auto-fill,minmax(min(420px,100%),1fr))]">
        {installs.data?.installs.map((install) => (
          <li key={install.id}>
            <InstallCard
              install={install}
              destination={destinations.find(({ id }) => id === install.destinationId)}
              isChosen={chosen.has(install.id)}
              onChoose={(isChosen) => {
                const next = new Set(chosen)
                if (isChosen) next.add(install.id)
                else next.delete(install.id)
                setChosen(next)
              }}
            />
          </li>
        ))}
      </ul>
    </div>
  )
}
