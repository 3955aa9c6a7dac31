import { useWindowVirtualizer } from '@tanstack/react-virtual'
import { useLayoutEffect, useRef, useState } from 'react'
import { usePageEnds } from '../../../components/use-page-ends.ts'
import type { SourceEntry } from '../../../data/sources.ts'
import { type SourceActs, SourceCard } from './source-card.tsx'

const CARD_MIN_PX = 260
const GAP_PX = 16
/** A card with a line of what was made; the others are measured. */
const CARD_PX = 310

/** All sources in rows: only those in view are on the page. */
export function SourceGrid({ sources, ...acts }: { sources: readonly SourceEntry[] } & SourceActs) {
  const grid = useRef<HTMLUListElement>(null)
  const [{ columns, top }, setPlace] = useState({ columns: 1, top: 0 })
  useLayoutEffect(() => {
    const element = grid.current
    if (!element) return
    const measure = () => {
      const { width, top: at } = element.getBoundingClientRect()
      setPlace({
        columns: Math.max(1, Math.floor((width + GAP_PX) / (CARD_MIN_PX + GAP_PX))),
        top: at + window.scrollY,
      })
    }
    const watch = new ResizeObserver(measure)
    watch.observe(element)
    return () => watch.disconnect()
  }, [])
  const virtual = useWindowVirtualizer({
    count: Math.ceil(sources.length / columns),
    estimateSize: () => CARD_PX,
    overscan: 2,
    gap: GAP_PX,
    scrollMargin: top,
  })
  usePageEnds(virtual, Math.ceil(sources.length / columns))
  return (
    <ul ref={grid} aria-label="Sources" className="relative" style={{ height: virtual.getTotalSize() }}>
      {virtual.getVirtualItems().map((row) => (
        <li
          key={row.key}
          ref={virtual.measureElement}
          data-index={row.index}
          className="absolute inset-x-0 top-0"
          style={{ transform: `translateY(${row.start - top}px)` }}
        >
          <ul className="grid gap-4" style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}>
            {sources.slice(row.index * columns, (row.index + 1) * columns).map((source) => (
              <li key={source.id}>
                <SourceCard source={source} {...acts} />
              </li>
            ))}
          </ul>
        </li>
      ))}
    </ul>
  )
}
