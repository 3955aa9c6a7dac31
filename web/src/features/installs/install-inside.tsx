import type { Drift } from '@satchel/core/installs/compare-folder'
import type { Said } from '@satchel/core/installs/places'
import { useQuery } from '@tanstack/react-query'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import type { KnownDestination } from '../../data/fit.ts'
import { type InstallEntry, installsQuery } from '../../data/installs.ts'
import { bringingLabel } from './bringing.ts'
import type { InstallFolder } from './install-folder.ts'
import { ReadBackLine } from './read-back-line.tsx'
import { type Say, useAct } from './use-act.ts'

const NAMED = 3
const some = (names: readonly string[]) =>
  `${names.slice(0, NAMED).join(', ')}${names.length > NAMED ? ` and ${names.length - NAMED} more` : ''}`

/** What became of a folder that an install was taken out of. */
export function outSentence(
  install: string,
  called: string,
  { stayed, beside }: Pick<Said, 'stayed' | 'beside'>,
): string {
  if (stayed.length + beside.length === 0) return `"${install}" is taken out; ${called} is as it was.`
  const parts = [
    stayed.length > 0 && `${some(stayed)} stayed, since somebody has changed it`,
    beside.length > 0 && `what lay there before is given back as ${some(beside.map(({ to }) => to))}`,
  ]
  return `Taken out of ${called}: ${parts.filter((part) => part !== false).join('; ')}.`
}

/** What has drifted, and who has changed it: another install by its name, or somebody. */
function DriftLine({ drift }: { drift: readonly Drift[] }) {
  const installs = useQuery(installsQuery).data?.installs ?? []
  const nameOf = (by: string | undefined) => installs.find(({ id }) => id === by)?.name
  const words = ({ path, state, by }: Drift) => {
    const name = nameOf(by)
    return name === undefined ? `${path} is ${state}` : `${path} is covered by "${name}"`
  }
  return (
    <p className="text-13 text-amber" role="status">
      {drift.slice(0, NAMED).map(words).join('; ')}
      {drift.length > NAMED && `; ${drift.length - NAMED} more`}
    </p>
  )
}

type Props = {
  install: InstallEntry
  folder: InstallFolder
  destination: KnownDestination | undefined
  /** What is known of it without looking into the folder. */
  known: readonly Drift[]
  onSaid: Say
}

/** An install that lies in a folder, simulated or real: looked after, brought up to date, taken out. */
export function InstallInside({ install, folder, destination, known, onSaid }: Props) {
  const verify = useAct(() => folder.verify(), { onSaid })
  const repair = useAct(
    async () => {
      const repaired = await folder.repair()
      verify.reset()
      return repaired
    },
    { onSaid, said: (repaired) => `${plural(repaired, 'file')} written again.` },
  )
  const renew = useAct(() => folder.renew(), {
    onSaid,
    said: ({ written, gone }) =>
      written + gone === 0 ? 'Nothing has changed since.' : `${plural(written, 'file')} written, ${gone} taken away.`,
  })
  const out = useAct(() => folder.takeOut(), { onSaid, said: (said) => outSentence(install.name, folder.called, said) })
  const isBusy = [verify, repair, renew, out].some(({ isPending }) => isPending)
  const drift = verify.data?.drift ?? known
  return (
    <>
      {drift.length > 0 && <DriftLine drift={drift} />}
      {verify.data?.drift.length === 0 && (
        <p className="text-13 text-moss" role="status">
          Read back: every file is as it was written.
        </p>
      )}
      {verify.data?.read && <ReadBackLine read={verify.data.read} />}
      {destination && destination.description.afterCopying.length > 0 && (
        <ol className="list-inside list-decimal text-13 text-quiet">
          {destination.description.afterCopying.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
      )}
      <div className="flex flex-wrap gap-2">
        <Button disabled={isBusy} onClick={() => verify.mutate(undefined)}>
          Verify
        </Button>
        {drift.length > 0 && (
          <Button disabled={isBusy} onClick={() => repair.mutate(undefined)}>
            Repair
          </Button>
        )}
        <Button disabled={isBusy} onClick={() => renew.mutate(undefined)}>
          {bringingLabel(install)}
        </Button>
        <Button kind="danger" disabled={isBusy} onClick={() => out.mutate(undefined)}>
          Take out
        </Button>
      </div>
    </>
  )
}
