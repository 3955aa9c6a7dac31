import { NOTE_MAX_CHARS } from '@satchel/core/pack/manifest'
import { Link } from 'react-router'
import { VirtualList } from '../../components/virtual-list.tsx'
import { setNote } from '../../data/packs.ts'
import { Kept } from './kept-text.tsx'
import { usePackChange } from './use-pack-change.ts'

type Brush = { id: string; name: string; setName: string; note: string }

const LINE_PX = 72

/** Every brush of a pack with what is said of it to whoever paints with it. */
export function BrushNotes({ packId, brushes }: { packId: string; brushes: readonly Brush[] }) {
  const change = usePackChange()
  return (
    <VirtualList
      items={brushes}
      keyOf={({ id }) => id}
      linePx={LINE_PX}
      label="Brushes"
      className="h-[calc(100dvh-260px)] min-h-64 rounded-10 border border-line bg-surface"
      lineClassName="grid grid-cols-1 items-center gap-x-4 px-3 py-1.5 sm:grid-cols-[minmax(0,1fr)_220px_minmax(0,1.4fr)]"
    >
      {({ id, name, setName, note }) => (
        <>
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
        </>
      )}
    </VirtualList>
  )
}
