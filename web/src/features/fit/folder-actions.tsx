import { findDrift } from '@satchel/core/installs/compare-folder'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { FolderInput } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import { toast } from '../../components/toasts.tsx'
import { bringingLabel } from './bringing.ts'
import { ConflictChoice } from './conflict-choice.tsx'
import {
  type ConflictAnswer,
  type InstallEntry,
  loadInstall,
  loadInstallFile,
  noteElsewhere,
  renewElsewhere,
  settleElsewhere,
  verifyInstall,
} from './install-queries.ts'
import { ReadBackLine } from './read-back-line.tsx'
import type { Folder } from './real-folder/folder-files.ts'
import { askFor, canPickFolder, pickFolder } from './real-folder/pick-folder.ts'
import {
  bringUpToDate,
  driftOf,
  FolderChanged,
  type Found,
  lookInto,
  putInto,
  repairIn,
  sentenceOn,
} from './real-folder/put-in.ts'
import { type FolderRecord, loadRecord } from './real-folder/record.ts'
import { takeOutHere } from './real-folder/take-out.ts'

/** An install in a real folder of this computer: put in, looked after, taken out. */
export function FolderActions({ install }: { install: InstallEntry }) {
  const record = useQuery({
    queryKey: ['fit', 'folder-record', install.id],
    queryFn: async () => (await loadRecord(install.id)) ?? null,
  })
  if (record.data === undefined) return null
  if (record.data !== null) return <InFolder install={install} record={record.data} />
  if (install.elsewhere !== null) return <ElsewhereLine install={install} />
  return <IntoFolder install={install} />
}

/** What another browser has put somewhere can only be noted to be gone. */
function ElsewhereLine({ install }: { install: InstallEntry }) {
  const name = install.elsewhere ?? ''
  const forget = useFolderAct(
    name,
    () => noteElsewhere(install.id, null),
    () => '',
  )
  return (
    <p className="text-13 text-quiet">
      It lies in "{name}", a folder of another computer or browser: it is looked after from there.{' '}
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

/** Does something with a folder, and says in one sentence how it went. */
function useFolderAct<Wish, Answer>(
  name: string,
  act: (wish: Wish) => Promise<Answer>,
  said: (answer: Answer) => string,
) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: act,
    onSuccess: (answer) => {
      const sentence = said(answer)
      if (sentence) toast(sentence)
    },
    onError: (error) => toast(sentenceOn(error, name), { tone: 'bad' }),
    onSettled: () => client.invalidateQueries({ queryKey: ['fit'] }),
  })
}

const loadFileOf = (installId: string) => (path: string) => loadInstallFile(installId, path)

function IntoFolder({ install }: { install: InstallEntry }) {
  const [picked, setPicked] = useState<{ folder: Folder; found: Found }>()
  const [answer, setAnswer] = useState<ConflictAnswer>('both')
  const [progress, setProgress] = useState<{ done: number; total: number }>()
  const name = picked?.folder.name ?? 'the folder'
  const look = useFolderAct(
    name,
    async () => {
      const folder = await pickFolder()
      if (!folder) return
      setPicked({ folder, found: await lookInto(folder, (await loadInstall(install.id)).files) })
    },
    () => '',
  )
  const put = useFolderAct(
    name,
    async ({ folder, found }: { folder: Folder; found: Found }) => {
      const { there, names, conflicts } = found
      if (conflicts.other.length > 0) await settleElsewhere(install.id, { answer, there, names })
      const { files } = await loadInstall(install.id)
      // under other names than were looked at
      const now = await lookInto(folder, files)
      const [inTheWay] = now.conflicts.other
      if (answer !== 'replace' && inTheWay !== undefined) throw new FolderChanged(inTheWay)
      await putInto({
        ...{ installId: install.id, folder, files, there: now.there, load: loadFileOf(install.id) },
        onProgress: (done, total) => setProgress({ done, total }),
      })
      await noteElsewhere(install.id, folder.name)
      return files.length
    },
    (count) => `${plural(count, 'file')} put into "${name}".`,
  )
  if (!canPickFolder())
    return <p className="text-13 text-quiet">This browser gives no folders: download the zip, and unpack it there.</p>
  return (
    <>
      {!picked && (
        <Button disabled={look.isPending} onClick={() => look.mutate(undefined)}>
          <FolderInput size={18} aria-hidden /> Into a folder of this computer
        </Button>
      )}
      {picked && (
        <div className="grid gap-2 rounded-4 border border-line p-3">
          <ConflictChoice conflicts={picked.found.conflicts} answer={answer} onAnswer={setAnswer} />
          <div className="flex flex-wrap items-center gap-2">
            <Button kind="primary" disabled={put.isPending} onClick={() => put.mutate(picked)}>
              Put them into "{picked.folder.name}"
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
      )}
    </>
  )
}

function InFolder({ install, record }: { install: InstallEntry; record: FolderRecord }) {
  const { name } = record
  const verify = useFolderAct(
    name,
    async () => {
      await askFor(record.folder)
      const drift = await driftOf(record)
      const { files } = await loadInstall(install.id)
      // the app is asked of what was written, where that is what lies there
      const isWhole = drift.length === 0 && findDrift(files, record.files).length === 0
      return { drift, read: isWhole ? await verifyInstall(install.id) : undefined }
    },
    () => '',
  )
  const repair = useFolderAct(
    name,
    async () => {
      await askFor(record.folder)
      const repaired = await repairIn(record, loadFileOf(install.id))
      verify.reset()
      return repaired
    },
    (count) => `${plural(count, 'file')} written again.`,
  )
  const renew = useFolderAct(
    name,
    async () => {
      await askFor(record.folder)
      const { names } = await lookInto(record.folder, record.files)
      await renewElsewhere(install.id, names)
      const { files } = await loadInstall(install.id)
      return bringUpToDate(install.id, record, files, loadFileOf(install.id))
    },
    ({ written, gone }) =>
      written + gone === 0 ? 'Nothing has changed since.' : `${plural(written, 'file')} written, ${gone} taken away.`,
  )
  const out = useFolderAct(
    name,
    () => takeOutHere(install),
    (stayed) =>
      stayed.length === 0
        ? `"${name}" is as it was.`
        : `Taken out of "${name}"; ${stayed.slice(0, 3).join(', ')}${stayed.length > 3 ? ` and ${stayed.length - 3} more` : ''} stayed, since somebody has changed it.`,
  )
  const isBusy = [verify, repair, renew, out].some(({ isPending }) => isPending)
  const drift = verify.data?.drift
  if (record.phase === 'writing')
    return (
      <>
        <p role="status" className="text-13 text-amber">
          Putting it into "{name}" was broken off in the middle.
        </p>
        <Button disabled={isBusy} onClick={() => out.mutate(undefined)}>
          Put "{name}" back as it was
        </Button>
      </>
    )
  return (
    <>
      <p className="text-13">
        {plural(record.files.length, 'file')} in "{name}", a folder of this computer
      </p>
      {drift && (
        <p role="status" className={`text-13 ${drift.length === 0 ? 'text-moss' : 'text-amber'}`}>
          {drift.length === 0
            ? 'Read back: every file is as it was written.'
            : drift.map(({ path, state }) => `${path} is ${state}`).join('; ')}
        </p>
      )}
      {verify.data?.read && <ReadBackLine read={verify.data.read} />}
      <div className="flex flex-wrap gap-2">
        <Button disabled={isBusy} onClick={() => verify.mutate(undefined)}>
          Verify
        </Button>
        {drift && drift.length > 0 && (
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
