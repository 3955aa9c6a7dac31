import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { useQuery } from '@tanstack/react-query'
import { Eye, EyeOff, Plus } from 'lucide-react'
import { useDeferredValue, useState } from 'react'
import { Link } from 'react-router'
import { Button } from '../../../components/button.tsx'
import { formatCount } from '../../../components/format.ts'
import { LoadError, Loading } from '../../../components/states.tsx'
import type { Filter } from '../../../data/filter.ts'
import { createSet } from '../../../data/library.ts'
import { type OwnSet, setsQuery } from '../../../data/sets.ts'
import { tallyQuery } from '../../../data/tally.ts'
import { useLibraryChange } from '../use-library-change.ts'
import { placesOf } from './folders.ts'
import { KeptSearches } from './kept-searches.tsx'
import { OuterSet } from './outer-set.tsx'
import { SetLabel } from './set-label.tsx'
import { StarterSets } from './starter-sets.tsx'

export type RackProps = {
  current: string | undefined
  shelf: 'all' | 'loose' | 'bin' | 'set' | 'outer' | 'kept'
  filter: Filter
  onGo: (to: { setId?: string; inFolder?: string; loose?: string; bin?: string; sort?: string }) => void
}

/** A rack of more sets is found through by typing. */
const TYPED_FROM = 12

/** The rack of sets: punched labels with name and count, in the curator's order. */
export function Rack({ current, shelf, filter, onGo }: RackProps) {
  const sets = useQuery(setsQuery)
  const tally = useQuery(tallyQuery)
  const [showHidden, setShowHidden] = useState(false)
  const [typed, setTyped] = useState('')
  const wanted = typed.trim().toLowerCase()
  // of hundreds of labels those that stay come a moment after the key
  const looked = useDeferredValue(wanted)
  const change = useLibraryChange()
  if (sets.isPending) return <Loading what="sets" />
  if (sets.isError) return <LoadError error={sets.error} onRetry={() => void sets.refetch()} />
  const all = sets.data.sets.filter((set) => !set.starter)
  const starters = sets.data.sets.filter((set) => set.starter)
  const visible = all.filter((set) => showHidden || !set.hidden)
  const isCalled = (set: OwnSet, text: string) =>
    set.name.toLowerCase().includes(text) || set.folder.toLowerCase().includes(text)
  // the set that is open stays in sight
  const shown = visible.filter((set) => set.id === current || isCalled(set, looked))
  const label = (set: OwnSet) => (
    <SetLabel
      key={set.id}
      set={set}
      order={all}
      active={set.id === current}
      onGo={() => onGo({ setId: set.id, sort: 'set' })}
      onLeave={(to) => onGo(to ? { setId: to, sort: 'set' } : {})}
    />
  )
  const hiddenCount = all.filter((set) => set.hidden).length
  return (
    <nav aria-label="Sets" data-drag-places className="relative flex min-h-0 flex-col gap-1 overflow-y-auto pr-1">
      <Shelf label="All brushes" count={tally.data?.brushes} active={shelf === 'all'} onClick={() => onGo({})} />
      <Shelf label="In no set" active={shelf === 'loose'} onClick={() => onGo({ loose: '1' })} />
      <div className="my-1 h-px bg-line" />
      {visible.length > TYPED_FROM && (
        <input
          type="search"
          aria-label="Find a set"
          placeholder={`Find one of ${formatCount(visible.length)} sets`}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => {
            const [first] = visible.filter((set) => isCalled(set, wanted))
            if (event.key === 'Escape') setTyped('')
            if (event.key === 'Enter' && first && wanted) onGo({ setId: first.id, sort: 'set' })
          }}
          className="mb-1 rounded-4 border border-line bg-raised px-2.5 py-1.5"
        />
      )}
      <SortableContext items={shown.map((set) => `set ${set.id}`)} strategy={verticalListSortingStrategy}>
        <ul aria-label="Your sets" className="grid grid-cols-1 gap-1">
          {placesOf(shown).map((place) =>
            'set' in place ? (
              label(place.set)
            ) : (
              <OuterSet
                key={`outer ${place.outer}`}
                name={place.outer}
                sets={place.sets}
                current={current}
                active={filter.inFolder === place.outer}
                onGo={(inFolder) => onGo({ inFolder })}
                onLeave={() => onGo({})}
              >
                {label}
              </OuterSet>
            ),
          )}
        </ul>
      </SortableContext>
      <NewSet onMake={(name) => void change(() => createSet(name))} />
      {hiddenCount > 0 && (
        <Button kind="quiet" onClick={() => setShowHidden(!showHidden)} className="justify-start text-13 text-quiet">
          {showHidden ? <EyeOff size={18} aria-hidden /> : <Eye size={18} aria-hidden />}{' '}
          {showHidden ? 'Leave out hidden sets' : `Show ${hiddenCount} hidden`}
        </Button>
      )}
      <div className="my-1 h-px bg-line" />
      <KeptSearches filter={filter} />
      {starters.length > 0 && (
        <StarterSets sets={starters} current={current} onGo={(setId) => onGo({ setId, sort: 'set' })} />
      )}
      <Link to="/sort/grains" className="rounded-4 px-2.5 py-1.5 hover:bg-surface">
        Grains and strips
      </Link>
      <Link to="/sort/same" className="rounded-4 px-2.5 py-1.5 hover:bg-surface">
        Same marks
      </Link>
      <Shelf label="Bin" active={shelf === 'bin'} onClick={() => onGo({ bin: '1' })} />
    </nav>
  )
}

function Shelf({
  label,
  count,
  active,
  onClick,
}: {
  label: string
  count?: number | undefined
  active: boolean
  onClick: () => void
}) {
  return (
    <button
      type="button"
      aria-current={active ? 'page' : undefined}
      onClick={onClick}
      className={`flex items-center justify-between rounded-4 px-2.5 py-1.5 text-left ${active ? 'bg-raised font-semibold text-saddle' : 'hover:bg-surface'}`}
    >
      {label} {count !== undefined && <span className="measure text-quiet">{formatCount(count)}</span>}
    </button>
  )
}

function NewSet({ onMake }: { onMake: (name: string) => void }) {
  const [open, setOpen] = useState(false)
  if (!open) {
    return (
      <Button kind="quiet" onClick={() => setOpen(true)} className="justify-start">
        <Plus size={18} aria-hidden /> New set
      </Button>
    )
  }
  const make = (name: string) => {
    setOpen(false)
    if (name.trim()) onMake(name.trim())
  }
  return (
    <input
      // biome-ignore lint/a11y/noAutofocus: the person has just asked to type here
      autoFocus
      aria-label="Name of the new set"
      placeholder="Name of the new set"
      onBlur={(event) => make(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur()
        if (event.key === 'Escape') setOpen(false)
      }}
      className="rounded-4 border border-line bg-raised px-2.5 py-1.5"
    />
  )
}
