import { useVirtualizer } from '@tanstack/react-virtual'
import { type Dispatch, type KeyboardEvent, useCallback, useLayoutEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { LoadError, Loading } from '../../components/states.tsx'
import type { Filter, Sort } from '../../data/filter.ts'
import { loadIds } from '../../data/library.ts'
import { BrushLine, BrushTile } from './brush-line.tsx'
import type { Choice, ChoiceAction, ChosenAct } from './choice.ts'
import type { View } from './find/filter.ts'
import { NothingFound } from './find/nothing-found.tsx'
import { useBrushWindow } from './use-brush-window.ts'
import type { AskForIds } from './use-choice.ts'

const LINE_PX = 60
const NARROW_LINE_PX = 116
const TILE_PX = 172
const TILE_MIN_WIDTH_PX = 260

type Props = {
  filter: Filter
  sort: Sort
  view: View
  choice: Choice
  dispatch: Dispatch<ChoiceAction>
  ask: AskForIds
  act: (name: ChosenAct) => void
  onAll: () => void
}

/** The library's lines or tiles: only what is in view is on the page, and only those pages are fetched. */
export function BrushList({ filter, sort, view, choice, dispatch, ask, act, onAll }: Props) {
  const scroller = useRef<HTMLDivElement>(null)
  const [span, setSpan] = useState({ from: 0, to: 1 })
  const list = useBrushWindow(filter, sort, span)
  const { total, at } = list
  const columns = useColumns(scroller, view)
  const isNarrow = useNarrow()
  const rowPx = view === 'tiles' ? TILE_PX : isNarrow ? NARROW_LINE_PX : LINE_PX
  const virtual = useVirtualizer({
    count: Math.ceil(total / columns),
    getScrollElement: () => scroller.current,
    estimateSize: () => rowPx,
    overscan: 6,
    onChange: ({ range }) => {
      if (!range) return
      const [from, to] = [range.startIndex * columns, (range.endIndex + 1) * columns]
      setSpan((before) => (before.from === from && before.to === to ? before : { from, to }))
    },
  })
  // biome-ignore lint/correctness/useExhaustiveDependencies: another view has other heights
  useLayoutEffect(() => virtual.measure(), [rowPx, columns])
  const items = virtual.getVirtualItems()

  /** Chooses from the anchor to a place; what lies between may not be on the page, and is asked for. */
  const chooseTo = useCallback(
    (anchor: number, to: number) => {
      const [from, last] = [Math.min(anchor, to), Math.max(anchor, to)]
      const ids: string[] = []
      for (let line = from; line <= last; line++) {
        const id = at(line)?.id
        if (id === undefined) break
        ids.push(id)
      }
      if (ids.length === last - from + 1) dispatch({ type: 'range', ids })
      else ask('range', () => loadIds(filter, sort, { from, to: last }))
    },
    [filter, sort, dispatch, ask, at],
  )
  const { anchor } = choice
  const onClick = useCallback(
    (event: { shiftKey: boolean }, index: number, id: string) => {
      scroller.current?.focus({ preventScroll: true })
      if (event.shiftKey) {
        dispatch({ type: 'move', to: index })
        chooseTo(anchor, index)
      } else dispatch({ type: 'toggle', index, id })
    },
    [dispatch, chooseTo, anchor],
  )
  const current = list.at(choice.at)
  const onKeyDown = useListKeys({
    total,
    currentId: current?.id,
    choice,
    dispatch,
    chooseTo,
    columns,
    act,
    onAll,
    show: (index) => virtual.scrollToIndex(Math.floor(index / columns)),
  })

  if (list.isPending && total === 0) return <Loading what="brushes" />
  if (list.error) return <LoadError error={list.error} onRetry={list.retry} />
  if (total === 0) return <NothingFound filter={filter} />
  const Item = view === 'tiles' ? BrushTile : BrushLine
  return (
    <div
      ref={scroller}
      role="listbox"
      aria-label="Brushes"
      aria-multiselectable="true"
      aria-activedescendant={current ? `line-${current.id}` : undefined}
      tabIndex={0}
      onKeyDown={onKeyDown}
      className="relative min-h-48 flex-1 overflow-auto rounded-10 border border-line bg-surface"
    >
      <div role="presentation" className="relative" style={{ height: virtual.getTotalSize() }}>
        {items.map((row) => (
          <div
            key={row.key}
            role="presentation"
            className={`absolute inset-x-0 top-0 ${view === 'tiles' ? 'grid gap-3 px-3 pt-3' : ''}`}
            style={{
              transform: `translateY(${row.start}px)`,
              ...(view === 'tiles' ? { gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` } : {}),
            }}
          >
            {Array.from({ length: columns }, (_, c) => {
              const index = row.index * columns + c
              const brush = list.at(index)
              if (!brush)
                return index < total ? (
                  <div
                    key={`wait-${index}`}
                    role="presentation"
                    style={{ height: rowPx }}
                    className="border-b border-line bg-surface"
                  />
                ) : null
              return (
                <Item
                  key={brush.id}
                  brush={brush}
                  index={index}
                  chosen={choice.chosen.has(brush.id)}
                  current={index === choice.at}
                  onClick={onClick}
                />
              )
            })}
          </div>
        ))}
      </div>
    </div>
  )
}

function useColumns(scroller: React.RefObject<HTMLDivElement | null>, view: View): number {
  const [columns, setColumns] = useState(1)
  useLayoutEffect(() => {
    const element = scroller.current?.parentElement ?? document.body
    const measure = () =>
      setColumns(view === 'tiles' ? Math.max(1, Math.floor(element.clientWidth / TILE_MIN_WIDTH_PX)) : 1)
    measure()
    const observer = new ResizeObserver(measure)
    observer.observe(element)
    return () => observer.disconnect()
  }, [scroller, view])
  return columns
}

/** On a phone the stroke has no room beside the name. */
function useNarrow(): boolean {
  const [isNarrow, setNarrow] = useState(() => window.matchMedia(NARROW).matches)
  useLayoutEffect(() => {
    const query = window.matchMedia(NARROW)
    const follow = () => setNarrow(query.matches)
    query.addEventListener('change', follow)
    return () => query.removeEventListener('change', follow)
  }, [])
  return isNarrow
}

/** As Tailwind's `max-sm`, which lays the lines out. */
const NARROW = '(width < 40rem)'

type KeyContext = {
  total: number
  currentId: string | undefined
  choice: Choice
  dispatch: Dispatch<ChoiceAction>
  chooseTo: (anchor: number, to: number) => void
  columns: number
  act: (name: ChosenAct) => void
  onAll: () => void
  show: (index: number) => void
}

function useListKeys({ total, currentId: id, choice, dispatch, chooseTo, columns, act, onAll, show }: KeyContext) {
  const navigate = useNavigate()
  return (event: KeyboardEvent) => {
    const go = (to: number) => {
      const target = Math.min(total - 1, Math.max(0, to))
      dispatch({ type: 'move', to: target })
      if (event.shiftKey) chooseTo(choice.anchor, target)
      show(target)
    }
    const mod = event.ctrlKey || event.metaKey
    if (mod && event.key !== 'a') return
    switch (event.key) {
      case 'ArrowDown':
        go(choice.at + columns)
        break
      case 'ArrowUp':
        go(choice.at - columns)
        break
      case 'ArrowRight':
        go(choice.at + 1)
        break
      case 'ArrowLeft':
        go(choice.at - 1)
        break
      case 'Home':
        go(0)
        break
      case 'End':
        go(total - 1)
        break
      case 'a':
        if (!mod) return
        onAll()
        break
      case 'x':
      case ' ':
        if (id) dispatch({ type: 'toggle', index: choice.at, id })
        break
      case 'Enter':
        if (id) void navigate(`/tune/${id}`)
        break
      case 'c':
        act('copy')
        break
      case 'm':
        act('move')
        break
      case 't':
        act('tag')
        break
      case 'p':
        act('pin')
        break
      case 'Delete':
        act('bin')
        break
      case 'Escape':
        dispatch({ type: 'none' })
        break
      default:
        return
    }
    event.preventDefault()
  }
}
