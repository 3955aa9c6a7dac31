import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import { horizontalListSortingStrategy, SortableContext, sortableKeyboardCoordinates } from '@dnd-kit/sortable'
import { useQuery } from '@tanstack/react-query'
import { ChevronUp, Pin } from 'lucide-react'
import { useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { Button } from '../../components/button.tsx'
import { DRAG_WORDS } from '../../components/drag-words.ts'
import { Menu, type MenuItem } from '../../components/menu.tsx'
import { toast, toastError } from '../../components/toasts.tsx'
import { choosePocket, useChosenPocket } from '../../data/chosen-pocket.ts'
import {
  bringBackPocket,
  createPocket,
  deletePocket,
  moveItem,
  type Pocket,
  pocketsQuery,
  renamePocket,
} from '../../data/pockets.ts'
import { ownSetsQuery } from '../../data/sets.ts'
import { exampleQuery } from '../../data/starters.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { NameDialog } from './name-dialog.tsx'
import { PocketEntry } from './pocket-entry.tsx'
import { SetUp } from './set-up.tsx'
import { usePin } from './use-pin.ts'

const DRAG_PX = 6

/** The pocket: favourite brushes at fixed sizes, always at hand at the foot of the page. */
export function PocketStrip({ tunedId }: { tunedId: string | undefined }) {
  const pockets = useQuery(pocketsQuery)
  const chosen = useChosenPocket()
  const all = pockets.data?.pockets ?? []
  const pocket = all.find((each) => each.id === chosen) ?? all[0]
  const pin = usePin()
  // brushes from a stage's list can be dropped anywhere on the strip
  const drop = useDroppable({ id: 'pocket', data: { pocket: true, name: 'the pocket' } })
  const isTarget = drop.isOver && drop.active?.data.current?.brushId !== undefined
  useHotkeys('p', () => tunedId && pin([tunedId]), { enabled: tunedId !== undefined })
  return (
    <section
      ref={drop.setNodeRef}
      aria-label="Pocket"
      className={`sticky bottom-0 z-20 flex h-[60px] items-center gap-2 border-t bg-surface px-4 ${isTarget ? 'border-saddle shadow-[inset_0_0_0_2px_var(--saddle)]' : 'border-line'}`}
    >
      <PocketMenu all={all} pocket={pocket} />
      {pocket && pocket.items.length > 0 ? (
        <Entries key={pocket.id} pocket={pocket} />
      ) : (
        pockets.isSuccess && <NothingPinned onPin={(id) => pin([id])} />
      )}
      <SetUp />
      {tunedId ? (
        <Button className="shrink-0 text-13" onClick={() => pin([tunedId])}>
          <Pin size={18} aria-hidden /> Pin here
        </Button>
      ) : (
        isTarget && <span className="shrink-0 text-13 text-saddle">let go to pin</span>
      )}
    </section>
  )
}

function Entries({ pocket }: { pocket: Pocket }) {
  const refresh = useRefresh()
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: DRAG_PX } }),
    useSensor(KeyboardSensor, {
      coordinateGetter: sortableKeyboardCoordinates,
      keyboardCodes: { start: ['Space'], cancel: ['Escape'], end: ['Space'] },
    }),
  )
  const ids = pocket.items.map((item) => item.id)
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || over.id === active.id) return
    const [from, to] = [ids.indexOf(String(active.id)), ids.indexOf(String(over.id))]
    const afterId = from < to ? ids[to] : ids[to - 1]
    moveItem(pocket.id, String(active.id), afterId ?? null)
      .catch(toastError)
      .finally(() => refresh(pocketsQuery.queryKey))
  }
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      accessibility={{ announcements: DRAG_WORDS }}
      onDragEnd={onDragEnd}
    >
      <SortableContext items={ids} strategy={horizontalListSortingStrategy}>
        <ul aria-label={`Entries of ${pocket.name}`} className="flex min-w-0 flex-1 gap-2 overflow-x-auto">
          {pocket.items.map((item) => (
            <PocketEntry key={item.id} pocketId={pocket.id} item={item} />
          ))}
        </ul>
      </SortableContext>
    </DndContext>
  )
}

/** Teaches what the pocket is for, with one brush of the starter library to try it. */
function NothingPinned({ onPin }: { onPin: (id: string) => void }) {
  const { data: brush } = useQuery(exampleQuery('pocket'))
  return (
    <>
      <p className="min-w-0 flex-1 truncate text-13 text-quiet">
        Nothing pinned yet: the brushes you use most belong here. Drop them here, or choose some and press p.
      </p>
      {brush && (
        <Button className="hidden shrink-0 gap-2 py-0.5 text-13 sm:inline-flex" onClick={() => onPin(brush.id)}>
          <img
            src={`/api/brushes/${brush.id}/stroke.png?size=pocket&v=${brush.version}-${brush.revision}`}
            alt=""
            className="well h-8 w-[66px] object-contain"
          />
          Pin "{brush.name}"
        </Button>
      )}
    </>
  )
}

type Asking = { what: 'new' | 'rename' } | undefined

/** The pocket's name, and what can be done with pockets as a whole. */
function PocketMenu({ all, pocket }: { all: readonly Pocket[]; pocket: Pocket | undefined }) {
  const refresh = useRefresh()
  const sets = useQuery(ownSetsQuery)
  const [asking, setAsking] = useState<Asking>()
  const run = async (change: () => Promise<{ id: string } | { ok: boolean }>) => {
    try {
      const made = await change()
      await refresh(pocketsQuery.queryKey)
      if ('id' in made) choosePocket(made.id)
    } catch (error) {
      toastError(error)
    }
  }
  const remove = async (gone: Pocket) => {
    await run(() => deletePocket(gone.id))
    toast(`The pocket "${gone.name}" is put away; its brushes stay in the library.`, {
      action: { label: 'Bring back', run: () => void run(() => bringBackPocket(gone.id)) },
    })
  }
  const items: (MenuItem | 'line')[] = [
    ...all.map((each) => ({
      label: each === pocket ? `${each.name}, at hand` : each.name,
      onSelect: () => choosePocket(each.id),
    })),
    ...(all.length > 0 ? (['line'] as const) : []),
    { label: 'New pocket …', takesFocus: true, onSelect: () => setAsking({ what: 'new' }) },
    ...(pocket
      ? [
          { label: `Rename "${pocket.name}" …`, takesFocus: true, onSelect: () => setAsking({ what: 'rename' }) },
          { label: `Put "${pocket.name}" away`, danger: true, onSelect: () => void remove(pocket) },
        ]
      : []),
    'line',
    ...(sets.data?.sets ?? []).map((set) => ({
      label: `Pocket of the set "${set.name}"`,
      onSelect: () => void run(() => createPocket(set.name, set.id)),
    })),
  ]
  return (
    <>
      <Menu
        label="Pockets"
        trigger={
          <button
            type="button"
            className="inline-flex max-w-40 shrink-0 items-center gap-1.5 rounded-4 px-2 py-1 font-title hover:bg-raised"
          >
            <span className="eyelet" aria-hidden />
            <span className="truncate">{pocket?.name ?? 'Pocket'}</span>
            <ChevronUp size={16} aria-hidden />
          </button>
        }
        items={items}
      />
      <NameDialog
        key={asking?.what}
        open={asking !== undefined}
        title={asking?.what === 'rename' ? 'Rename the pocket' : 'New pocket'}
        start={asking?.what === 'rename' ? (pocket?.name ?? '') : ''}
        onClose={() => setAsking(undefined)}
        onName={(name) =>
          void run(() => (asking?.what === 'rename' && pocket ? renamePocket(pocket.id, name) : createPocket(name)))
        }
      />
    </>
  )
}
