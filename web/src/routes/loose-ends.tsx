import { STAND_INS, type StandInName } from '@satchel/core/destinations/destination'
import { useQuery } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { buttonLook } from '../components/button.tsx'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { useAddress } from '../components/use-address.ts'
import { destinationsQuery } from '../data/fit.ts'
import { looseEndsQuery, mendEnds, undoMend } from '../data/loose-ends.ts'
import { LooseBody, noteOf } from '../features/loose-ends/loose-body.tsx'
import { LooseInFolder, PickLooseFolder } from '../features/loose-ends/loose-real.tsx'
import type { Folder } from '../real-folder/folder-files.ts'

/** References in the folder of an app that lead nowhere, each with the proposed mend beside it. */
export function LooseEndsRoute() {
  const [search, change] = useAddress()
  const standIn = STAND_INS.find((each) => each === search.get('app')) ?? 'sanderling'
  const destinations = useQuery(destinationsQuery).data?.destinations ?? []
  const loose = useQuery(looseEndsQuery(standIn))
  const nameOf = (name: StandInName) => destinations.find(({ id }) => id === name)?.description.name ?? name
  const withSettings = destinations.flatMap(({ description: { files, standIn: name }, isOwn }) =>
    files.settings !== undefined && name && !isOwn ? [name] : [],
  )
  const ends = loose.data?.ends ?? []
  const sure = ends.filter(({ isSure }) => isSure).length
  const [real, setReal] = useState<Folder>()
  const app = destinations.find(({ id }) => id === standIn)?.description
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Loose ends · Gentle Satchel</title>
      <PageTitle
        note={!real && loose.data && noteOf(loose.data, sure)}
        aside={
          <>
            <select
              aria-label="The folder of"
              value={standIn}
              onChange={(event) => change({ app: event.target.value })}
              className="rounded-4 border border-line bg-raised px-2.5 py-1.5"
            >
              {withSettings.map((name) => (
                <option key={name} value={name}>
                  {nameOf(name)}
                </option>
              ))}
            </select>
            <PickLooseFolder onPick={setReal} />
            <Link to={`/fit/app/${standIn}`} className={buttonLook()}>
              Look into the app
            </Link>
            <Link to="/fit" className={buttonLook()}>
              <ArrowLeft size={18} aria-hidden /> Fit
            </Link>
          </>
        }
      >
        Loose ends
      </PageTitle>
      {real && app && <LooseInFolder key={standIn} folder={real} app={app} onLeave={() => setReal(undefined)} />}
      {!real && loose.isPending && <Loading what="references" />}
      {!real && loose.isError && <LoadError error={loose.error} onRetry={() => void loose.refetch()} />}
      {!real && loose.data && (
        <LooseBody
          key={standIn}
          {...{ sure, loose: loose.data }}
          none={`Every picture and every grain that a brush in the folder of ${nameOf(standIn)} names is there. Once an app goes to its next version, or a library gets another name, what broke stands here with what was meant.`}
          onMend={(mending) => mendEnds(standIn, mending)}
          onUndo={undoMend}
        />
      )}
    </div>
  )
}
