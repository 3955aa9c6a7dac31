import { NOTE_MAX_CHARS } from '@satchel/core/pack/manifest'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useRef } from 'react'
import { Link } from 'react-router'
import { setNote } from '../../data/packs.ts'
import { Kept } from './kept-text.tsx'
import { usePackChange } from './use-pack-change.ts'

type Brush = { id: string; name: string; setName: string; note: string }

const LINE_PX = 72

/** Every brush of a pack with what is said of it to whoever paints with it. */
export function BrushNotes({ packId, brushes }: { packId: string; brushes: readonly Brush[] }) {
  const change = usePackChange()
  const box = useRef<HTMLDivElement>(null)
  const lines = useVirtualizer({
    count: brushes.length,
    getScrollElement: () => box.current,
    estimateSize: () => LINE_PX,
    overscan: 8,
    getItemKey: (at) => brushes[at]?.id ?? at,
  })
  return (
    <div ref={box} className="h-[calc(100dvh-260px)] min-h-64 overflow-y-auto rounded-10 border border-line bg-surface">
      <ul className="relative" style={{ height: lines.getTotalSize() }}>
        {lines.getVirtualItems().map(({ key, index, start }) => {
          const brush = brushes[index]
          if (!brush) return null
          const { id, name, setName, note } = brush
          return (
            <li
              key={key}
              data-index={index}
              ref={lines.measureElement}
              style={{ transform: `translateY(${start}px)` }}
              className="absolute inset-x-0 grid grid-cols-1 items-center gap-x-4 border-b border-line px-3 py-1.5 sm:grid-cols-[minmax(0,1fr)_220px_minmax(0,1.4fr)]"
            >
              <span className="min-w-0">
                <Link to={`/tune/${id}`} className="block truncate font-medium hover:underline">
                  {name}
                </Link>
                <span className="block truncate text-13 text-quiet">{setName === '' ? 'by itself' : setName}</span>
              </span>
              <img
                src={`/api/brushes/${id}/stroke.png`}
                alt=""
                loading="lazy"
                decoding="async"
                className="well h-12 w-full object-contain"
              />
              <Kept
                label={`Note on ${name}`}
                value={note}
                maxLength={NOTE_MAX_CHARS}
                onKeep={(text, was) => void change(() => setNote(packId, id, text, was))}
              />
            </li>
          )
        })}
      </ul>
    </div>
  )
}
