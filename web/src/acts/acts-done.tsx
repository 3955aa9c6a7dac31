import { useQuery } from '@tanstack/react-query'
import { Undo2 } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../components/button.tsx'
import { Dialog } from '../components/dialog.tsx'
import { formatMoment } from '../components/format.ts'
import { LoadError, Loading } from '../components/states.tsx'
import { actsQuery } from '../data/acts.ts'

/** What was done to many brushes lately, each of it to be taken back. */
export function ActsDone({ onTakeBack }: { onTakeBack: (id: string) => Promise<unknown> }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Button onClick={() => setOpen(true)}>
        <Undo2 size={18} aria-hidden /> Done lately
      </Button>
      <Dialog
        open={open}
        onOpenChange={setOpen}
        shape="side"
        title="Done lately"
        description="Each was one step, and is taken back as one. What was changed there since stays."
      >
        {open && <List onTakeBack={onTakeBack} />}
      </Dialog>
    </>
  )
}

function List({ onTakeBack }: { onTakeBack: (id: string) => Promise<unknown> }) {
  const acts = useQuery(actsQuery)
  const [backId, setBack] = useState<string>()
  if (acts.isPending) return <Loading what="what was done" />
  if (acts.isError) return <LoadError error={acts.error} onRetry={() => void acts.refetch()} />
  if (acts.data.acts.length === 0) return <p className="text-quiet">Nothing that could be taken back.</p>
  return (
    <ul className="grid gap-3">
      {acts.data.acts.map(({ id, said, createdAt }) => (
        <li key={id} className="grid gap-1 border-b border-line pb-3">
          <span>{said}</span>
          <span className="flex items-center justify-between gap-2 text-13 text-quiet">
            {formatMoment(createdAt)}
            <Button
              disabled={backId !== undefined}
              onClick={() => {
                setBack(id)
                void onTakeBack(id).finally(() => setBack(undefined))
              }}
            >
              Take back
            </Button>
          </span>
        </li>
      ))}
    </ul>
  )
}
