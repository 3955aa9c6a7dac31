import { useQueries } from '@tanstack/react-query'
import { useWindowVirtualizer } from '@tanstack/react-virtual'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { useLayoutEffect, useMemo, useRef, useState } from 'react'
import { usePageEnds } from '../../components/use-page-ends.ts'
import { cellsQuery, type KnownDestination, type Order, PAGE, pageQuery } from '../../data/fit.ts'
import { MatrixRow, type SaidCell } from './matrix-row.tsx'

const ROW_PX = 60
/** Cells are asked for by so many rows at once: those in view come first. */
const BLOCK = 12

type Props = {
  destinations: readonly KnownDestination[]
  order: Order
  total: number
  onSort: (destinationId: string) => void
  onOpen: (brushId: string, destinationId: string) => void
}

/** Brushes down, destinations across. Only the rows in view are on the page, and only their cells are asked for. */
export function Matrix({ destinations, order, total, onSort, onOpen }: Props) {
  const body = useRef<HTMLTableSectionElement>(null)
  const [top, setTop] = useState(0)
  useLayoutEffect(() => {
    const element = body.current
    if (!element) return
    const measure = () => setTop(element.getBoundingClientRect().top + window.scrollY)
    const watch = new ResizeObserver(measure)
    watch.observe(document.body)
    measure()
    return () => watch.disconnect()
  }, [])
  const virtual = useWindowVirtualizer({ count: total, estimateSize: () => ROW_PX, overscan: 4, scrollMargin: top })
  usePageEnds(virtual, total)
  const rows = virtual.getVirtualItems()
  const brushAt = usePages(
    order,
    rows.map(({ index }) => index),
  )
  const cellOf = useCells(rows.flatMap(({ index }) => brushAt(index)?.id ?? []))
  const columns = { gridTemplateColumns: `minmax(240px, 1fr) repeat(${destinations.length}, minmax(104px, 150px))` }
  return (
    <table aria-label="Likeness" aria-rowcount={total + 1} className="block min-w-fit">
      <thead className="z-10 block lg:sticky lg:top-[52px] border-b border-line bg-ground text-13">
        <tr className="grid items-end" style={columns}>
          <th scope="col" className="px-2 py-1.5 text-left font-normal text-quiet">
            Brush
          </th>
          {destinations.map(({ id, description: { name, appVersion } }) => (
            <ColumnHead key={id} {...{ id, name, order, onSort }} version={appVersion} />
          ))}
        </tr>
      </thead>
      <tbody ref={body} className="relative block" style={{ height: virtual.getTotalSize() }}>
        {rows.map(({ index, start }) => {
          const brush = brushAt(index)
          return (
            <tr
              key={index}
              aria-rowindex={index + 2}
              className="absolute inset-x-0 top-0 grid items-center border-b border-line"
              style={{ ...columns, height: ROW_PX, transform: `translateY(${start - top}px)` }}
            >
              {brush && <MatrixRow {...{ brush, destinations, cellOf, onOpen }} />}
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}

type HeadProps = { id: string; name: string; version: string; order: Order; onSort: (id: string) => void }

function ColumnHead({ id, name, version, order, onSort }: HeadProps) {
  const isBy = order.by === id
  return (
    <th
      scope="col"
      aria-sort={isBy ? (order.worst ? 'ascending' : 'descending') : 'none'}
      className="min-w-0 px-2 py-1.5 font-normal"
    >
      <button
        type="button"
        onClick={() => onSort(id)}
        title={`Sort by likeness in ${name}`}
        className={`flex w-full min-w-0 items-center gap-1 text-left hover:text-saddle ${isBy ? 'font-semibold text-saddle' : ''}`}
      >
        <span className="truncate">{name}</span>
        <span className="text-12 text-quiet">{version}</span>
        {isBy && (order.worst ? <ArrowUp size={14} aria-hidden /> : <ArrowDown size={14} aria-hidden />)}
      </button>
    </th>
  )
}

type Brush = { id: string; name: string; maker: string; behaviour: string; version: number }

/** The brushes of the rows in view, page by page. */
function usePages(order: Order, indexes: readonly number[]): (index: number) => Brush | undefined {
  const pages = [...new Set(indexes.map((index) => Math.floor(index / PAGE)))]
  const answers = useQueries({ queries: pages.map((page) => pageQuery(order, page)) })
  const byPage = new Map(pages.map((page, i) => [page, answers[i]?.data?.brushes]))
  return (index) => byPage.get(Math.floor(index / PAGE))?.[index % PAGE]
}

/** What is known of the cells in view. */
function useCells(brushIds: readonly string[]): (brushId: string, destinationId: string) => SaidCell | undefined {
  const blocks = useMemo(() => {
    const out: string[][] = []
    for (let at = 0; at < brushIds.length; at += BLOCK) out.push(brushIds.slice(at, at + BLOCK))
    return out
  }, [brushIds])
  const answers = useQueries({ queries: blocks.map((ids) => cellsQuery(ids)) })
  const known = new Map<string, SaidCell>()
  for (const { data } of answers)
    for (const { brushId, destinationId, said } of data?.cells ?? []) known.set(`${brushId} ${destinationId}`, { said })
  return (brushId, destinationId) => known.get(`${brushId} ${destinationId}`)
}
