import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import { toast, toastError } from '../../components/toasts.tsx'
import { bringingLabel, newerOf } from './bringing.ts'
import { ConflictChoice } from './conflict-choice.tsx'
import { FolderActions } from './folder-actions.tsx'
import {
  type ConflictAnswer,
  dropInstall,
  filesAddress,
  type InstallEntry,
  installQuery,
  putIn,
  repairInstall,
  takeOut,
  upgradeInstall,
  verifyInstall,
  writeInstall,
} from './install-queries.ts'
import type { KnownDestination } from './queries.ts'
import { ReadBackLine } from './read-back-line.tsx'
import { Steps } from './steps.tsx'

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
              {newerOf(install) && <span className="text-amber">; {newerOf(install)} is out</span>}
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
      {install.lost !== null && <Lost install={install} />}
      {install.state === 'ready' && install.standIn && install.elsewhere === null && (
        <Ready install={install} name={where} />
      )}
      {install.state === 'ready' && <FolderActions install={install} />}
      {install.state === 'in' && <Inside install={install} destination={destination} />}
      {install.state === 'ready' && destination && <Steps install={install} destination={destination} />}
      <footer className="flex flex-wrap gap-4 text-13">
        {install.state !== 'preparing' && (
          <a href={filesAddress(install.id)} download className="text-saddle underline">
            Download as zip
          </a>
        )}
        {(install.state === 'out' ||
          install.state === 'preparing' ||
          (install.state === 'ready' && install.elsewhere === null)) && <Drop install={install} />}
      </footer>
    </article>
  )
}

/** Its files are not written, and nobody writes them any more: why, and once more. */
function Lost({ install }: { install: InstallEntry }) {
  const again = useAct(
    () => writeInstall(install.id),
    () => undefined,
  )
  return (
    <div role="status" className="grid justify-items-start gap-2">
      <p className="text-13 text-madder">{install.lost}</p>
      <Button disabled={again.isPending} onClick={() => again.mutate()}>
        Try again
      </Button>
    </div>
  )
}

function useAct<Answer>(act: () => Promise<Answer>, said: (answer: Answer) => string | undefined) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: act,
    onSuccess: async (answer) => {
      const sentence = said(answer)
      if (sentence) toast(sentence)
      await client.invalidateQueries({ queryKey: ['fit'] })
    },
    onError: toastError,
  })
}

/** What lies in the way is told before anything is written. */
function Ready({ install, name }: { install: InstallEntry; name: string }) {
  const { data } = useQuery(installQuery(install.id))
  const [answer, setAnswer] = useState<ConflictAnswer>('both')
  const put = useAct(
    () => putIn(install.id, answer),
    () => `"${install.name}" lies in the folder.`,
  )
  if (!data) return null
  return (
    <>
      <ConflictChoice conflicts={data.conflicts} answer={answer} onAnswer={setAnswer} />
      <Button kind="primary" disabled={put.isPending} onClick={() => put.mutate()}>
        Put {plural(data.files.length, 'file')} into the simulated {name}
      </Button>
    </>
  )
}

function Inside({ install, destination }: { install: InstallEntry; destination: KnownDestination | undefined }) {
  const { data } = useQuery(installQuery(install.id))
  const verify = useAct(
    () => verifyInstall(install.id),
    () => undefined,
  )
  const repair = useAct(
    () => repairInstall(install.id),
    ({ repaired }) => `${plural(repaired, 'file')} written again.`,
  )
  const upgrade = useAct(
    () => upgradeInstall(install.id),
    ({ written, gone }) =>
      written + gone === 0 ? 'Nothing has changed since.' : `${plural(written, 'file')} written, ${gone} taken away.`,
  )
  const out = useAct(
    () => takeOut(install.id),
    ({ stayed }) =>
      stayed.length === 0
        ? `"${install.name}" is taken out; the folder is as it was.`
        : `Taken out; ${stayed.join(', ')} stayed, since somebody has changed it.`,
  )
  const isBusy = [verify, repair, upgrade, out].some(({ isPending }) => isPending)
  const drift = data?.drift ?? []
  return (
    <>
      {drift.length > 0 && (
        <p className="text-13 text-amber" role="status">
          {drift
            .map(({ path, state }) => `${path} is ${state}`)
            .slice(0, 3)
            .join('; ')}
          {drift.length > 3 && `; ${drift.length - 3} more`}
        </p>
      )}
      {verify.data && <ReadBackLine read={verify.data} />}
      {destination && destination.description.afterCopying.length > 0 && (
        <ol className="list-inside list-decimal text-13 text-quiet">
          {destination.description.afterCopying.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
      )}
      <div className="flex flex-wrap gap-2">
        <Button disabled={isBusy} onClick={() => verify.mutate()}>
          Verify
        </Button>
        {drift.length > 0 && (
          <Button disabled={isBusy} onClick={() => repair.mutate()}>
            Repair
          </Button>
        )}
        <Button disabled={isBusy} onClick={() => upgrade.mutate()}>
          {bringingLabel(install)}
        </Button>
        <Button kind="danger" disabled={isBusy} onClick={() => out.mutate()}>
          Take out
        </Button>
      </div>
    </>
  )
}

function Drop({ install }: { install: InstallEntry }) {
  const drop = useAct(
    () => dropInstall(install.id),
    () => undefined,
  )
  return (
    <button type="button" disabled={drop.isPending} onClick={() => drop.mutate()} className="text-quiet underline">
      Forget it
    </button>
  )
}
