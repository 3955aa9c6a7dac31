import { useQuery } from '@tanstack/react-query'
import { Dialog } from '../../components/dialog.tsx'
import { formatBytes, formatCount } from '../../components/format.ts'
import { LoadError, Loading } from '../../components/states.tsx'
import { type Room, roomQuery } from '../../data/account.ts'

/** What is counted, one row a part: what it is called, how its numbers are written, and how one gets room again. */
const PARTS: Record<keyof Room, { called: string; write: (value: number) => string; mend: string }> = {
  bytes: {
    called: 'Files of all brushes, sources and releases',
    write: formatBytes,
    mend: 'Emptying the bins makes room; whoever runs the server can give more.',
  },
  uploads: {
    called: 'Files that have come in part',
    write: formatCount,
    mend: 'Send them to their end in Gather, or let them go there.',
  },
  uploadBytes: {
    called: 'What those will be together',
    write: formatBytes,
    mend: 'Send them to their end in Gather, or let them go there.',
  },
  phoneLinks: {
    called: 'Open links for phones',
    write: formatCount,
    mend: 'A link ends with its dialog, or after ten minutes.',
  },
  jobsWaiting: {
    called: 'Tasks that wait',
    write: formatCount,
    mend: 'The ring at the top shows them; those that are not wanted can be stopped there.',
  },
}
/** From which share on it is told how one gets room again. */
const NEARLY_FULL = 0.8

/** What the workspace takes up of what it may. */
export function RoomDialog({ workspace, onClose }: { workspace: string; onClose: () => void }) {
  const room = useQuery(roomQuery)
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Room"
      description={`What ${workspace} takes up of what it may. What has no room is refused with a sentence, and nothing is lost.`}
    >
      {room.isPending && <Loading what="the room" />}
      {room.isError && <LoadError error={room.error} onRetry={() => void room.refetch()} />}
      {room.data && (
        <ul className="grid gap-4">
          {(Object.keys(PARTS) as (keyof Room)[]).map((part) => (
            <Part key={part} part={part} {...room.data[part]} />
          ))}
        </ul>
      )}
    </Dialog>
  )
}

function Part({ part, taken, most }: { part: keyof Room; taken: number; most: number }) {
  const { called, write, mend } = PARTS[part]
  const share = Math.min(1, taken / most)
  const isNearlyFull = share >= NEARLY_FULL
  return (
    <li className="grid gap-1">
      <div className="flex items-baseline justify-between gap-3">
        <span>{called}</span>
        <span className="measure shrink-0 text-13 text-quiet">
          {write(taken)} of {write(most)}
        </span>
      </div>
      <meter aria-label={called} min={0} max={most} value={taken} className="sr-only" />
      <div aria-hidden className="h-1.5 overflow-hidden rounded-4 bg-ground">
        <div
          className={`h-full ${isNearlyFull ? 'bg-amber' : 'bg-saddle'}`}
          style={{ width: `${Math.max(taken > 0 ? 1 : 0, 100 * share)}%` }}
        />
      </div>
      {isNearlyFull && <p className="text-13 text-amber">{mend}</p>}
    </li>
  )
}
