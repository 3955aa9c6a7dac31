import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import type { KnownDestination } from '../../data/fit.ts'
import {
  type ConflictAnswer,
  dropInstall,
  filesAddress,
  type InstallEntry,
  installQuery,
  putIn,
  writeInstall,
} from '../../data/installs.ts'
import { newerOf } from './bringing.ts'
import { ConflictChoice } from './conflict-choice.tsx'
import { FolderActions } from './folder-actions.tsx'
import { simulatedFolder } from './install-folder.ts'
import { InstallInside } from './install-inside.tsx'
import { Steps } from './steps.tsx'
import { type Say, useAct, type Word } from './use-act.ts'

const STATES: Record<InstallEntry['state'], string> = {
  preparing: 'being written',
  ready: 'written, not put in yet',
  in: 'in the folder',
  out: 'taken out',
}

/** Whether it lies in a folder: of a simulated app, or of somebody's computer. */
export const isInside = ({ state, elsewhere }: InstallEntry): boolean => state === 'in' || elsewhere !== null

type Props = {
  install: InstallEntry
  destination: KnownDestination | undefined
  isChosen: boolean
  onChoose: (isChosen: boolean) => void
}

/** One install: what it put where, how it stands, and what can be done with it. */
export function InstallCard({ install, destination, isChosen, onChoose }: Props) {
  const [word, setWord] = useState<Word>()
  const where = destination?.description.name ?? 'an app that is described no more'
  return (
    <article className="grid content-start gap-3 rounded-10 border border-line bg-surface p-4">
      <header className="flex items-start gap-3">
        {isInside(install) && (
          <input
            type="checkbox"
            aria-label={`Choose "${install.name}"`}
            checked={isChosen}
            onChange={(event) => onChoose(event.target.checked)}
            className="mt-1 h-5 w-5"
          />
        )}
        <div className="min-w-0 flex-1">
          <h2 className="truncate font-title text-18 font-semibold">{install.name}</h2>
          <p className="text-13 text-quiet">
            {where}, {plural(install.brushes, 'brush', 'brushes')}
            {install.files > 0 && `, ${plural(install.files, 'file')}`},{' '}
            {install.lost !== null
              ? 'not written'
              : install.elsewhere === null
                ? STATES[install.state]
                : `in "${install.elsewhere}"`}
          </p>
          {install.release && (
            <p className="text-13 text-quiet">
              {install.release.version} of "{install.release.pack}"
              {install.release.recalled === null && newerOf(install) && (
                <span className="text-amber">; {newerOf(install)} is out</span>
              )}
            </p>
          )}
          {install.release && install.release.recalled !== null && (
            <p className="text-13 text-madder">
              {install.release.version} was recalled: {install.release.recalled}
            </p>
          )}
        </div>
        {install.state === 'in' && install.standIn && (
          <Link to={`/fit/app/${install.standIn}`} className="shrink-0 text-13 text-saddle underline">
            Look into the app
          </Link>
        )}
      </header>
      {install.refused.map(({ brushId, name, why }) => (
        <p key={brushId} className="text-13 text-madder">
          "{name}" cannot be written: {why}
        </p>
      ))}
      {install.lost !== null && <Lost install={install} onSaid={setWord} />}
      {word && word.text !== '' && (
        <p role={word.isBad ? 'alert' : 'status'} className={`text-13 ${word.isBad ? 'text-madder' : 'text-moss'}`}>
          {word.text}
        </p>
      )}
      {install.state === 'ready' && install.standIn && install.elsewhere === null && (
        <Ready install={install} name={where} onSaid={setWord} />
      )}
      {install.state === 'ready' && <FolderActions install={install} destination={destination} onSaid={setWord} />}
      {install.state === 'in' && <InApp install={install} destination={destination} onSaid={setWord} />}
      {install.state === 'ready' && destination && <Steps install={install} destination={destination} />}
      <footer className="flex flex-wrap gap-4 text-13">
        {install.state !== 'preparing' && (
          <a href={filesAddress(install.id)} download className="text-saddle underline">
            Download as zip
          </a>
        )}
        {(install.state === 'out' ||
          install.state === 'preparing' ||
          (install.state === 'ready' && install.elsewhere === null)) && <Drop install={install} onSaid={setWord} />}
      </footer>
    </article>
  )
}

type Part = { install: InstallEntry; onSaid: Say }

/** Its files are not written, and nobody writes them any more: why, and once more. */
function Lost({ install, onSaid }: Part) {
  const again = useAct(() => writeInstall(install.id), { onSaid })
  return (
    <div role="status" className="grid justify-items-start gap-2">
      <p className="text-13 text-madder">{install.lost}</p>
      <Button disabled={again.isPending} onClick={() => again.mutate(undefined)}>
        Try again
      </Button>
    </div>
  )
}

/** What lies in the way is told before anything is written. */
function Ready({ install, name, onSaid }: Part & { name: string }) {
  const { data } = useQuery(installQuery(install.id))
  const [answer, setAnswer] = useState<ConflictAnswer>('both')
  const put = useAct(() => putIn(install.id, answer), {
    onSaid,
    said: () => `"${install.name}" lies in the folder.`,
  })
  if (!data) return null
  return (
    <>
      <ConflictChoice conflicts={data.conflicts} answer={answer} onAnswer={setAnswer} />
      <Button kind="primary" disabled={put.isPending} onClick={() => put.mutate(undefined)}>
        Put {plural(data.files.length, 'file')} into the simulated {name}
      </Button>
    </>
  )
}

/** It lies in the folder of a simulated app. */
function InApp({ install, destination, onSaid }: Part & { destination: KnownDestination | undefined }) {
  const { data } = useQuery(installQuery(install.id))
  return (
    <InstallInside
      install={install}
      folder={simulatedFolder(install)}
      destination={destination}
      known={data?.drift ?? []}
      onSaid={onSaid}
    />
  )
}

function Drop({ install, onSaid }: Part) {
  const drop = useAct(() => dropInstall(install.id), { onSaid })
  return (
    <button
      type="button"
      disabled={drop.isPending}
      onClick={() => drop.mutate(undefined)}
      className="text-quiet underline"
    >
      Forget it
    </button>
  )
}
