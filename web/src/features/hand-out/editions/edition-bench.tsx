import { standingOf } from '@satchel/core/editions/lessons'
import { Eye } from 'lucide-react'
import { SaveTrouble } from '../../../ahead/save-trouble.tsx'
import { Button } from '../../../components/button.tsx'
import { TextField } from '../../../components/field.tsx'
import { plural } from '../../../components/format.ts'
import { Menu } from '../../../components/menu.tsx'
import { toastError } from '../../../components/toasts.tsx'
import { type Choosable, type Edition, lookAtEdition } from '../../../data/editions.ts'
import { Builds } from './builds.tsx'
import { ClassFolders } from './class-folders.tsx'
import { FixedSizes } from './fixed-sizes.tsx'
import { GoesAlong } from './goes-along.tsx'
import { Lessons } from './lessons.tsx'
import { SetupFields } from './setup-fields.tsx'
import { useEdition } from './use-edition.ts'
import { WhatsIn } from './whats-in.tsx'

type Props = { packId: string; edition: Edition; from: Choosable }

/** One edition: what is in it, what goes along, and, of a class kit, what opens when. */
export function EditionBench({ packId, edition, from }: Props) {
  const ahead = useEdition(packId, edition)
  const { name, plan } = ahead.value
  const set = (next: typeof plan) => ahead.change((before) => ({ ...before, plan: next }))
  const { kit } = plan
  const look = (at: string | null) =>
    void lookAtEdition(edition.id, at)
      .then((link) => window.open(link, '_blank', 'noopener'))
      .catch(toastError)
  const moments = kit ? standingOf(kit, new Date()) : []
  return (
    <div className="grid gap-8">
      <div className="sticky top-[52px] z-10 -mx-6 grid gap-2 border-b border-line bg-ground px-6 py-3">
        <div className="flex flex-wrap items-end gap-3">
          <div className="w-72">
            <TextField
              label="Name"
              value={name}
              onChange={(event) => ahead.change((before) => ({ ...before, name: event.target.value }))}
            />
          </div>
          <Button
            kind="primary"
            disabled={!ahead.isChanged || ahead.phase === 'saving' || ahead.phase === 'overtaken'}
            onClick={() => void ahead.save()}
          >
            Save
          </Button>
          {ahead.isChanged && ahead.phase !== 'overtaken' && (
            <Button kind="quiet" onClick={ahead.drop}>
              Give up changes
            </Button>
          )}
          <Menu
            label="At which moment to look"
            trigger={
              <Button disabled={ahead.isChanged}>
                <Eye size={18} aria-hidden /> See it as they will
              </Button>
            }
            items={[
              { label: 'As it is now', onSelect: () => look(null) },
              ...moments.map(({ lesson, opensAt }) => ({
                label: `When "${lesson.title}" has opened`,
                onSelect: () => look(opensAt.toISOString()),
              })),
            ]}
          />
          <p role="status" className="ml-auto py-1.5 text-13 text-quiet">
            {ahead.isChanged
              ? `Not saved yet: ${edition.handOuts === 0 ? 'nobody has it' : `${plural(edition.handOuts, 'link gives', 'links give')} it as it was`}.`
              : edition.handOuts === 0
                ? 'Nobody has it yet.'
                : `${plural(edition.handOuts, 'link gives', 'links give')} it.`}
          </p>
        </div>
        <SaveTrouble what="this edition" ahead={ahead} />
      </div>
      {kit && <Lessons kit={kit} from={from} onChange={(next) => set({ ...plan, kit: next })} />}
      <div className="grid gap-8 wide:grid-cols-[minmax(0,1.4fr)_minmax(0,1fr)]">
        <WhatsIn plan={plan} from={from} onChange={set} />
        <div className="grid content-start gap-8">
          <GoesAlong plan={plan} from={from} onChange={set} />
          <FixedSizes plan={plan} from={from} onChange={set} />
          <SetupFields plan={plan} from={from} onChange={set} />
          <Builds packId={packId} editionId={edition.id} />
          <ClassFolders editionId={edition.id} lastDay={edition.plan.kit?.lastDay ?? null} />
        </div>
      </div>
    </div>
  )
}
