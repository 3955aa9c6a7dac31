import type { Destination } from '@satchel/core/destinations/destination'
import { originOf } from '@satchel/core/loose-ends/references'
import { useQuery } from '@tanstack/react-query'
import { FolderSearch } from 'lucide-react'
import { Button } from '../../components/button.tsx'
import { LoadError, Loading } from '../../components/states.tsx'
import { toastError } from '../../components/toasts.tsx'
import type { Folder } from '../../real-folder/folder-files.ts'
import { findLoose, mendLoose, undoLoose } from '../../real-folder/loose-folder.ts'
import { canPickFolder, pickFolder } from '../../real-folder/pick-folder.ts'
import { LooseBody, noteOf } from './loose-body.tsx'

/** Has the person choose a folder of this computer to look through; absent where a browser gives none. */
export function PickLooseFolder({ onPick }: { onPick: (folder: Folder) => void }) {
  if (!canPickFolder()) return null
  const pick = () => pickFolder().then((folder) => folder && onPick(folder), toastError)
  return (
    <Button onClick={() => void pick()}>
      <FolderSearch size={18} aria-hidden /> A folder of this computer
    </Button>
  )
}

type Props = { folder: Folder; app: Pick<Destination, 'name' | 'grain' | 'files'>; onLeave: () => void }

/** The loose ends of a folder of this computer, whose settings are as an app writes them. */
export function LooseInFolder({ folder, app, onLeave }: Props) {
  const wanted = { folder, rule: { extension: app.files.settings ?? '', origin: originOf(app) } }
  const loose = useQuery({
    queryKey: ['fit', 'loose-folder', folder.name, wanted.rule.extension],
    queryFn: () => findLoose(wanted),
    gcTime: 0, // another folder may have the same name
  })
  const sure = loose.data?.ends.filter(({ isSure }) => isSure).length ?? 0
  return (
    <>
      <p className="mb-4 flex flex-wrap items-center gap-3 text-13 text-quiet">
        <span>
          In "{folder.name}", a folder of this computer, as {app.name} reads it
          {loose.data && `: ${noteOf(loose.data, sure)}`}
        </span>
        <button type="button" onClick={onLeave} className="text-saddle underline">
          Back to the simulated {app.name}
        </button>
      </p>
      {loose.isPending && <Loading what="references" />}
      {loose.isError && <LoadError error={loose.error} onRetry={() => void loose.refetch()} />}
      {loose.data && (
        <LooseBody
          {...{ sure, loose: loose.data }}
          none={
            loose.data.brushes === 0
              ? `Nothing in "${folder.name}" is a brush as ${app.name} writes it. Choose another folder, or another app above.`
              : `Every picture and every grain that a brush in "${folder.name}" names is there.`
          }
          onMend={(mending) => mendLoose(wanted, mending)}
          onUndo={(id) => undoLoose(folder, id)}
        />
      )}
    </>
  )
}
