import { useVirtualizer } from '@tanstack/react-virtual'
import { useRef } from 'react'
import { LoadError } from '../../../components/states.tsx'
import { toastError } from '../../../components/toasts.tsx'
import { decide, ledgerQuery } from '../../../data/gather.ts'
import { useRefresh } from '../../../data/use-refresh.ts'
import { useLineWindow } from '../use-line-window.ts'
import { JoinedBrush } from './joined-brush.tsx'

const BRUSH_PX = 330

/** All brushes of a ledger that were changed here and by their makers; those in view are there. */
export function JoinedList({ id, count }: { id: string; count: number }) {
  const refresh = useRefresh()
  const box = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => box.current,
    estimateSize: () => BRUSH_PX,
    overscan: 3,
  })
  const items = virtual.getVirtualItems()
  const lines = useLineWindow(id, { from: items[0]?.index ?? 0, to: items.at(-1)?.index ?? 0 }, 'joined')
  if (lines.error) return <LoadError error={lines.error} onRetry={lines.retry} />
  return (
    <section
      ref={box}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a list that scrolls must be reached by keyboard (WCAG 2.1.1)
      tabIndex={0}
      aria-label="Brushes that both changed"
      className="min-h-64 flex-1 overflow-auto rounded-10 border border-line bg-surface"
    >
      <ul className="relative" style={{ height: virtual.getTotalSize() }}>
        {items.map(({ key, index, start }) => {
          const line = lines.at(index)
          return (
            <li
              key={key}
              data-index={index}
              ref={virtual.measureElement}
              className="absolute inset-x-0 top-0 border-b border-line"
              style={{ transform: `translateY(${start}px)` }}
            >
              {line?.taken ? (
                <JoinedBrush
                  gatherId={id}
                  line={{ ...line, taken: line.taken }}
                  onDecide={async (decision) => {
                    try {
                      await decide(id, { ids: [line.id] }, { decision, outcome: 'take' })
                    } catch (error) {
                      toastError(error)
                    }
                    await refresh(ledgerQuery(id).queryKey)
                  }}
                />
              ) : (
                <div aria-hidden style={{ height: BRUSH_PX }} />
              )}
            </li>
          )
        })}
      </ul>
    </section>
  )
}
