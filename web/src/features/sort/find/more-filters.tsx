import { BRUSH_IS, BRUSH_IS_NAMES, type BrushIs } from '@satchel/core/forms/brush-filter-words'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
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
import { isOf } from './filter.ts'

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
  const chosen = isOf(filter)
  const toggle = (name: BrushIs) => {
    const next = chosen.includes(name) ? chosen.filter((each) => each !== name) : [...chosen, name]
    change({ is: next.length > 0 ? next.join(',') : undefined })
  }
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
      <fieldset className="grid gap-1.5">
        <legend className="mb-1 text-13 font-medium text-quiet">Brushes</legend>
        {BRUSH_IS_NAMES.map((name) => (
          <label key={name} className="flex min-h-6 items-center gap-2">
            <input type="checkbox" checked={chosen.includes(name)} onChange={() => toggle(name)} />
            {BRUSH_IS[name]}
          </label>
        ))}
      </fieldset>
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
      <KeepSearch filter={filter} sort={sort} onKept={onClose} />
    </Dialog>
  )
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
  const { setId, bin, loose, ...search } = filter
  const isSearch = Object.keys(search).length > 0 && !bin
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
            : setId || loose
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
