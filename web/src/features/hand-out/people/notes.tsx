import { useQuery } from '@tanstack/react-query'
import { format } from 'date-fns'
import { useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { LoadError } from '../../../components/states.tsx'
import { markNote, notesQuery } from '../../../data/people.ts'
import { usePackChange } from '../use-pack-change.ts'

/** What people with links wrote: what does not work, in which app. Those that are done with are folded away. */
export function PeopleNotes({ packId }: { packId: string }) {
  const notes = useQuery(notesQuery(packId))
  const change = usePackChange()
  const [isAll, setAll] = useState(false)
  if (notes.isError) return <LoadError error={notes.error} onRetry={() => void notes.refetch()} />
  if (!notes.data || notes.data.length === 0) return null
  const open = notes.data.filter(({ readAt }) => readAt === null)
  const done = notes.data.length - open.length
  const mark = (id: string, isRead: boolean) =>
    change(() => markNote(id, isRead), isRead ? { text: 'Done with.', undo: () => markNote(id, false) } : undefined)
  return (
    <section aria-labelledby="notes" className="grid gap-2">
      <h2 id="notes" className="font-title text-24">
        What they write
      </h2>
      <ul className="grid gap-2">
        {(isAll ? notes.data : open).map(({ id, name, app, version, text, createdAt, readAt }) => (
          <li key={id} className="grid grid-cols-[1fr_auto] gap-3 rounded-10 border border-line bg-surface p-3">
            <div className="min-w-0">
              <p className="text-13 text-quiet">
                <span className="font-medium text-ink">{name}</span>, of{' '}
                <span className="measure">{version ?? 'a release that is gone'}</span>
                {app !== '' && `, in ${app}`}, {format(new Date(createdAt), 'd MMM yyyy, HH:mm')}
              </p>
              <p className="whitespace-pre-line break-words">{text}</p>
            </div>
            <Button onClick={() => void mark(id, readAt === null)}>
              {readAt === null ? 'Done with' : 'Open again'}
            </Button>
          </li>
        ))}
      </ul>
      {done > 0 && (
        <div>
          <Button kind="quiet" onClick={() => setAll(!isAll)}>
            {isAll ? 'Fold those away that are done with' : `Show ${done} that ${done === 1 ? 'is' : 'are'} done with`}
          </Button>
        </div>
      )}
    </section>
  )
}
