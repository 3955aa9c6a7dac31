import { takenBy } from '@satchel/core/editions/cut'
import { moveTerm, nextChange, nextFirstDay, standingOf } from '@satchel/core/editions/lessons'
import { wholePlan } from '@satchel/core/editions/plan'
import { MoreHorizontal, Plus } from 'lucide-react'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { Button } from '../../../components/button.tsx'
import { plural } from '../../../components/format.ts'
import { Menu, type MenuItem } from '../../../components/menu.tsx'
import { newUuid } from '../../../components/new-uuid.ts'
import {
  bringBackEdition,
  type Choosable,
  createEdition,
  dropEdition,
  type Edition,
  endEdition,
} from '../../../data/editions.ts'
import { changeHandOuts } from '../../../data/people.ts'
import { usePackChange } from '../use-pack-change.ts'
import { emptyKit } from './new-kit.ts'
import { NextTermDialog } from './next-term-dialog.tsx'

type Props = { packId: string; editions: readonly Edition[]; newest: Choosable | null }

/** How a pack is cut for those who get it: every edition and class kit of it. */
export function EditionsPage({ packId, editions, newest }: Props) {
  const change = usePackChange()
  const navigate = useNavigate()
  const [again, setAgain] = useState<Edition>()
  const open = (id: string) => void navigate(`/hand-out/${packId}/editions/${id}`)
  const make = async (name: string, plan: Edition['plan']) => {
    const made = await change(() => createEdition(packId, { name, plan }))
    if (made) open(made.id)
  }
  const menuOf = (edition: Edition): MenuItem[] => [
    { label: 'Copy it', onSelect: () => void make(`${edition.name}, copied`, edition.plan) },
    ...(edition.plan.kit && edition.plan.kit.lessons.length > 0
      ? [{ label: 'The same for the next term', takesFocus: true, onSelect: () => setAgain(edition) }]
      : []),
    {
      label: edition.plan.kit ? 'End the class' : 'End all its links',
      danger: true,
      disabled: edition.handOuts === 0,
      onSelect: () => void end(edition),
    },
    {
      label: 'Into the bin',
      danger: true,
      disabled: edition.handOuts > 0,
      onSelect: () =>
        void change(() => dropEdition(edition.id), {
          text: `"${edition.name}" is in the bin.`,
          undo: () => bringBackEdition(edition.id),
        }),
    },
  ]
  const end = async ({ id, name }: Edition) => {
    let before: { id: string; endsAt: string | null }[] = []
    await change(
      async () => {
        const ended = await endEdition(id)
        before = ended.before
        return ended
      },
      {
        text: ({ takenOut, failed }) =>
          [
            `The links of "${name}" have ended.`,
            ...(takenOut.length > 0 ? ['Its brushes were taken out of the apps here.'] : []),
            ...(failed.length > 0 ? [`Not taken out: ${failed.join(', ')}; look at them under Fit, Installs.`] : []),
          ].join(' '),
        undo: async () => (before.length > 0 ? changeHandOuts(packId, before) : undefined),
      },
    )
  }
  const count = editions.length + 1
  return (
    <div className="grid gap-4">
      <div className="flex flex-wrap gap-2">
        <Button kind="primary" disabled={!newest} onClick={() => void make(`Edition ${count}`, wholePlan())}>
          <Plus size={18} aria-hidden /> New edition
        </Button>
        <Button disabled={!newest} onClick={() => void make(`Class ${count}`, { ...wholePlan(), kit: emptyKit() })}>
          <Plus size={18} aria-hidden /> New class kit
        </Button>
      </div>
      {!newest && <p>Release the pack first; then it can be cut for those who get it.</p>}
      {newest && editions.length === 0 && (
        <p className="text-quiet">
          Everybody gets all of it so far. An edition leaves brushes out, fixes sizes, or is made for some apps alone; a
          class kit opens brushes lesson by lesson.
        </p>
      )}
      <ul aria-label="Editions" className="grid gap-2">
        {editions.map((edition) => (
          <li
            key={edition.id}
            className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 gap-y-1 rounded-10 border border-line bg-surface p-3"
          >
            <Link
              to={`/hand-out/${packId}/editions/${edition.id}`}
              className="truncate font-medium text-saddle underline underline-offset-2"
            >
              {edition.name}
            </Link>
            <Menu
              label={`${edition.name}: what to do`}
              trigger={
                <Button kind="quiet" aria-label={`More for ${edition.name}`}>
                  <MoreHorizontal size={18} aria-hidden />
                </Button>
              }
              items={menuOf(edition)}
            />
            <p className="col-span-2 text-13 text-quiet">
              {newest && saidOf(edition, newest)}
              {edition.handOuts === 0
                ? ' Nobody has it.'
                : ` ${plural(edition.handOuts, 'link gives', 'links give')} it.`}
            </p>
          </li>
        ))}
      </ul>
      {again?.plan.kit && (
        <NextTermDialog
          name={again.name}
          first={nextFirstDay(again.plan.kit, new Date())}
          onClose={() => setAgain(undefined)}
          onMake={(name, firstDay) => make(name, moveTerm(again.plan, firstDay, newUuid))}
        />
      )}
    </div>
  )
}

/** How much is in it and, of a class, how far it is. */
function saidOf({ plan }: Edition, newest: Choosable): string {
  const taken = takenBy(plan, newest).size
  const share = `${taken} of ${plural(newest.brushes.length, 'brush', 'brushes')}.`
  const { kit } = plan
  if (!kit) return share
  const now = new Date()
  const standing = standingOf(kit, now)
  const done = standing.filter(({ state }) => state !== 'to come').length
  const next = nextChange(kit, now)
  const when = next
    ? ` Next change ${next.toLocaleString('en-GB', { timeZone: kit.zone, dateStyle: 'medium', timeStyle: 'short' })}, ${kit.zone}.`
    : ''
  return `${share} A class: ${done} of ${plural(standing.length, 'lesson')} opened.${when}`
}
