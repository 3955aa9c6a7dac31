import { useState } from 'react'
import { Link } from 'react-router'
import type { useAct } from '../../acts/use-act.ts'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import { toastError } from '../../components/toasts.tsx'
import { askAgain, callNotSame, keepBoth, keepOne, type SameGroup, type SameMember } from '../../data/same-marks.ts'
import { sayUses } from './uses.ts'

type Props = { group: SameGroup; doing: ReturnType<typeof useAct> }

/** Brushes whose marks are alike, under one another: which of them is kept is chosen here, and what becomes of the others. */
export function SameGroupView({ group: { members, more }, doing: { act, refresh } }: Props) {
  const [head, ...others] = members
  const [keptId, setKept] = useState(head?.id)
  const [said, setSaid] = useState<ReadonlyMap<string, boolean>>(new Map())
  if (!head) return null
  const kept = members.find(({ id }) => id === keptId) ?? head
  // of those that are the same in all nothing is lost; whoever paints in another way goes only when it is said
  const isWhole = ({ kind }: SameMember) => kind === null || kind === 'whole'
  const goes = (member: SameMember) => said.get(member.id) ?? (isWhole(member) && isWhole(kept))
  const gone = members.filter((member) => member.id !== kept.id && !member.isKept && goes(member))
  const ids = gone.map(({ id }) => id)
  const open = others.filter(({ isKept }) => !isKept).map(({ id }) => id)
  const decided = others.filter(({ isKept }) => isKept).map(({ id }) => id)
  return (
    <article aria-label={head.name} className="grid gap-3 px-4 py-4">
      <ul className="grid gap-1" aria-label={`Brushes like ${head.name}`}>
        {members.map((member) => (
          <li key={member.id}>
            <MemberLine
              member={member}
              group={head.id}
              isFirst={member.id === head.id}
              isChosen={member.id === kept.id}
              goes={gone.includes(member)}
              onKeep={() => setKept(member.id)}
              onGo={(goes) => setSaid(new Map(said).set(member.id, goes))}
              onNotSame={() => void act(() => callNotSame([member.id]))}
            />
          </li>
        ))}
      </ul>
      {more > 0 && <p className="text-13 text-quiet">And {plural(more, 'more brush', 'more brushes')} like it.</p>}
      <div className="flex flex-wrap items-center gap-2">
        {ids.length === 0 && open.length > 0 && (
          <span className="text-13 text-quiet">Say which of them goes, and which is kept instead.</span>
        )}
        {ids.length > 0 && (
          <>
            <Button kind="primary" onClick={() => void act(() => keepOne(kept.id, ids))}>
              Keep “{kept.name}” instead of {ids.length === 1 ? `“${gone[0]?.name}”` : `the other ${ids.length}`}
            </Button>
            <Button onClick={() => void act(() => keepOne(kept.id, ids, true))}>
              Make {ids.length === 1 ? 'both' : `all ${ids.length + 1}`} frames of “{kept.name}”
            </Button>
          </>
        )}
        {open.length > 0 && (
          <Button kind="quiet" onClick={() => void act(() => keepBoth({ ids: open }))}>
            Keep {open.length === 1 && others.length === 1 ? 'both' : 'all of them'}
          </Button>
        )}
        {decided.length > 0 && (
          <Button
            kind="quiet"
            onClick={() => {
              void askAgain(decided).then(refresh).catch(toastError)
            }}
          >
            Ask about {decided.length === 1 ? 'it' : 'these'} again
          </Button>
        )}
      </div>
    </article>
  )
}

type LineProps = {
  member: SameMember
  group: string
  isFirst: boolean
  isChosen: boolean
  goes: boolean
  onKeep: () => void
  onGo: (goes: boolean) => void
  onNotSame: () => void
}

function MemberLine({ member, group, isFirst, isChosen, goes, onKeep, onGo, onNotSame }: LineProps) {
  const { id, name, maker, width, height, frames, version, revision, sizePx, said, uses, kind, isKept } = member
  return (
    <div
      className={`grid grid-cols-[64px_minmax(0,1fr)] items-center gap-x-4 gap-y-1 rounded-4 px-2 py-2 md:grid-cols-[64px_minmax(0,1fr)_minmax(0,260px)_minmax(0,1.2fr)_92px] ${isChosen ? 'bg-raised shadow-[inset_3px_0_0_var(--moss)]' : ''}`}
    >
      <img
        src={`/api/brushes/${id}/tip.png?v=${revision}`}
        alt={`The mark of ${name}`}
        loading="lazy"
        width={64}
        height={64}
        className="well h-16 w-16 object-contain p-0.5"
      />
      <span className="min-w-0">
        <Link to={`/tune/${id}`} className="block truncate font-medium underline-offset-2 hover:underline">
          {name}
        </Link>
        <span className="block truncate text-13 text-quiet">{maker || 'no maker'}</span>
        <span className="measure block text-12 text-quiet">
          {width} × {height} px{frames > 1 && `, ${frames} frames`}, paints at {Math.round(sizePx)} px
        </span>
      </span>
      <img
        src={`/api/brushes/${id}/stroke.png?size=line&v=${version}-${revision}`}
        alt={`The stroke of ${name}`}
        loading="lazy"
        width={260}
        height={52}
        className="well col-span-2 h-[52px] w-full object-contain md:col-span-1"
      />
      <span className="col-span-2 min-w-0 text-13 md:col-span-1">
        <span className={`block ${kind === 'shape' ? 'text-amber' : ''}`}>
          {isFirst ? 'What the group is named after' : said}
          {isKept && <span className="text-moss">; kept beside it</span>}
        </span>
        <span className="block text-quiet">{sayUses(uses)}</span>
      </span>
      <span className="col-span-2 flex flex-wrap items-center gap-x-3 gap-y-1 text-13 md:col-span-1 md:grid md:justify-items-start">
        <label className="inline-flex min-h-6 items-center gap-1.5">
          <input
            type="radio"
            name={`kept of ${group}`}
            checked={isChosen}
            onChange={onKeep}
            aria-label={`Keep ${name}`}
          />
          keep this
        </label>
        {!isChosen && !isKept && (
          <label className="inline-flex min-h-6 items-center gap-1.5">
            <input
              type="checkbox"
              checked={goes}
              onChange={(event) => onGo(event.target.checked)}
              aria-label={`${name} goes`}
            />
            goes
          </label>
        )}
        {!isFirst && !isKept && (kind === 'mark' || kind === 'shape') && (
          <button
            type="button"
            onClick={onNotSame}
            aria-label={`${name} is not the same`}
            className="min-h-6 text-quiet underline underline-offset-2 hover:text-ink"
          >
            not the same
          </button>
        )}
      </span>
    </div>
  )
}
