import { useQuery } from '@tanstack/react-query'
import { FileUp, Library } from 'lucide-react'
import { useRef, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { formatBytes, plural } from '../../components/format.ts'
import { LoadError, Loading } from '../../components/states.tsx'
import { giveLibraryBack, wholeLibraryQuery } from '../../data/account.ts'
import { jobsQuery } from '../../data/jobs.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { useWrapping } from '../../parcels/wrapping.ts'

type Props = { workspace: string; isOwner: boolean; onClose: () => void }

/** Everything at once: saved as one file, and given back where there is nothing yet. */
export function LibraryDialog({ workspace, isOwner, onClose }: Props) {
  const library = useQuery(wholeLibraryQuery)
  const wrap = useWrapping((state) => state.wrap)
  const save = () => {
    onClose()
    wrap({ kind: 'library' })
  }
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="The whole library"
      description={`Everything of ${workspace} as one file: to keep it elsewhere, or to go on with it on another server. For a brush, a set or a pack there are files of their own.`}
    >
      {library.isPending && <Loading what="the library" />}
      {library.isError && <LoadError error={library.error} onRetry={() => void library.refetch()} />}
      {library.data && (
        <>
          <p>
            {[
              plural(library.data.brushes, 'brush', 'brushes'),
              plural(library.data.sets, 'set'),
              plural(library.data.sources, 'source'),
              plural(library.data.packs, 'pack'),
            ].join(', ')}
            .
          </p>
          {isOwner ? (
            <Button kind="primary" disabled={library.data.isEmpty} onClick={save}>
              <Library size={18} aria-hidden /> Save the whole library
            </Button>
          ) : (
            <p className="text-quiet">The owner of the workspace can save all of it as one file.</p>
          )}
          <h3 className="border-t border-line pt-3 font-medium">Give a library back</h3>
          {library.data.isEmpty && isOwner ? (
            <GiveBack onClose={onClose} />
          ) : (
            <p className="text-quiet">
              {library.data.isEmpty
                ? 'The owner of the workspace does this.'
                : 'This library is not empty. Drop a library file into Gather: its brushes and sets come one by one.'}
            </p>
          )}
        </>
      )}
    </Dialog>
  )
}

function GiveBack({ onClose }: { onClose: () => void }) {
  const refresh = useRefresh()
  const input = useRef<HTMLInputElement>(null)
  const [sending, setSending] = useState<File>()
  const [why, setWhy] = useState<string>()
  const give = async (file: File | undefined) => {
    if (!file) return
    setWhy(undefined)
    setSending(file)
    try {
      await giveLibraryBack(file)
      await refresh(jobsQuery.queryKey)
      onClose()
    } catch (error) {
      setWhy(error instanceof Error ? error.message : String(error))
    } finally {
      setSending(undefined)
    }
  }
  return (
    <>
      <p className="text-quiet">
        A file that was saved from a whole library comes back as it was: versions, sources, packs, releases and all. The
        ring at the top shows how far it is.
      </p>
      {why !== undefined && (
        <p role="alert" className="text-madder">
          {why}
        </p>
      )}
      <input
        ref={input}
        type="file"
        accept=".zip"
        aria-label="A library file"
        className="sr-only"
        onChange={(event) => void give(event.target.files?.[0])}
      />
      <Button disabled={sending !== undefined} onClick={() => input.current?.click()}>
        <FileUp size={18} aria-hidden />
        {sending ? `Sending ${sending.name}, ${formatBytes(sending.size)}` : 'Choose a library file'}
      </Button>
    </>
  )
}
