import { missingFrom, namesSaid, takenBy } from '@satchel/core/editions/cut'
import type { EditionPlan } from '@satchel/core/editions/plan'
import { plural } from '../../../components/format.ts'
import type { Choosable } from '../../../data/editions.ts'
import { BrushTicks } from './brush-ticks.tsx'

type Props = { plan: EditionPlan; from: Choosable; onChange: (plan: EditionPlan) => void }

/** How many names of what is left out are written; more are counted. */
const NAMED = 24

/** Which brushes are in an edition: everything, or what is chosen by set, by tag or by hand; and what is left out. */
export function WhatsIn({ plan, from, onChange }: Props) {
  const taken = takenBy(plan, from)
  const left = from.brushes.filter(({ id }) => !taken.has(id))
  const missing = missingFrom(plan, from)
  const tags = [...new Set(from.brushes.flatMap((brush) => brush.tags))].sort()
  const choose = (all: boolean) =>
    onChange({
      ...plan,
      all,
      ...(all
        ? { sets: [], tags: [], brushes: [] }
        : { sets: from.sets.map(({ name }) => name), brushes: from.single }),
    })
  const toggle = (key: 'sets' | 'tags', name: string) =>
    onChange({
      ...plan,
      [key]: plan[key].includes(name) ? plan[key].filter((each) => each !== name) : [...plan[key], name],
    })
  return (
    <section aria-labelledby="whats-in" className="grid content-start gap-3">
      <h2 id="whats-in" className="font-title text-24">
        What is in it
      </h2>
      <div className="flex flex-wrap gap-x-5 gap-y-1" role="radiogroup" aria-label="What is in it">
        <label className="flex items-center gap-2">
          <input type="radio" name="what" checked={plan.all} onChange={() => choose(true)} />
          Everything of the pack, newer brushes too
        </label>
        <label className="flex items-center gap-2">
          <input type="radio" name="what" checked={!plan.all} onChange={() => choose(false)} />
          Only these sets, tags and brushes
        </label>
      </div>
      {!plan.all && (
        <div className="grid gap-2 rounded-6 border border-line p-3">
          <Chips
            label="Sets"
            names={from.sets.map(({ name }) => name)}
            chosen={plan.sets}
            onToggle={(name) => toggle('sets', name)}
          />
          <Chips label="Tags" names={tags} chosen={plan.tags} onToggle={(name) => toggle('tags', name)} />
        </div>
      )}
      <BrushTicks
        label="Brushes of this edition"
        from={from}
        isTicked={(id) => taken.has(id)}
        onTick={(ids, isTicked) => onChange(tick(plan, from, ids, isTicked))}
      />
      <p role="status">
        <strong className="measure">{taken.size}</strong> of {plural(from.brushes.length, 'brush', 'brushes')} of
        release <span className="measure">{from.version}</span>.
        {left.length > 0 && (
          <>
            {' '}
            Left out:{' '}
            {left
              .slice(0, NAMED)
              .map(({ name }) => name)
              .join(', ')}
            {left.length > NAMED && ` and ${left.length - NAMED} more`}.
          </>
        )}
      </p>
      {[...missing.sets, ...missing.tags].length > 0 && (
        <p className="text-13 text-amber">
          Not in this release:{' '}
          {[
            ...missing.sets.map((name) => `the set "${name}"`),
            ...missing.tags.map((name) => `the tag "${name}"`),
          ].join(', ')}
          .
        </p>
      )}
      <SaidOfLeft {...{ plan, from, taken }} />
    </section>
  )
}

/** What the help page says of brushes that not everybody gets. */
function SaidOfLeft({ plan, from, taken }: Omit<Props, 'onChange'> & { taken: ReadonlySet<string> }) {
  const held = new Set(plan.kit?.lessons.flatMap(({ brushes }) => brushes))
  const isKept = (id: string) => taken.has(id) && !held.has(id)
  const namesOf = (wanted: boolean) => from.brushes.filter(({ id }) => isKept(id) === wanted).map(({ name }) => name)
  const said = namesSaid(`${from.help}\n${plan.notes}`, namesOf(false), namesOf(true))
  if (said.length === 0) return null
  return (
    <p className="rounded-6 border border-amber bg-raised px-3 py-2 text-13">
      The help page or the notes name {said.slice(0, 5).join(', ')}, and whoever gets this reads them: say it otherwise
      where that is to stay a surprise.
    </p>
  )
}

/** Takes brushes in by hand, or leaves them out: what a set or a tag takes anyway needs no name. */
function tick(plan: EditionPlan, from: Choosable, ids: readonly string[], isTicked: boolean): EditionPlan {
  const those = new Set(ids)
  const without = plan.without.filter((id) => !those.has(id))
  if (!isTicked) {
    const brushes = plan.brushes.filter((id) => !those.has(id))
    const still = takenBy({ ...plan, brushes, without }, from)
    return { ...plan, brushes, without: [...without, ...ids.filter((id) => still.has(id))] }
  }
  const already = takenBy({ ...plan, without }, from)
  return { ...plan, without, brushes: [...plan.brushes, ...ids.filter((id) => !already.has(id))] }
}

type ChipsProps = {
  label: string
  names: readonly string[]
  chosen: readonly string[]
  onToggle: (name: string) => void
}

function Chips({ label, names, chosen, onToggle }: ChipsProps) {
  if (names.length === 0) return null
  return (
    <fieldset className="flex max-h-40 flex-wrap items-center gap-1.5 overflow-y-auto">
      <legend className="float-left mr-2 text-13 font-medium text-quiet">{label}</legend>
      {names.map((name) => (
        <button
          key={name}
          type="button"
          aria-pressed={chosen.includes(name)}
          onClick={() => onToggle(name)}
          className="rounded-4 border border-line bg-raised px-2 py-0.5 text-13 aria-pressed:border-saddle aria-pressed:font-medium"
        >
          <span aria-hidden>{chosen.includes(name) ? '✓ ' : ''}</span>
          {name}
        </button>
      ))}
    </fieldset>
  )
}
