import { useQuery } from '@tanstack/react-query'
import { SelectField } from '../../components/field.tsx'
import { destinationsQuery } from '../../data/fit.ts'
import { type Pack, updatePack } from '../../data/packs.ts'
import { usePackChange } from './use-pack-change.ts'

const LIMITS = [0, 40, 50, 60, 70, 80, 90, 95]

/** The apps a pack is meant for: its check list looks at how brushes arrive there. */
export function MeantFor({ pack }: { pack: Pack }) {
  const destinations = useQuery(destinationsQuery).data?.destinations ?? []
  const change = usePackChange()
  const chosen = pack.destinationIds
  const toggle = (id: string) => {
    const next = chosen.includes(id) ? chosen.filter((each) => each !== id) : [...chosen, id]
    void change(() => updatePack(pack.id, { destinationIds: next }))
  }
  return (
    <fieldset className="grid gap-1">
      <legend className="pb-1 text-13 font-medium text-quiet">Meant for these apps</legend>
      {destinations.map(({ id, description }) => (
        <label key={id} className="flex items-center gap-2">
          <input type="checkbox" checked={chosen.includes(id)} onChange={() => toggle(id)} className="h-4 w-4" />
          {description.name} <span className="measure text-quiet">{description.appVersion}</span>
        </label>
      ))}
      {chosen.length > 0 && (
        <SelectField
          label="There each brush shall be like itself by"
          value={String(pack.leastLikeness)}
          choices={LIMITS.map((limit) => ({
            value: String(limit),
            label: limit === 0 ? 'any figure' : `${limit} of 100`,
          }))}
          onChange={(event) => void change(() => updatePack(pack.id, { leastLikeness: Number(event.target.value) }))}
        />
      )}
    </fieldset>
  )
}
