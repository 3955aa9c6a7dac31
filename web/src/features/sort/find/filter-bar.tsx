import { useQuery, useQueryClient } from '@tanstack/react-query'
import { LayoutGrid, Rows3, X } from 'lucide-react'
import { Suspense, useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { fetched } from '../../../components/fetched.tsx'
import { formatCount } from '../../../components/format.ts'
import type { Filter, Sort } from '../../../data/filter.ts'
import { brushPageQuery, facetsQuery } from '../../../data/library.ts'
import { readingWord } from '../words.ts'
import { isOf, NOTHING_NARROWED, namesIn, SORTS, splitFilter, type View } from './filter.ts'
import { SearchBox } from './search-box.tsx'

const MoreFilters = fetched(() => import('./more-filters.tsx'))

const BOX = 'rounded-4 border border-line bg-raised px-1.5 py-1.5 text-13'

type Props = {
  filter: Filter
  sort: Sort
  view: View
  focus: boolean
  change: (next: Record<string, string | undefined>) => void
}

/** Search, filters, order and view; all of it in the address. */
export function FilterBar({ filter, sort, view, focus, change }: Props) {
  const facets = useQuery(facetsQuery)
  const client = useQueryClient()
  const search = (q: string) => {
    // The answer is asked for before the page has turned to the new address: both take their time.
    const { q: _before, ...others } = filter
    void client.prefetchQuery(brushPageQuery(q ? { ...others, q } : others, sort, 0))
    change({ q, find: undefined })
  }
  const [isMore, setMore] = useState(false)
  const { place, search: narrowing } = splitFilter(filter)
  const narrowed = Object.keys(narrowing).length > 0
  const more = isOf(filter).length + namesIn(filter.uses).length + (filter.fitAt ? 1 : 0) + (filter.sourceId ? 1 : 0)
  const select = (key: keyof Filter, label: string, choices: readonly { value: string; label: string }[]) => (
    <select
      aria-label={label}
      value={filter[key] ?? ''}
      onChange={(event) => change({ [key]: event.target.value })}
      className={`${BOX} w-[80px] ${filter[key] ? 'border-saddle font-semibold' : ''}`}
    >
      <option value="">{label}</option>
      {choices.map((choice) => (
        <option key={choice.value} value={choice.value}>
          {choice.label}
        </option>
      ))}
    </select>
  )
  const counted = (values: readonly { value: string; n: number }[] | undefined, word = (value: string) => value) =>
    (values ?? []).map(({ value, n }) => ({ value, label: `${word(value)} (${formatCount(n)})` }))
  return (
    <search className="mb-3 flex flex-wrap items-center gap-2 wide:flex-nowrap">
      <SearchBox q={filter.q ?? ''} focus={focus} onSearch={search} />
      {select(
        'reading',
        'Reading',
        counted(facets.data?.readings, (value) => readingWord(value)),
      )}
      {select('frames', 'Frames', [
        { value: 'one', label: 'one picture' },
        { value: 'many', label: 'animated' },
      ])}
      {select('tag', 'Tag', counted(facets.data?.tags))}
      {select('maker', 'Maker', counted(facets.data?.makers))}
      <span className="flex shrink-0 items-center gap-1 text-13 text-quiet">
        <SizeBox label="Smallest size" value={filter.sizeFrom} onChange={(sizeFrom) => change({ sizeFrom })} /> to
        <SizeBox label="Largest size" value={filter.sizeTo} onChange={(sizeTo) => change({ sizeTo })} /> px
      </span>
      <Button
        onClick={() => setMore(true)}
        className={`shrink-0 !px-2 !text-13 ${more > 0 ? 'border-saddle font-semibold' : ''}`}
      >
        More{more > 0 && ` (${more})`}
      </Button>
      {narrowed && (
        <Button
          kind="quiet"
          onClick={() => change({ ...NOTHING_NARROWED, ...place })}
          className="shrink-0 px-1.5"
          aria-label="Show all"
          title="Show all"
        >
          <X size={18} aria-hidden />
        </Button>
      )}
      {isMore && (
        <Suspense>
          <MoreFilters filter={filter} sort={sort} change={change} onClose={() => setMore(false)} />
        </Suspense>
      )}
      <span className="ml-auto flex shrink-0 items-center gap-2">
        <select
          aria-label="Order"
          value={sort}
          onChange={(event) => change({ sort: event.target.value === 'name' ? undefined : event.target.value })}
          className={`${BOX} w-[124px]`}
        >
          {SORTS.filter(({ value }) => value !== 'set' || filter.setId).map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
        <fieldset className="flex overflow-clip rounded-4 border border-line">
          <legend className="sr-only">View</legend>
          <ViewButton title="Lines" active={view === 'lines'} onClick={() => change({ view: undefined })}>
            <Rows3 size={18} aria-hidden /> <span className="sr-only">Lines</span>
          </ViewButton>
          <ViewButton title="Tiles" active={view === 'tiles'} onClick={() => change({ view: 'tiles' })}>
            <LayoutGrid size={18} aria-hidden /> <span className="sr-only">Tiles</span>
          </ViewButton>
        </fieldset>
      </span>
    </search>
  )
}

function ViewButton({
  title,
  active,
  onClick,
  children,
}: {
  title: string
  active: boolean
  onClick: () => void
  children: React.ReactNode
}) {
  return (
    <button
      type="button"
      aria-pressed={active}
      title={title}
      onClick={onClick}
      className={`inline-flex items-center gap-1.5 px-2.5 py-1.5 text-13 ${active ? 'bg-saddle text-on-saddle' : 'bg-raised hover:bg-ground'}`}
    >
      {children}
    </button>
  )
}

function SizeBox({
  label,
  value,
  onChange,
}: {
  label: string
  value: string | undefined
  onChange: (value: string) => void
}) {
  return (
    <input
      key={value ?? ''}
      aria-label={label}
      type="number"
      min={0}
      defaultValue={value ?? ''}
      placeholder="any"
      onBlur={(event) => event.target.value !== (value ?? '') && onChange(event.target.value)}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      className={`${BOX} measure w-14`}
    />
  )
}
