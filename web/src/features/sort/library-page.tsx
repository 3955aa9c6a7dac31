import { type DragEndEvent, DragOverlay, useDndMonitor } from '@dnd-kit/core'
import { useQuery } from '@tanstack/react-query'
import { Suspense, useMemo, useState } from 'react'
import { useAct } from '../../acts/use-act.ts'
import { fetched } from '../../components/fetched.tsx'
import { plural } from '../../components/format.ts'
import { PageTitle } from '../../components/page-title.tsx'
import { keptSearchesQuery } from '../../data/kept-searches.ts'
import {
  addToSet,
  binBrushes,
  bringBackBrushes,
  createSet,
  loadIds,
  moveSet,
  removeFromSet,
} from '../../data/library.ts'
import { changeMany } from '../../data/many.ts'
import { setsQuery } from '../../data/sets.ts'
import { MeetAt } from '../../meeting/meeting-place.ts'
import { ActionStrip } from './action-strip.tsx'
import { BrushList } from './brush-list.tsx'
import type { ChosenAct } from './choice.ts'
import { EmptyBin } from './empty-bin.tsx'
import { isSameSearch, NOTHING_NARROWED, useFilter } from './find/filter.ts'
import { FilterBar } from './find/filter-bar.tsx'
import { NarrowRack } from './rack/narrow-rack.tsx'
import { Rack } from './rack/rack.tsx'
import { readDrop } from './rack/read-drop.ts'
import { TagDialog } from './tag-dialog.tsx'
import { useBrushCount } from './use-brush-count.ts'
import { useActs, useChoice } from './use-choice.ts'
import { useLibraryChange } from './use-library-change.ts'

const SetDialog = fetched(() => import('./rack/set-dialog.tsx'))
const ChangeDialog = fetched(() => import('./change/change-dialog.tsx'))

/** So many brushes fit under one another. */
const COMPARED_MAX = 6

/** The library: its rack, its list, and what can be done with what is chosen there. */
export function LibraryPage({ onPin: pin }: { onPin: (ids: string[]) => void }) {
  const { filter, sort, view, params, change: go } = useFilter()
  const [asking, setAsking] = useState<'none' | 'copy' | 'move' | 'tag' | 'change'>('none')
  const [dragging, setDragging] = useState<string>()
  const sets = useQuery(setsQuery)
  const count = useBrushCount(filter, sort)
  const change = useLibraryChange()
  const doing = useAct()
  const filterKey = JSON.stringify(filter)
  const { choice, dispatch, ask } = useChoice(filterKey)

  const chosen = useMemo(() => [...choice.chosen], [choice.chosen])
  const setName = (id: string) => sets.data?.sets.find((set) => set.id === id)?.name ?? 'the set'
  const words = plural(chosen.length, 'brush', 'brushes')

  const putInto = async (how: 'copy' | 'move', target: { id: string } | { name: string }, ids: string[]) => {
    setAsking('none')
    const from = how === 'move' ? filter.setId : undefined
    await change(
      async () => {
        const { id } = 'id' in target ? target : await createSet(target.name)
        await addToSet(id, ids, from)
      },
      {
        said: `${plural(ids.length, 'brush', 'brushes')} ${how === 'copy' ? 'copied' : 'moved'} to "${'id' in target ? setName(target.id) : target.name}".`,
      },
    )
  }
  const bin = () => {
    dispatch({ type: 'none' })
    void change(() => binBrushes(chosen), { said: `${words} put into the bin.`, undo: () => bringBackBrushes(chosen) })
  }
  const bringBack = () => {
    dispatch({ type: 'none' })
    void change(() => bringBackBrushes(chosen), { said: `${words} brought back.` })
  }
  const takeOut = () => {
    const { setId } = filter
    if (!setId) return
    dispatch({ type: 'none' })
    void change(() => removeFromSet(setId, chosen), {
      said: `${words} taken out of "${setName(setId)}".`,
      undo: () => addToSet(setId, chosen),
    })
  }
  const acts: Record<ChosenAct, () => void> = {
    copy: () => setAsking('copy'),
    move: () => setAsking('move'),
    tag: () => setAsking('tag'),
    change: () => setAsking('change'),
    pin: () => pin(chosen),
    bin,
    bringBack,
    takeOut,
  }
  const act = useActs(acts, choice)
  const all = () => ask('all', () => loadIds(filter, sort))
  const dragged = (brushId: string) => (choice.chosen.has(brushId) ? chosen : [brushId])
  const dropped = (event: DragEndEvent) => {
    setDragging(undefined)
    const drop = readDrop(event)
    if (drop?.kind === 'brushes') void putInto('copy', { id: drop.setId }, dragged(drop.brushId))
    if (drop?.kind === 'pin') pin(dragged(drop.brushId))
    if (drop?.kind === 'set') {
      const order = sets.data?.sets ?? []
      const [from, to] = [
        order.findIndex((set) => set.id === drop.setId),
        order.findIndex((set) => set.id === drop.overId),
      ]
      void change(() => moveSet(drop.setId, from < to ? drop.overId : (order[to - 1]?.id ?? null)))
    }
  }
  useDndMonitor({
    onDragStart: ({ active }) => setDragging(active.data.current?.brushId),
    onDragCancel: () => setDragging(undefined),
    onDragEnd: dropped,
  })
  const kept = useQuery(keptSearchesQuery).data?.searches.find((search) => isSameSearch(filter, search.filter))
  const shelf = filter.bin
    ? 'bin'
    : filter.loose
      ? 'loose'
      : filter.setId
        ? 'set'
        : filter.inFolder
          ? 'outer'
          : kept
            ? 'kept'
            : 'all'
  /** Goes to another place of the rack: the words looked for stay here, and so does all of a kept search. */
  const leave = (to: { setId?: string; inFolder?: string; loose?: string; bin?: string; sort?: string }) =>
    go({
      ...(kept ? NOTHING_NARROWED : {}),
      ...{ setId: to.setId, inFolder: to.inFolder, loose: to.loose, bin: to.bin, sort: to.sort },
      ...{
        q: undefined,
        is: undefined,
        uses: undefined,
        sourceId: undefined,
        fitAt: undefined,
        fitFrom: undefined,
        fitTo: undefined,
      },
    })
  const title = {
    bin: 'Bin',
    loose: 'In no set',
    set: setName(filter.setId ?? ''),
    outer: filter.inFolder ?? '',
    kept: kept?.name ?? '',
    all: 'All brushes',
  }[shelf]

  return (
    <>
      <title>{`${title} · Sort · Gentle Satchel`}</title>
      <div className="grid h-[calc(100dvh-112px)] grid-cols-1 gap-5 px-6 pb-4 pt-5 wide:grid-cols-[236px_minmax(0,1fr)]">
        <div className="hidden min-h-0 wide:grid">
          <Rack current={filter.setId} shelf={shelf} filter={filter} onGo={leave} />
        </div>
        <section aria-label={title} className="flex min-h-0 min-w-0 flex-col">
          <PageTitle
            note={count === undefined ? '' : plural(count, 'brush', 'brushes')}
            aside={shelf === 'bin' && <EmptyBin count={count ?? 0} />}
          >
            {title}
          </PageTitle>
          {shelf === 'set' && <SetNote note={sets.data?.sets.find(({ id }) => id === filter.setId)?.note} />}
          {shelf === 'set' && filter.setId && <MeetAt kind="set" id={filter.setId} />}
          <NarrowRack current={filter.setId} shelf={shelf} filter={filter} onGo={leave} />
          <FilterBar filter={filter} sort={sort} view={view} focus={params.has('find')} change={go} />
          <BrushList
            key={`${filterKey} ${sort}`}
            filter={filter}
            sort={sort}
            view={view}
            choice={choice}
            dispatch={dispatch}
            ask={ask}
            act={act}
            onAll={all}
          />
          {chosen.length > 0 && (
            <ActionStrip
              count={chosen.length}
              onlyId={chosen.length === 1 ? chosen[0] : undefined}
              comparedIds={chosen.length >= 2 && chosen.length <= COMPARED_MAX ? chosen : undefined}
              inSet={filter.setId !== undefined}
              inBin={filter.bin !== undefined}
              act={act}
              onAll={all}
              onNone={() => dispatch({ type: 'none' })}
            />
          )}
        </section>
      </div>
      <DragOverlay dropAnimation={null}>
        {dragging && (
          <div className="inline-block rounded-10 border border-saddle bg-raised px-3 py-1.5 font-medium shadow-lift">
            {choice.chosen.has(dragging) ? words : '1 brush'}: drop on a set to copy, on the pocket to pin
          </div>
        )}
      </DragOverlay>
      {(asking === 'copy' || asking === 'move') && (
        <Suspense>
          <SetDialog
            how={asking}
            count={chosen.length}
            onClose={() => setAsking('none')}
            onChoose={(target) => void putInto(asking, target, chosen)}
          />
        </Suspense>
      )}
      {asking === 'change' && (
        <Suspense>
          <ChangeDialog ids={chosen} act={doing.act} onClose={() => setAsking('none')} />
        </Suspense>
      )}
      <TagDialog
        open={asking === 'tag'}
        count={chosen.length}
        onClose={() => setAsking('none')}
        onTag={(add, remove) => void doing.act(() => changeMany(chosen, { kind: 'tags', add, remove }))}
      />
    </>
  )
}

/** What the curator noted of a set, as it was written. */
function SetNote({ note }: { note: string | undefined }) {
  return note ? <p className="mb-3 max-w-prose whitespace-pre-line text-quiet">{note}</p> : null
}
