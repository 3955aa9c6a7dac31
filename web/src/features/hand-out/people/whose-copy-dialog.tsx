import type { CopyMark } from '@satchel/core/pack/issued/mark'
import { format } from 'date-fns'
import { FileSearch } from 'lucide-react'
import { type DragEvent, useEffect, useRef, useState } from 'react'
import { Link } from 'react-router'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { plural } from '../../../components/format.ts'
import { type KnownCopy, whoseCopies } from '../../../data/copies.ts'
import { openCopiesBench } from '../../../workers/copies/copies-bench.ts'

const day = (at: string) => format(new Date(at), 'd MMM yyyy')

/** Files that are looked into at once. */
const FILES_MAX = 20

type Found = { mark: CopyMark; known: KnownCopy }
/** What came of a file. */
type Told = { name: string; found: Found[]; looked: number; problem?: string }

/** Drop a download, or one file of it, and see whom it was issued to. Nothing of the file leaves the browser but the mark. */
export function WhoseCopyDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title="Whose copy is this?"
      description="Each copy says whom it was issued to. Show a download, or one file of it, whatever it is called by now. The file stays on this machine: only what it says is looked up."
    >
      <Look onGo={onClose} />
    </Dialog>
  )
}

/** @param onGo Told that a page behind this was asked for. */
function Look({ onGo }: { onGo: () => void }) {
  const input = useRef<HTMLInputElement>(null)
  const bench = useRef<ReturnType<typeof openCopiesBench>>(undefined)
  const [looking, setLooking] = useState<string>()
  const [told, setTold] = useState<Told[]>([])
  const [isOver, setOver] = useState(false)
  useEffect(() => () => bench.current?.close(), [])
  const look = async (files: readonly File[]) => {
    setTold([])
    bench.current ??= openCopiesBench()
    for (const file of files.slice(0, FILES_MAX)) {
      setLooking(file.name)
      const one = await lookInto(bench.current, file)
      setTold((before) => [...before, one])
    }
    setLooking(undefined)
  }
  const drop = (event: DragEvent) => {
    event.preventDefault()
    setOver(false)
    void look([...event.dataTransfer.files])
  }
  return (
    <div className="grid gap-4">
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the button in it is the way by keys */}
      <div
        className={`grid justify-items-center gap-2 rounded-10 border border-dashed p-6 text-center ${isOver ? 'border-saddle bg-raised' : 'border-line'}`}
        onDragOver={(event) => {
          event.preventDefault()
          setOver(true)
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
      >
        <p className="text-quiet">Drop it here, or</p>
        <input
          ref={input}
          type="file"
          multiple
          aria-label="A copy"
          className="sr-only"
          tabIndex={-1}
          onChange={(event) => {
            void look([...(event.target.files ?? [])])
            event.target.value = ''
          }}
        />
        <Button disabled={looking !== undefined} onClick={() => input.current?.click()}>
          <FileSearch size={18} aria-hidden /> Choose files
        </Button>
      </div>
      <div role="status" className="grid gap-3">
        {told.map((each, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: two files may have one name, and their order stays
          <OneFile key={i} {...each} onGo={onGo} />
        ))}
        {looking !== undefined && <p>Looking into {looking} …</p>}
      </div>
    </div>
  )
}

async function lookInto(bench: ReturnType<typeof openCopiesBench>, file: File): Promise<Told> {
  try {
    const { marks, looked } = await bench.ask('find', { file })
    const known = marks.length > 0 ? await whoseCopies(marks) : []
    const found = marks.flatMap((mark, i) => {
      const one = known[i]
      return one ? [{ mark, known: one }] : []
    })
    return { name: file.name, found, looked }
  } catch (error) {
    return { name: file.name, found: [], looked: 0, problem: error instanceof Error ? error.message : String(error) }
  }
}

function OneFile({ name, found, looked, problem, onGo }: Told & { onGo: () => void }) {
  return (
    <section aria-label={name} className="grid gap-2 rounded-10 border border-line p-3">
      <h3 className="break-words font-bold">{name}</h3>
      {problem !== undefined && <p className="text-madder">{problem}</p>}
      {problem === undefined && found.length === 0 && (
        <p>
          It does not say. {plural(looked, 'file')} in it {looked === 1 ? 'was' : 'were'} looked into. Open brush files
          have no place for it, and what was released before copies were marked says nothing.
        </p>
      )}
      {found.length > 1 && <p className="text-madder">Files of several copies lie in it together:</p>}
      {found.map((each) => (
        <Copy key={JSON.stringify(each.mark)} {...each} onGo={onGo} />
      ))}
    </section>
  )
}

function Copy({ mark, known: { handOut, isGenuine }, onGo }: Found & { onGo: () => void }) {
  if (!handOut)
    return (
      <p>
        It says <strong>{mark.to}</strong>, of {mark.of}. No hand-out of this workspace is meant: another one issued it,
        or somebody made it up.
      </p>
    )
  return (
    <div className="grid gap-1">
      <p>
        Issued to <strong>{handOut.name}</strong>
        {handOut.email && ` (${handOut.email})`}, {mark.of}.
      </p>
      <p className="text-13 text-quiet">
        Handed out on {day(handOut.createdAt)}, fetched {plural(handOut.fetched, 'time')}
        {handOut.withdrawnAt && `, withdrawn on ${day(handOut.withdrawnAt)}`}.{' '}
        <Link
          onClick={onGo}
          className="text-saddle underline underline-offset-2"
          to={`/hand-out/${handOut.packId}/people`}
        >
          People of {handOut.title}
        </Link>
      </p>
      {!isGenuine && (
        <p className="text-madder">
          What it says was changed since: the signature does not fit. It may have been taken from this hand-out, or put
          there to blame somebody.
        </p>
      )}
    </div>
  )
}
