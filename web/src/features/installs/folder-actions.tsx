import { useQuery } from '@tanstack/react-query'
import { FolderInput, FolderSearch } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import type { KnownDestination } from '../../data/fit.ts'
import {
  type ConflictAnswer,
  type InstallEntry,
  loadInstall,
  loadInstallFile,
  noteElsewhere,
  settleElsewhere,
} from '../../data/installs.ts'
import {
  FolderChanged,
  filesIn,
  letGo,
  lookInto,
  moveLedger,
  openLedger,
  putInto,
  sentenceOn,
} from '../../real-folder/change-folder.ts'
import { type FolderLedger, ledgerOf, listLedgers } from '../../real-folder/ledger.ts'
import { askFor, canPickFolder, pickFolder } from '../../real-folder/pick-folder.ts'
import { coveredBy, saveCovered } from '../../real-folder/save-kept.ts'
import { ConflictChoice } from './conflict-choice.tsx'
import { realFolder } from './install-folder.ts'
import { InstallInside } from './install-inside.tsx'
import { type Say, useAct } from './use-act.ts'

type Props = { install: InstallEntry; destination: KnownDestination | undefined; onSaid: Say }

/** An install in a real folder of this computer: put in, looked after, taken out. */
export function FolderActions({ install, destination, onSaid }: Props) {
  const ledger = useQuery({
    queryKey: ['fit', 'folder-ledger', install.id],
    queryFn: async () => ledgerOf(await listLedgers(), install.id) ?? null,
    structuralSharing: false, // handles of folders are no plain data
  })
  // Its place is there before it is known what lies where: cards below move under nobody's press.
  if (ledger.data === undefined) return install.elsewhere === null && canPickFolder() ? <Waiting /> : null
  if (ledger.data !== null)
    return <InFolder install={install} destination={destination} ledger={ledger.data} onSaid={onSaid} />
  if (install.elsewhere !== null) return <ElsewhereLine install={install} onSaid={onSaid} />
  return <IntoFolder install={install} onSaid={onSaid} />
}

const Waiting = () => (
  <Button disabled>
    <FolderInput size={18} aria-hidden /> Into a folder of this computer
  </Button>
)

/** What another browser has put somewhere can only be noted to be gone. */
function ElsewhereLine({ install, onSaid }: Omit<Props, 'destination'>) {
  const forget = useAct(() => noteElsewhere(install.id, null), { onSaid })
  return (
    <p className="text-13 text-quiet">
      It lies in "{install.elsewhere}", a folder of another computer or browser: it is looked after from there.{' '}
      <button
        type="button"
        disabled={forget.isPending}
        onClick={() => forget.mutate(undefined)}
        className="text-saddle underline"
      >
        It is not there any more
      </button>
    </p>
  )
}

/** What lies in a folder where an install would go, by what it has by now. */
async function lookFor(ledger: FolderLedger, install: string) {
  const { files } = await loadInstall(install)
  return { files, ...(await lookInto(ledger, install, files)) }
}
type Found = Awaited<ReturnType<typeof lookFor>>

function IntoFolder({ install, onSaid }: Omit<Props, 'destination'>) {
  const [picked, setPicked] = useState<{ ledger: FolderLedger; found: Found }>()
  const [answer, setAnswer] = useState<ConflictAnswer>('both')
  const [progress, setProgress] = useState<{ done: number; total: number }>()
  const within = async <Done,>(name: string, work: () => Promise<Done>): Promise<Done> => {
    try {
      return await work()
    } catch (error) {
      throw new Error(sentenceOn(error, name, { isWhole: true }), { cause: error })
    }
  }
  const look = useAct(
    async () => {
      const folder = await pickFolder()
      if (!folder) return
      await within(folder.name, async () => {
        const ledger = await openLedger(folder)
        setPicked({ ledger, found: await lookFor(ledger, install.id) })
      })
    },
    { onSaid },
  )
  const put = useAct(
    ({ ledger, found }: { ledger: FolderLedger; found: Found }) =>
      within(ledger.name, async () => {
        const { there, names, conflicts } = found
        if (conflicts.other.length > 0) await settleElsewhere(install.id, { answer, there, names })
        // under other names than were looked at
        const now = await lookFor(ledger, install.id)
        const [inTheWay] = now.conflicts.other
        if (answer !== 'replace' && inTheWay !== undefined) throw new FolderChanged(inTheWay)
        await putInto({
          ledger,
          install: install.id,
          files: now.files,
          expected: now.expected,
          load: loadInstallFile,
          onProgress: (done, total) => setProgress({ done, total }),
        })
        await noteElsewhere(install.id, ledger.name)
        return { count: now.files.length, name: ledger.name }
      }),
    { onSaid, said: ({ count, name }) => `${plural(count, 'file')} put into "${name}".` },
  )
  if (!canPickFolder())
    return <p className="text-13 text-quiet">This browser gives no folders: download the zip, and unpack it there.</p>
  if (!picked)
    return (
      <Button disabled={look.isPending} onClick={() => look.mutate(undefined)}>
        <FolderInput size={18} aria-hidden /> Into a folder of this computer
      </Button>
    )
  return (
    <div className="grid gap-2 rounded-4 border border-line p-3">
      <ConflictChoice conflicts={picked.found.conflicts} answer={answer} onAnswer={setAnswer} />
      <div className="flex flex-wrap items-center gap-2">
        <Button kind="primary" disabled={put.isPending} onClick={() => put.mutate(picked)}>
          Put them into "{picked.ledger.name}"
        </Button>
        <Button kind="quiet" disabled={put.isPending} onClick={() => setPicked(undefined)}>
          Another folder
        </Button>
        {put.isPending && progress && (
          <span role="status" className="text-13 text-quiet">
            {progress.done} of {progress.total}
          </span>
        )}
      </div>
    </div>
  )
}

function InFolder({ install, destination, ledger, onSaid }: Props & { ledger: FolderLedger }) {
  const { name } = ledger
  const folder = realFolder(install, ledger)
  const out = useAct(() => folder.takeOut(), { onSaid })
  const isBroken = ledger.writing.includes(install.id) && install.elsewhere === null
  return (
    <>
      {isBroken ? (
        <>
          <p role="status" className="text-13 text-amber">
            Putting it into "{name}" was broken off in the middle.
          </p>
          <Button disabled={out.isPending} onClick={() => out.mutate(undefined)}>
            Put "{name}" back as it was
          </Button>
        </>
      ) : (
        <>
          <p className="text-13">
            {plural(filesIn(ledger, install.id).length, 'file')} in "{name}", a folder of this computer
          </p>
          <InstallInside install={install} folder={folder} destination={destination} known={[]} onSaid={onSaid} />
        </>
      )}
      <MovedFolder install={install} ledger={ledger} onSaid={onSaid} />
    </>
  )
}

/** The folder lies elsewhere by now, or is gone for good. */
function MovedFolder({ install, ledger, onSaid }: Omit<Props, 'destination'> & { ledger: FolderLedger }) {
  const { name } = ledger
  const covered = coveredBy(ledger, install.id)
  const move = useAct(
    async () => {
      const folder = await pickFolder()
      if (!folder) return undefined
      await askFor(folder)
      if (!(await moveLedger(ledger, folder)))
        throw new Error(`Nothing of it lies in "${folder.name}"; choose the folder that was "${name}".`)
      await noteElsewhere(install.id, folder.name)
      return folder.name
    },
    { onSaid, said: (to) => (to === undefined ? '' : `It is looked after in "${to}" from now on.`) },
  )
  const forget = useAct(
    async () => {
      await letGo(ledger, install.id)
      await noteElsewhere(install.id, null)
    },
    { onSaid, said: () => `What it has put into "${name}" stays there, and is looked after no more.` },
  )
  const save = useAct(() => saveCovered(ledger, install.id), { onSaid })
  return (
    <details className="text-13">
      <summary className="cursor-pointer text-saddle">"{name}" lies elsewhere now, or is gone</summary>
      <div className="mt-2 grid justify-items-start gap-2">
        <Button disabled={move.isPending} onClick={() => move.mutate(undefined)}>
          <FolderSearch size={18} aria-hidden /> Show where it is now
        </Button>
        {covered.length > 0 && (
          <p className="text-quiet">
            {plural(covered.length, 'file')} of yours that it has covered {covered.length === 1 ? 'is' : 'are'} kept for
            as long as it is looked after.{' '}
            <button type="button" onClick={() => save.mutate(undefined)} className="text-saddle underline">
              Save as zip
            </button>
          </p>
        )}
        <Button kind="danger" disabled={forget.isPending} onClick={() => forget.mutate(undefined)}>
          Let go of it
        </Button>
      </div>
    </details>
  )
}
