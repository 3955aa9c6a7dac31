import { useDroppable } from '@dnd-kit/core'
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { useQuery } from '@tanstack/react-query'
import { Eye, EyeOff, GripVertical, MoreHorizontal, Plus } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button } from '../../../components/button.tsx'
import { formatCount, plural } from '../../../components/format.ts'
import { Menu } from '../../../components/menu.tsx'
import { LoadError, Loading } from '../../../components/states.tsx'
import type { Filter } from '../../../data/filter.ts'
import { bringBackSet, copySet, createSet, deleteSet, moveSet, updateSet } from '../../../data/library.ts'
import { setsQuery } from '../../../data/sets.ts'
import { tallyQuery } from '../../../data/tally.ts'
import { useWrapping } from '../../../parcels/wrapping.ts'
import { useLibraryChange } from '../use-library-change.ts'
import { FolderGroup } from './folder-group.tsx'
import { byFolder } from './folders.ts'
import { KeptSearches } from './kept-searches.tsx'
import { StarterSets } from './starter-sets.tsx'

type RackSet = { id: string; name: string; hidden: boolean; folder: string; starter: boolean; count: number }
export type RackProps = {
  current: string | undefined
  shelf: 'all' | 'loose' | 'bin' | 'set' | 'kept'
  filter: Filter
  onGo: (to: { setId?: string; loose?: string; bin?: string; sort?: string }) => void
}

/** The rack of sets: punched labels with name and count, in the curator's order. */
export function Rack({ current, shelf, filter, onGo }: RackProps) {
  const sets = useQuery(setsQuery)
  const tally = useQuery(tallyQuery)
  const [showHidden, setShowHidden] = useState(false)
  const change = useLibraryChange()
  if (sets.isPending) return <Loading what="sets" />
  if (sets.isError) return <LoadError error={sets.error} onRetry={() => void sets.refetch()} />
  const all = sets.data.sets.filter((set) => !set.starter)
  const starters = sets.data.sets.filter((set) => set.starter)
  const shown = all.filter((set) => showHidden || !set.hidden)
  const hiddenCount = all.filter((set) => set.hidden).length
  return (
    <nav aria-label="Sets" data-drag-places className="relative flex min-h-0 flex-col gap-1 overflow-y-auto pr-1">
      <Shelf label="All brushes" count={tally.data?.brushes} active={shelf === 'all'} onClick={() => onGo({})} />
      <Shelf label="In no set" active={shelf === 'loose'} onClick={() => onGo({ loose: '1' })} />
      <div className="my-1 h-px bg-line" />
      <SortableContext items={shown.map((set) => `set ${set.id}`)} strategy={verticalListSortingStrategy}>
        <ul aria-label="Your sets" className="grid gap-1">
          {byFolder(shown).map(({ folder, sets }) => (
            <FolderGroup key={folder || sets[0]?.id} folder={folder} sets={sets} current={current}>
              {(set) => (
                <SetLabel
                  key={set.id}
                  set={set}
                  order={all}
                  active={set.id === current}
                  onGo={() => onGo({ setId: set.id, sort: 'set' })}
                  onLeave={() => onGo({})}
                />
              )}
            </FolderGroup>
          ))}
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

function SetLabel({
  set,
  order,
  active,
  onGo,
  onLeave,
}: {
  set: RackSet
  order: RackSet[]
  active: boolean
  onGo: () => void
  onLeave: () => void
}) {
  const [renaming, setRenaming] = useState(false)
  const wrap = useWrapping((state) => state.wrap)
  const change = useLibraryChange()
  const sortable = useSortable({ id: `set ${set.id}`, data: { setId: set.id, name: set.name } })
  const drop = useDroppable({ id: `onto ${set.id}`, data: { ontoSetId: set.id, name: set.name } })
  const brushOver = drop.isOver && drop.active?.data.current?.brushId !== undefined
  const at = order.findIndex((each) => each.id === set.id)
  const rename = (name: string) => {
    setRenaming(false)
    if (name && name !== set.name) void change(() => updateSet(set.id, { name }))
  }
  return (
    <li
      ref={sortable.setNodeRef}
      style={{ transform: CSS.Translate.toString(sortable.transform), transition: sortable.transition }}
    >
      <div
        ref={drop.setNodeRef}
        data-testid={`set ${set.name}`}
        className={`flex items-center gap-1.5 rounded-l-10 rounded-r-4 border py-1 pl-2.5 pr-1 ${active ? 'border-saddle bg-raised' : 'border-line bg-surface hover:bg-raised'} ${brushOver ? 'outline-2 outline-saddle' : ''} ${set.hidden ? 'opacity-70' : ''}`}
      >
        <span className="eyelet" aria-hidden />
        {renaming ? (
          <input
            // biome-ignore lint/a11y/noAutofocus: the person has just asked to type here
            autoFocus
            aria-label={`New name of ${set.name}`}
            defaultValue={set.name}
            onFocus={(event) => event.target.select()}
            onBlur={(event) => rename(event.target.value.trim())}
            onKeyDown={(event) => {
              if (event.key === 'Enter') event.currentTarget.blur()
              if (event.key === 'Escape') setRenaming(false)
            }}
            className="min-w-0 flex-1 rounded-4 border border-line bg-raised px-1 font-title"
          />
        ) : (
          <button
            type="button"
            aria-current={active ? 'page' : undefined}
            onClick={onGo}
            onDoubleClick={() => setRenaming(true)}
            className="flex min-w-0 flex-1 items-center justify-between gap-2 py-0.5 text-left font-title"
          >
            <span className="truncate">
              {set.name}
              {set.hidden && <span className="font-sans text-12 text-quiet"> hidden</span>}
            </span>
            <span className="measure text-quiet">{formatCount(set.count)}</span>
          </button>
        )}
        <button
          type="button"
          aria-label={`Drag ${set.name} to another place`}
          {...sortable.attributes}
          {...sortable.listeners}
          className="rounded-4 p-0.5 text-quiet hover:bg-ground"
        >
          <GripVertical size={16} aria-hidden />
        </button>
        <Menu
          label={`${set.name}: what to do`}
          trigger={
            <button
              type="button"
              aria-label={`More for ${set.name}`}
              className="rounded-4 p-0.5 text-quiet hover:bg-ground"
            >
              <MoreHorizontal size={18} aria-hidden />
            </button>
          }
          items={[
            { label: 'Rename', takesFocus: true, onSelect: () => setRenaming(true) },
            { label: 'Copy', onSelect: () => void change(() => copySet(set.id, `${set.name} copy`)) },
            {
              label: set.hidden ? 'Show again' : 'Hide',
              onSelect: () => void change(() => updateSet(set.id, { hidden: !set.hidden })),
            },
            {
              label: 'Move up',
              disabled: at === 0,
              onSelect: () => void change(() => moveSet(set.id, order[at - 2]?.id ?? null)),
            },
            {
              label: 'Move down',
              disabled: at === order.length - 1,
              onSelect: () => void change(() => moveSet(set.id, order[at + 1]?.id ?? null)),
            },
            'line',
            { label: 'Save this set', takesFocus: true, onSelect: () => wrap({ kind: 'set', setId: set.id }) },
            {
              label: 'Print this set',
              takesFocus: true,
              onSelect: () => wrap({ kind: 'setSheet', setId: set.id, paper: 'a4' }),
            },
            {
              label: 'A picture of this set',
              takesFocus: true,
              onSelect: () => wrap({ kind: 'setPicture', setId: set.id }),
            },
            'line',
            {
              label: 'Delete the set',
              danger: true,
              onSelect: () => {
                if (active) onLeave()
                void change(() => deleteSet(set.id), {
                  said: `"${set.name}" is deleted; its ${plural(set.count, 'brush', 'brushes')} stay in the library.`,
                  undo: () => bringBackSet(set.id),
                })
              },
            },
          ]}
        />
      </div>
    </li>
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
