import { FOUND_PARTS, type PartName, RECIPE_PARTS, type RecipePart } from '@satchel/core/brush/parts'
import { BRUSH_IS, BRUSH_IS_NAMES } from '@satchel/core/forms/brush-filter-words'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { SelectField, TextField } from '../../../components/field.tsx'
import { plural } from '../../../components/format.ts'
import type { Filter, Sort } from '../../../data/filter.ts'
import { destinationsQuery } from '../../../data/fit.ts'
import { keepSearch } from '../../../data/kept-searches.ts'
import { brushCountQuery } from '../../../data/library.ts'
import { sourcesQuery } from '../../../data/sources.ts'
import { useLibraryChange } from '../use-library-change.ts'
import { isOf, namesIn, splitFilter } from './filter.ts'

type Props = {
  filter: Filter
  sort: Sort
  change: (next: Record<string, string | undefined>) => void
  onClose: () => void
}

/** All else that brushes can be found by; and keeping what was looked for. */
export default function MoreFilters({ filter, sort, change, onClose }: Props) {
  const destinations = useQuery(destinationsQuery).data?.destinations ?? []
  const sources = useQuery(sourcesQuery(false)).data?.sources ?? []
  const count = useQuery(brushCountQuery(filter)).data?.count
  const [usesAtFirst] = useState(filter.uses !== undefined)
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      shape="side"
      title="Find by more"
      description={
        count === undefined ? 'What is chosen here holds at once.' : `${plural(count, 'brush', 'brushes')} found.`
      }
    >
      <Boxes
        title="Brushes"
        boxes={BRUSH_IS_NAMES.map((name) => ({ name, label: BRUSH_IS[name] }))}
        chosen={isOf(filter)}
        onChosen={(is) => change({ is })}
      />
      <details open={usesAtFirst} className="group">
        <summary className="cursor-pointer text-13 font-medium text-quiet">Parts of the recipe that they use</summary>
        <div className="mt-2">
          <Boxes
            title="Brushes that use"
            boxes={FOUND_PARTS.map((name) => ({ name, label: calledOf(name) }))}
            chosen={namesIn(filter.uses)}
            onChosen={(uses) => change({ uses })}
          />
        </div>
      </details>
      <SelectField
        label="How it paints in"
        value={filter.fitAt ?? ''}
        choices={[
          { value: '', label: 'any app' },
          ...destinations.map(({ id, description }) => ({ value: id, label: description.name })),
        ]}
        onChange={({ target: { value } }) =>
          change(value ? { fitAt: value } : { fitAt: undefined, fitFrom: undefined, fitTo: undefined })
        }
      />
      {filter.fitAt && (
        <div className="grid grid-cols-2 gap-3">
          <Share label="At least as like, of 100" value={filter.fitFrom} onChange={(fitFrom) => change({ fitFrom })} />
          <Share label="At most as like, of 100" value={filter.fitTo} onChange={(fitTo) => change({ fitTo })} />
          <p className="col-span-2 text-13 text-quiet">Brushes that were not measured there yet are left out.</p>
        </div>
      )}
      <SelectField
        label="Made of the source"
        value={filter.sourceId ?? ''}
        choices={[{ value: '', label: 'any, or none' }, ...sources.map(({ id, name }) => ({ value: id, label: name }))]}
        onChange={({ target: { value } }) => change({ sourceId: value || undefined })}
      />
      <p>
        <Link to="/sort/looks-like" className="text-saddle underline underline-offset-2">
          Look for what looks like a picture or a drawing
        </Link>
      </p>
      <KeepSearch filter={filter} sort={sort} onKept={onClose} />
    </Dialog>
  )
}

/** Names of which any may be chosen, as they stand in the address: with commas between, none at all where none is. */
function Boxes({
  title,
  boxes,
  chosen,
  onChosen,
}: {
  title: string
  boxes: readonly { name: string; label: string }[]
  chosen: readonly string[]
  onChosen: (names: string | undefined) => void
}) {
  const toggle = (name: string) => {
    const next = chosen.includes(name) ? chosen.filter((each) => each !== name) : [...chosen, name]
    onChosen(next.length > 0 ? next.join(',') : undefined)
  }
  return (
    <fieldset className="grid grid-cols-2 gap-x-3 gap-y-1.5">
      <legend className="mb-1 text-13 font-medium text-quiet">{title}</legend>
      {boxes.map(({ name, label }) => (
        <label key={name} className="flex min-h-6 items-start gap-2">
          <input type="checkbox" className="mt-1" checked={chosen.includes(name)} onChange={() => toggle(name)} />
          {label}
        </label>
      ))}
    </fieldset>
  )
}

/** What a part of the recipe is called among others. */
function calledOf(name: PartName): string {
  const [group = '', part = ''] = name.split('.')
  const { called, label } = (RECIPE_PARTS as Record<string, Record<string, RecipePart>>)[group]?.[part] ?? {}
  return typeof called === 'string' ? called : (label ?? name)
}

function Share({
  label,
  value,
  onChange,
}: {
  label: string
  value: string | undefined
  onChange: (value: string | undefined) => void
}) {
  return (
    <TextField
      key={value ?? ''}
      label={label}
      type="number"
      min={0}
      max={100}
      defaultValue={value ?? ''}
      placeholder="any"
      onBlur={({ target }) => target.value !== (value ?? '') && onChange(target.value || undefined)}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
    />
  )
}

function KeepSearch({ filter, sort, onKept }: { filter: Filter; sort: Sort; onKept: () => void }) {
  const [name, setName] = useState('')
  const change = useLibraryChange()
  const { place, search } = splitFilter(filter)
  const isSearch = Object.keys(search).length > 0 && !place.bin
  return (
    <form
      className="grid gap-2 border-t border-line pt-4"
      onSubmit={(event) => {
        event.preventDefault()
        const called = name.trim()
        if (!called || !isSearch) return
        const keep = () => keepSearch(called, search, sort)
        void change(keep, { said: `"${called}" is kept: it fills itself from now on.` }).then(
          (isKept) => isKept && onKept(),
        )
      }}
    >
      <TextField
        label="Keep this search as"
        value={name}
        placeholder="Its name on the rack"
        hint={
          !isSearch
            ? 'Look for something first.'
            : Object.keys(place).length > 0
              ? 'It will look in the whole library.'
              : 'It stands on the rack and fills itself with whatever is found.'
        }
        onChange={(event) => setName(event.target.value)}
      />
      <Button type="submit" disabled={!isSearch || name.trim() === ''}>
        Keep it
      </Button>
    </form>
  )
}
