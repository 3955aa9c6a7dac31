import { EDITION_NOTES_MAX_CHARS, type EditionPlan, LICENCE_TEXT_MAX_CHARS } from '@satchel/core/editions/plan'
import { useQuery } from '@tanstack/react-query'
import { TextArea } from '../../../components/field.tsx'
import { LicenceField } from '../../../components/licence-field.tsx'
import type { Choosable } from '../../../data/editions.ts'
import { licencesQuery } from '../../../data/licences.ts'

const OWN = 'own words'

type Props = { plan: EditionPlan; from: Choosable; onChange: (plan: EditionPlan) => void }

/** For which apps an edition is, in which files, under which licence, and what is said with it. */
export function GoesAlong({ plan, from, onChange }: Props) {
  const licences = useQuery(licencesQuery).data
  const chosen = plan.destinations ?? from.destinations.map(({ id }) => id)
  const toggle = (id: string) => {
    const next = chosen.includes(id) ? chosen.filter((each) => each !== id) : [...chosen, id]
    const isAll = from.destinations.every((each) => next.includes(each.id))
    onChange({ ...plan, destinations: isAll ? null : next })
  }
  return (
    <section aria-labelledby="goes-along" className="grid content-start gap-3">
      <h2 id="goes-along" className="font-title text-24">
        Files and words
      </h2>
      <fieldset className="grid gap-1">
        <legend className="pb-1 text-13 font-medium text-quiet">Made for</legend>
        {from.destinations.map(({ id, name }) => (
          <label key={id} className="flex items-center gap-2">
            <input type="checkbox" checked={chosen.includes(id)} onChange={() => toggle(id)} />
            {name}
          </label>
        ))}
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={plan.openFiles}
            onChange={() => onChange({ ...plan, openFiles: !plan.openFiles })}
          />
          any app: pictures and open brush files
        </label>
        {from.destinations.length === 0 && (
          <p className="text-13 text-quiet">Release {from.version} was made for no app in particular.</p>
        )}
      </fieldset>
      <LicenceField
        value={plan.licence}
        licences={licences}
        ownWords={OWN}
        none="that of the release"
        onChange={(licence) => onChange({ ...plan, licence, ...(licence === OWN ? {} : { licenceText: '' }) })}
      />
      {plan.licence === OWN && (
        <TextArea
          label="The licence in your words"
          rows={3}
          maxLength={LICENCE_TEXT_MAX_CHARS}
          value={plan.licenceText}
          onChange={(event) => onChange({ ...plan, licenceText: event.target.value })}
        />
      )}
      <TextArea
        label="What is said with it"
        hint="In the place of what is new in the release, which may name brushes that are left out."
        rows={3}
        maxLength={EDITION_NOTES_MAX_CHARS}
        value={plan.notes}
        onChange={(event) => onChange({ ...plan, notes: event.target.value })}
      />
    </section>
  )
}
