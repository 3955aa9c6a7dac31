import { takenBy } from '@satchel/core/editions/cut'
import type { EditionPlan } from '@satchel/core/editions/plan'
import type { Choosable } from '../../../data/editions.ts'

type Props = { plan: EditionPlan; from: Choosable; onChange: (plan: EditionPlan) => void }

/** Whether a setup card goes along, and what it keeps out of sight on the rack of whoever lays it out. */
export function SetupFields({ plan, from, onChange }: Props) {
  const { setup } = plan
  const taken = takenBy(plan, from)
  const sets = from.sets.filter(({ brushes }) => brushes.some((id) => taken.has(id)))
  const set = (next: EditionPlan['setup']) => onChange({ ...plan, setup: next })
  return (
    <section aria-labelledby="setup-of" className="grid content-start gap-2">
      <h2 id="setup-of" className="font-title text-24">
        Setup card
      </h2>
      <p className="text-13 text-quiet">
        For those who take it into a library of their own: the pocket above, and what is out of sight meanwhile. It is
        offered, and put back as it was when the class ends, or whenever they like.
      </p>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={Boolean(setup)}
          onChange={() => set(setup ? null : { hidden: [], hidesOthers: true })}
        />
        A setup card goes with it
      </label>
      {setup && (
        <fieldset className="grid gap-1 pl-6">
          <legend className="pb-1 text-13 font-medium text-quiet">Out of sight while it is laid out</legend>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={setup.hidesOthers}
              onChange={() => set({ ...setup, hidesOthers: !setup.hidesOthers })}
            />
            all other sets of theirs
          </label>
          {sets.map(({ name }) => (
            <label key={name} className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={setup.hidden.includes(name)}
                onChange={() =>
                  set({
                    ...setup,
                    hidden: setup.hidden.includes(name)
                      ? setup.hidden.filter((each) => each !== name)
                      : [...setup.hidden, name],
                  })
                }
              />
              {name}
            </label>
          ))}
        </fieldset>
      )}
    </section>
  )
}
