import { useDroppable } from '@dnd-kit/core'
import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { GripVertical, MoreHorizontal } from 'lucide-react'
import { Suspense, useState } from 'react'
import { fetched } from '../../../components/fetched.tsx'
import { formatCount, plural } from '../../../components/format.ts'
import { Menu } from '../../../components/menu.tsx'
import { bringBackSet, copySet, deleteSet, moveSet, putInside, updateSet } from '../../../data/library.ts'
import type { OwnSet } from '../../../data/sets.ts'
import { useWrapping } from '../../../parcels/wrapping.ts'
import { useLibraryChange } from '../use-library-change.ts'
import type { WithAnother } from './other-set.tsx'
import { RenameField } from './rename-field.tsx'
import { SetMarkIcon } from './set-mark.tsx'

const AboutSet = fetched(() => import('./about-set.tsx'))
const PutInside = fetched(() => import('./put-inside.tsx'))
const OtherSet = fetched(() => import('./other-set.tsx'))

/** A set on the rack: opened, renamed, moved, dropped on, and all else that is done with it. */
export function SetLabel({
  set,
  order,
  active,
  onGo,
  onLeave,
}: {
  set: OwnSet
  order: readonly OwnSet[]
  active: boolean
  onGo: () => void
  /** It is off the rack: its brushes are in the library, or all of them in another set. */
  onLeave: (to?: string) => void
}) {
  const [renaming, setRenaming] = useState(false)
  const [asking, setAsking] = useState<'about' | 'inside' | WithAnother>()
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
        <SetMarkIcon mark={set.mark} />
        {renaming ? (
          <RenameField name={set.name} onRename={rename} onLeave={() => setRenaming(false)} className="font-title" />
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
            { label: 'Note and mark', takesFocus: true, onSelect: () => setAsking('about') },
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
            { label: 'Put inside …', takesFocus: true, onSelect: () => setAsking('inside') },
            ...(set.folder
              ? [
                  {
                    label: `Take out of ${set.folder}`,
                    onSelect: () =>
                      void change(() => putInside([set.id], ''), {
                        said: `"${set.name}" lies on the rack.`,
                        undo: () => putInside([set.id], set.folder),
                      }),
                  },
                ]
              : []),
            { label: 'Merge into …', takesFocus: true, onSelect: () => setAsking('merge') },
            { label: 'Compare with …', takesFocus: true, onSelect: () => setAsking('compare') },
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
      <Suspense>
        {asking === 'about' && <AboutSet set={set} onClose={() => setAsking(undefined)} />}
        {asking === 'inside' && <PutInside set={set} onClose={() => setAsking(undefined)} />}
        {(asking === 'merge' || asking === 'compare') && (
          <OtherSet
            set={set}
            how={asking}
            onClose={() => setAsking(undefined)}
            onGone={(into) => active && onLeave(into)}
          />
        )}
      </Suspense>
    </li>
  )
}
