import { useInfiniteQuery, useQuery } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import {
  type Dispatch,
  type KeyboardEvent,
  useCallback,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from 'react'
import { useNavigate } from 'react-router'
import { LoadError, Loading } from '../../components/states.tsx'
import { BrushLine, BrushTile } from './brush-line.tsx'
import type { Choice, ChoiceAction } from './choice.ts'
import type { Filter, Sort, View } from './filter.ts'
import { NothingFound } from './nothing-found.tsx'
import { brushCountQuery, brushPagesQuery } from './queries.ts'

const LINE_PX = 60
const TILE_PX = 172
const TILE_MIN_WIDTH_PX = 260

export type ListKeys = {
  copy: () => void
  move: () => void
  tag: () => void
  pin: () => void
  bin: () => void
  all: () => void
}

type Props = {
  filter: Filter
  sort: Sort
  view: View
  choice: Choice
  dispatch: Dispatch<ChoiceAction>
  keys: ListKeys
}

/** The library's lines or tiles: only what is visible is on the page, and pages are fetched as they come into view. */
export function BrushList({ filter, sort, view, choice, dispatch, keys }: Props) {
  const pages = useInfiniteQuery(brushPagesQuery(filter, sort))
  const count = useQuery(brushCountQuery(filter))
  const brushes = useMemo(() => pages.data?.pages.flatMap((page) => page.brushes) ?? [], [pages.data])
  const total = Math.max(brushes.length, count.data?.count ?? 0)
  const scroller = useRef<HTMLDivElement>(null)
  const columns = useColumns(scroller, view)
  const virtual = useVirtualizer({
    count: Math.ceil(total / columns),
    getScrollElement: () => scroller.current,
    estimateSize: () => (view === 'tiles' ? TILE_PX : LINE_PX),
    overscan: 6,
  })
  // biome-ignore lint/correctness/useExhaustiveDependencies: another view has other heights
  useLayoutEffect(() => virtual.measure(), [view, columns])
  const items = virtual.getVirtualItems()
  const lastShown = ((items.at(-1)?.index ?? 0) + 1) * columns
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = pages
  useEffect(() => {
    if (lastShown >= brushes.length && hasNextPage && !isFetchingNextPage) void fetchNextPage()
  }, [lastShown, brushes.length, hasNextPage, isFetchingNextPage, fetchNextPage])

  const ids = useMemo(() => brushes.map((brush) => brush.id), [brushes])
  const latestIds = useRef(ids)
  latestIds.current = ids
  const onClick = useCallback(
    (event: { shiftKey: boolean }, index: number, id: string) => {
      scroller.current?.focus({ preventScroll: true })
      if (event.shiftKey) dispatch({ type: 'range', to: index, ids: latestIds.current })
      else dispatch({ type: 'toggle', index, id })
    },
    [dispatch],
  )
  const onKeyDown = useListKeys({
    ids,
    choice,
    dispatch,
    columns,
    keys,
    show: (index) => virtual.scrollToIndex(Math.floor(index / columns)),
  })

  if (pages.isPending) return <Loading what="brushes" />
  if (pages.isError) return <LoadError error={pages.error} onRetry={() => void pages.refetch()} />
  if (brushes.length === 0) return <NothingFound filter={filter} />
  const current = brushes[choice.at]
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
      className="min-h-48 flex-1 overflow-auto rounded-10 border border-line bg-surface"
    >
      <div
        role="presentation"
        className={`relative ${view === 'lines' ? 'min-w-[720px]' : ''}`}
        style={{ height: virtual.getTotalSize() }}
      >
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
              const brush = brushes[index]
              if (!brush)
                return index < total ? (
                  <div key={`wait-${index}`} role="presentation" className="h-[60px] border-b border-line bg-surface" />
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

type KeyContext = {
  ids: string[]
  choice: Choice
  dispatch: Dispatch<ChoiceAction>
  columns: number
  keys: ListKeys
  show: (index: number) => void
}

function useListKeys({ ids, choice, dispatch, columns, keys, show }: KeyContext) {
  const navigate = useNavigate()
  return (event: KeyboardEvent) => {
    const id = ids[choice.at]
    const go = (to: number) => {
      const target = Math.min(ids.length - 1, Math.max(0, to))
      if (event.shiftKey) dispatch({ type: 'range', to: target, ids })
      else dispatch({ type: 'move', to: target })
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
        go(ids.length - 1)
        break
      case 'a':
        if (!mod) return
        keys.all()
        break
      case 'x':
      case ' ':
        if (id) dispatch({ type: 'toggle', index: choice.at, id })
        break
      case 'Enter':
        if (id) void navigate(`/tune/${id}`)
        break
      case 'c':
        keys.copy()
        break
      case 'm':
        keys.move()
        break
      case 't':
        keys.tag()
        break
      case 'p':
        keys.pin()
        break
      case 'Delete':
        keys.bin()
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
