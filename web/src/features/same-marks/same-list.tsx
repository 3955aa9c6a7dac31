import { useQueries } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useRef } from 'react'
import type { useAct } from '../../acts/use-act.ts'
import { LoadError } from '../../components/states.tsx'
import { PAGE_GROUPS, type SameFilter, sameMarksQuery } from '../../data/same-marks.ts'
import { SameGroupView } from './same-group.tsx'

const GROUP_PX = 250

type Props = { filter: SameFilter; count: number; doing: ReturnType<typeof useAct> }

/** All groups of a kind; those in view are there. */
export function SameList({ filter, count, doing }: Props) {
  const box = useRef<HTMLElement>(null)
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => box.current,
    estimateSize: () => GROUP_PX,
    overscan: 2,
  })
  const items = virtual.getVirtualItems()
  const first = Math.floor((items[0]?.index ?? 0) / PAGE_GROUPS)
  const last = Math.floor((items.at(-1)?.index ?? 0) / PAGE_GROUPS)
  const pages = useQueries({
    queries: Array.from({ length: last - first + 1 }, (_, i) => sameMarksQuery(filter, first + i)),
  })
  const failed = pages.find(({ isError }) => isError)
  if (failed?.error) return <LoadError error={failed.error} onRetry={() => void failed.refetch()} />
  return (
    <section
      ref={box}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a list that scrolls must be reached by keyboard (WCAG 2.1.1)
      tabIndex={0}
      aria-label="Groups of same marks"
      className="min-h-64 flex-1 overflow-auto rounded-10 border border-line bg-surface"
    >
      <ul className="relative" style={{ height: virtual.getTotalSize() }}>
        {items.map(({ key, index, start }) => {
          const group = pages[Math.floor(index / PAGE_GROUPS) - first]?.data?.groups[index % PAGE_GROUPS]
          return (
            <li
              key={key}
              data-index={index}
              ref={virtual.measureElement}
              aria-setsize={count}
              aria-posinset={index + 1}
              className="absolute inset-x-0 top-0 border-b border-line"
              style={{ transform: `translateY(${start}px)` }}
            >
              {group ? (
                <SameGroupView key={group.root} group={group} doing={doing} />
              ) : (
                <div aria-hidden style={{ height: GROUP_PX }} />
              )}
            </li>
          )
        })}
      </ul>
    </section>
  )
}
