import { useQuery } from '@tanstack/react-query'
import { MoreHorizontal, ScanSearch } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { formatCount, plural } from '../../../components/format.ts'
import { Menu } from '../../../components/menu.tsx'
import type { Filter } from '../../../data/filter.ts'
import {
  bringBackSearch,
  deleteSearch,
  freezeSearch,
  type KeptSearch,
  keptSearchesQuery,
  renameSearch,
} from '../../../data/kept-searches.ts'
import { addressOf, isSameSearch } from '../find/filter.ts'
import { useLibraryChange } from '../use-library-change.ts'
import { RenameField } from './rename-field.tsx'

/** Searches on the rack: sets that fill themselves. */
export function KeptSearches({ filter }: { filter: Filter }) {
  const searches = useQuery(keptSearchesQuery).data?.searches ?? []
  if (searches.length === 0) return null
  return (
    <section aria-label="Kept searches" className="grid gap-0.5 border-b border-line pb-2">
      <h2 className="px-2.5 py-1.5">Kept searches</h2>
      {searches.map((search) => (
        <Kept key={search.id} search={search} isActive={isSameSearch(filter, search.filter)} />
      ))}
    </section>
  )
}

function Kept({ search: { id, name, count, filter, sort }, isActive }: { search: KeptSearch; isActive: boolean }) {
  const [isRenaming, setRenaming] = useState(false)
  const change = useLibraryChange()
  const rename = (next: string) => {
    setRenaming(false)
    if (next && next !== name) void change(() => renameSearch(id, next))
  }
  return (
    <div
      data-testid={`kept ${name}`}
      className={`flex items-center gap-1.5 rounded-4 py-1 pl-2.5 pr-1 ${isActive ? 'bg-raised font-semibold text-saddle' : 'hover:bg-surface'}`}
    >
      <ScanSearch size={16} aria-hidden className="shrink-0 text-quiet" />
      {isRenaming ? (
        <RenameField name={name} onRename={rename} onLeave={() => setRenaming(false)} />
      ) : (
        <Link
          to={addressOf(filter, sort)}
          aria-current={isActive ? 'page' : undefined}
          title="Fills itself with whatever is found"
          className="flex min-w-0 flex-1 items-center justify-between gap-2"
        >
          <span className="truncate">{name}</span>
          <span className="measure text-quiet">{formatCount(count)}</span>
        </Link>
      )}
      <Menu
        label={`${name}: what to do`}
        trigger={
          <button type="button" aria-label={`More for ${name}`} className="rounded-4 p-0.5 text-quiet hover:bg-ground">
            <MoreHorizontal size={18} aria-hidden />
          </button>
        }
        items={[
          { label: 'Rename', takesFocus: true, onSelect: () => setRenaming(true) },
          {
            label: 'Make a set of it as it is now',
            disabled: count === 0,
            onSelect: () =>
              void change(() => freezeSearch(id, name), {
                said: `The set "${name}" holds ${plural(count, 'brush', 'brushes')}, and fills itself no more.`,
              }),
          },
          'line',
          {
            label: 'Delete the search',
            danger: true,
            onSelect: () =>
              void change(() => deleteSearch(id), {
                said: `"${name}" is kept no more; what it finds stays in the library.`,
                undo: () => bringBackSearch(id),
              }),
          },
        ]}
      />
    </div>
  )
}
