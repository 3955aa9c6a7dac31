import { type DayCounts, tellDay } from '@satchel/core/followed/told'
import { format, formatDistanceToNowStrict, isToday, isYesterday, parseISO } from 'date-fns'
import { Folder, FolderX, Undo2 } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { formatCount, plural } from '../../components/format.ts'
import { toast, toastError } from '../../components/toasts.tsx'
import { endFollowing, type FollowedFolder } from '../../data/followed.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { lookNow, useFollowedHere } from '../../real-folder/follow-here.ts'
import { askToRead, findFollowedHere, forgetFollowed } from '../../real-folder/followed-here.ts'
import { Questions } from './questions.tsx'

type Props = { folder: FollowedFolder; onTakeBack: (id: string) => Promise<unknown> }

/** One followed folder: who looks at it, what is asked, what each day has brought, and what is missed. */
export function FollowedCard({ folder, onTakeBack }: Props) {
  const { name, files, brushes, reading, gone, refused, days, asked } = folder
  return (
    <section
      aria-label={name}
      className="grid grid-cols-[minmax(0,1fr)] gap-4 rounded-10 border border-line bg-surface p-4"
    >
      <div className="flex flex-wrap items-start justify-between gap-3">
        <div className="min-w-0">
          <h2 className="flex items-center gap-2 font-title text-20">
            <Folder size={18} aria-hidden className="shrink-0" />
            <span className="truncate">{name}</span>
          </h2>
          <p className="text-13 text-quiet">
            {plural(files, 'file')}, {plural(brushes, 'brush', 'brushes')}. <Looked folder={folder} />
          </p>
          <StateHere folder={folder} />
        </div>
        <EndButton folder={folder} />
      </div>
      {reading > 0 && (
        <p role="status" className="text-13 text-quiet">
          {plural(reading, 'file is', 'files are')} being read …
        </p>
      )}
      {asked.length > 0 && <Questions folderId={folder.id} asked={asked} />}
      {days.length > 0 ? (
        <ul aria-label="What each day has brought" className="grid">
          {days.map((day) => (
            <Day key={day.day} day={day} onTakeBack={onTakeBack} />
          ))}
        </ul>
      ) : (
        <p className="text-quiet">Nothing has changed in it yet.</p>
      )}
      {gone.length > 0 && (
        <details className="text-13">
          <summary className="cursor-pointer">
            Gone from the folder, their brushes stay: {formatCount(gone.length)}
          </summary>
          <ul className="mt-2 grid gap-1">
            {gone.map(({ path, brushId, brush }) => (
              <li key={`${path} ${brushId}`} className="flex flex-wrap gap-x-2">
                <span className="text-quiet">{path}</span>
                <Link to={`/tune/${brushId}`} className="underline">
                  {brush}
                </Link>
              </li>
            ))}
          </ul>
        </details>
      )}
      {refused.length > 0 && (
        <ul className="grid gap-1 text-13 text-madder">
          {refused.map(({ path, reason }) => (
            <li key={path}>
              {path}: {reason}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

function Looked({ folder: { by, person, lookedAt } }: Pick<Props, 'folder'>) {
  const who = by === 'page' ? `${person ?? 'Somebody'}’s browser` : `${person ?? 'Somebody'}’s program`
  if (lookedAt === null) return <>{who} has not looked at it yet.</>
  return (
    <>
      {who} looked at it{' '}
      <span className="whitespace-nowrap">{formatDistanceToNowStrict(new Date(lookedAt), { addSuffix: true })}.</span>
    </>
  )
}

/** Of a folder that this browser follows: whether it has to be given again, or what is wrong. */
function StateHere({ folder: { id } }: Pick<Props, 'folder'>) {
  const state = useFollowedHere(({ states }) => states[id])
  if (state?.is === 'fails') return <p className="text-13 text-madder">{state.why}</p>
  if (state?.is !== 'asks') return null
  const give = async () => {
    try {
      const here = await findFollowedHere(id)
      if (here && (await askToRead(here.folder))) lookNow()
    } catch (error) {
      toastError(error)
    }
  }
  return (
    <p className="mt-1 flex flex-wrap items-center gap-2 text-13">
      The browser wants to be asked again since you were here last.
      <Button onClick={() => void give()}>Look at it again</Button>
    </p>
  )
}

type DayOf = FollowedFolder['days'][number]

const dayWord = (day: string) => {
  const date = parseISO(day)
  if (isToday(date)) return 'Today'
  return isYesterday(date) ? 'Yesterday' : format(date, 'd MMM')
}

function Day({ day, onTakeBack }: { day: DayOf; onTakeBack: Props['onTakeBack'] }) {
  const [isBusy, setBusy] = useState(false)
  const refresh = useRefresh()
  const { actId, undoneAt } = day
  return (
    <li className="flex flex-wrap items-center justify-between gap-x-3 gap-y-1 border-b border-line py-2 last:border-b-0 sm:flex-nowrap">
      <span className="min-w-0">
        <span className="mr-2 inline-block min-w-20 font-semibold">{dayWord(day.day)}</span>
        {tellDay(day satisfies DayCounts)}
      </span>
      {actId && undoneAt && <span className="text-13 text-quiet">New pixels taken back</span>}
      {actId && !undoneAt && (
        <Button
          disabled={isBusy}
          aria-label={`Take back the new pixels of ${dayWord(day.day)}`}
          onClick={() => {
            setBusy(true)
            void onTakeBack(actId)
              .then(() => refresh('followed'))
              .finally(() => setBusy(false))
          }}
        >
          <Undo2 size={18} aria-hidden /> Take back
        </Button>
      )}
    </li>
  )
}

function EndButton({ folder: { id, name } }: Pick<Props, 'folder'>) {
  const [isAsked, setAsked] = useState(false)
  const refresh = useRefresh()
  const end = async () => {
    try {
      await endFollowing(id)
      await forgetFollowed(id)
      setAsked(false)
      await refresh('followed')
      toast(`"${name}" is followed no more; its brushes stay.`)
    } catch (error) {
      toastError(error)
    }
  }
  return (
    <>
      <Button aria-label={`Follow ${name} no more`} onClick={() => setAsked(true)}>
        <FolderX size={18} aria-hidden /> Follow no more
      </Button>
      <Dialog
        open={isAsked}
        onOpenChange={setAsked}
        title={`Follow "${name}" no more?`}
        description="Its brushes stay as they are, and so does the folder. Which file is of which brush is forgotten; where it is followed again, that is found by the pixels."
      >
        <div className="flex justify-end gap-2">
          <Button onClick={() => setAsked(false)}>Go on following</Button>
          <Button kind="primary" onClick={() => void end()}>
            Follow no more
          </Button>
        </div>
      </Dialog>
    </>
  )
}
