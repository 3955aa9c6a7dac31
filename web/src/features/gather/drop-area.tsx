import { useMutation } from '@tanstack/react-query'
import { FileArchive, FolderOpen, FolderSync, Package, Smartphone, Store } from 'lucide-react'
import { type ChangeEvent, type DragEvent, useRef, useState } from 'react'
import { Link } from 'react-router'
import { Button, buttonLook } from '../../components/button.tsx'
import { toastError } from '../../components/toasts.tsx'
import { loadParcel } from '../../data/gather.ts'
import { filesOf } from './upload.ts'

type Props = {
  onFiles: (files: { path: string; file: File }[]) => void
  /** Asked for photographs from a phone. */
  onPhone: () => void
  large: boolean
}

/** Takes files, folders and zips, by drop or by choosing. */
export function DropArea({ onFiles, onPhone, large }: Props) {
  const [over, setOver] = useState(false)
  const parcel = useMutation({ mutationFn: loadParcel, onSuccess: (file) => onFiles([file]), onError: toastError })
  const files = useRef<HTMLInputElement>(null)
  const folder = useRef<HTMLInputElement>(null)
  const drop = async (event: DragEvent) => {
    event.preventDefault()
    setOver(false)
    onFiles(await filesOf(event.nativeEvent))
  }
  const chosen = async (event: ChangeEvent<HTMLInputElement>) => {
    const input = event.currentTarget
    const found = await filesOf(event.nativeEvent)
    input.value = ''
    if (found.length > 0) onFiles(found)
  }
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping is for the pointer; the buttons inside do the same by keyboard
    <div
      data-testid="drop-area"
      onDragOver={(event) => {
        event.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      className={`grid justify-items-center gap-3 rounded-10 border-2 border-dashed px-6 text-center ${large ? 'py-16' : 'py-4'} ${over ? 'border-saddle bg-raised' : 'border-line bg-surface'}`}
    >
      {large && (
        <>
          <h2 className="font-title text-24">Lay brushes here</h2>
          <p className="max-w-prose text-quiet">
            Files, whole folders, zips with zips inside. Pictures, open brush files and Satchel packs become brushes;
            everything else is listed and left alone. A folder's name becomes its set. Nothing enters the library before
            you take it in.
          </p>
        </>
      )}
      <div className="flex flex-wrap items-center justify-center gap-2">
        {!large && <span className="text-quiet">More to gather? Drop it here, or</span>}
        <Button onClick={() => files.current?.click()}>
          <FileArchive size={18} aria-hidden /> Choose files
        </Button>
        <Button onClick={() => folder.current?.click()}>
          <FolderOpen size={18} aria-hidden /> Choose a folder
        </Button>
        <Button onClick={onPhone}>
          <Smartphone size={18} aria-hidden /> From a phone
        </Button>
        <Link to="/gather/followed" className={buttonLook()}>
          <FolderSync size={18} aria-hidden /> Followed folders
        </Link>
        <Link to="/gather/exchange" className={buttonLook()}>
          <Store size={18} aria-hidden /> Exchange
        </Link>
        {large && (
          <Button kind="quiet" disabled={parcel.isPending} onClick={() => parcel.mutate()}>
            <Package size={18} aria-hidden /> Try it with a parcel
          </Button>
        )}
      </div>
      <input ref={files} type="file" multiple hidden data-testid="choose-files" onChange={chosen} />
      <input
        ref={folder}
        type="file"
        multiple
        hidden
        data-testid="choose-folder"
        onChange={chosen}
        {...{ webkitdirectory: '' }}
      />
    </div>
  )
}
