import { useVirtualizer } from '@tanstack/react-virtual'
import { type ReactNode, useRef } from 'react'

type Props<Item> = {
  items: readonly Item[]
  keyOf: (item: Item, index: number) => string | number
  /** About how high a line is; what it is in the end is measured. */
  linePx: number
  /** What is listed, for those who cannot see it. */
  label: string
  /** The box that scrolls: it says how high it is. */
  className: string
  lineClassName: string
  children: (item: Item, index: number) => ReactNode
}

/** A list of any length in a box that scrolls: only the lines in view are there. */
export function VirtualList<Item>({ items, keyOf, linePx, label, className, lineClassName, children }: Props<Item>) {
  const box = useRef<HTMLDivElement>(null)
  const lines = useVirtualizer({
    count: items.length,
    getScrollElement: () => box.current,
    estimateSize: () => linePx,
    overscan: 8,
    getItemKey: (at) => {
      const item = items[at]
      return item === undefined ? at : keyOf(item, at)
    },
  })
  return (
    <div ref={box} className={`overflow-y-auto ${className}`}>
      <ul className="relative" style={{ height: lines.getTotalSize() }} aria-label={label}>
        {lines.getVirtualItems().map(({ key, index, start }) => {
          const item = items[index]
          if (item === undefined) return null
          return (
            <li
              key={key}
              data-index={index}
              ref={lines.measureElement}
              style={{ transform: `translateY(${start}px)` }}
              className={`absolute inset-x-0 border-b border-line ${lineClassName}`}
            >
              {children(item, index)}
            </li>
          )
        })}
      </ul>
    </div>
  )
}
