import { useState } from 'react'
import { plural } from '../../../components/format.ts'
import { VirtualList } from '../../../components/virtual-list.tsx'
import type { Choosable } from '../../../data/editions.ts'

const LINE_PX = 34

type Line = { key: string; brush: Choosable['brushes'][number]; under: string }

/** Brushes in the order of the release, under the names of their sets; one in two sets stands there twice. */
function linesOf({ brushes, sets, single }: Choosable): Line[] {
  const byId = new Map(brushes.map((brush) => [brush.id, brush]))
  const groups = [{ name: 'by themselves', brushes: single }, ...sets]
  return groups.flatMap(({ name, brushes: ids }, at) =>
    ids.flatMap((id) => {
      const brush = byId.get(id)
      return brush ? [{ key: `${at}-${id}`, brush, under: name }] : []
    }),
  )
}

type Props = {
  label: string
  from: Choosable
  isTicked: (id: string) => boolean
  /** What is said of a brush besides. */
  said?: (id: string) => string
  onTick: (ids: string[], isTicked: boolean) => void
  className?: string
}

/** Brushes to be ticked, one by one or all that a search shows. */
export function BrushTicks({ label, from, isTicked, said, onTick, className = '' }: Props) {
  const [words, setWords] = useState('')
  const typed = words.toLowerCase().split(' ').filter(Boolean)
  const lines = linesOf(from).filter(({ brush, under }) => {
    const text = [brush.name, under, ...brush.tags].join(' ').toLowerCase()
    return typed.every((word) => text.includes(word))
  })
  const ids = [...new Set(lines.map(({ brush }) => brush.id))]
  const ticked = ids.filter(isTicked).length
  return (
    <div className={`grid gap-2 ${className}`}>
      <div className="flex flex-wrap items-center gap-3">
        <input
          type="search"
          aria-label={`${label}: find`}
          placeholder="name, set or tag"
          value={words}
          onChange={(event) => setWords(event.target.value)}
          className="min-w-0 flex-1 rounded-4 border border-line bg-raised px-2.5 py-1.5 text-15"
        />
        <label className="flex items-center gap-2 text-13">
          <input
            type="checkbox"
            checked={ids.length > 0 && ticked === ids.length}
            ref={(box) => {
              if (box) box.indeterminate = ticked > 0 && ticked < ids.length
            }}
            disabled={ids.length === 0}
            onChange={() => onTick(ids, ticked < ids.length)}
          />
          {typed.length > 0 ? `all ${plural(ids.length, 'brush', 'brushes')} found` : 'all'}
        </label>
      </div>
      <VirtualList
        items={lines}
        keyOf={({ key }) => key}
        linePx={LINE_PX}
        label={label}
        className="h-72 rounded-6 border border-line bg-surface"
        lineClassName="px-3"
      >
        {({ brush, under }) => (
          <label className="flex min-h-8 items-center gap-2.5">
            <input
              type="checkbox"
              checked={isTicked(brush.id)}
              onChange={() => onTick([brush.id], !isTicked(brush.id))}
            />
            <span className="min-w-0 truncate">{brush.name}</span>
            <span className="ml-auto shrink-0 text-13 text-quiet">{said?.(brush.id) || under}</span>
          </label>
        )}
      </VirtualList>
      {lines.length === 0 && <p role="status">No brush has these words.</p>}
    </div>
  )
}
