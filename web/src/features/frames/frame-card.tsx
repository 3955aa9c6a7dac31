import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { GripVertical, MoreVertical } from 'lucide-react'
import { Menu, type MenuItem } from '../../components/menu.tsx'
import type { ComparedFrames } from '../../data/frames.ts'

type Standing = ComparedFrames['standings'][number]
const BARS = [
  ['size', 'size'],
  ['tone', 'tone'],
  ['contrast', 'contrast'],
] as const

type Props = {
  id: string
  place: number
  picture: string
  /** Shown with its longer side at so many px; as large as there is room by default. */
  sidePx: number | undefined
  standing: Standing | undefined
  hasShadow: boolean
  /** What can be done with it. */
  acts: readonly (MenuItem | 'line')[]
}

/** A frame with its bars against the band of the others; it can be dragged, and has a menu. */
export function FrameCard({ id, place, picture, sidePx, standing, hasShadow, acts }: Props) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({
    id,
    data: { name: `frame ${place + 1}` },
  })
  const isOutside = standing && Object.values(standing).some((each) => each.isOutside)
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(transform), transition }}
      className={`grid min-w-36 content-start gap-2 rounded-10 border bg-surface p-2 ${isOutside ? 'border-amber' : 'border-line'} ${isDragging ? 'z-10 shadow-lift' : ''}`}
    >
      <div className="well grid min-h-28 place-content-center">
        <img
          src={picture}
          alt={`Frame ${place + 1}`}
          className="object-contain"
          style={sidePx === undefined ? { maxHeight: 104, maxWidth: 120 } : { width: sidePx, height: sidePx }}
        />
      </div>
      <div className="flex items-center justify-between">
        <button
          type="button"
          {...attributes}
          {...listeners}
          aria-label={`Move frame ${place + 1}`}
          className="inline-flex cursor-grab items-center gap-1 rounded-4 px-1 py-0.5 text-13 hover:bg-ground"
        >
          <GripVertical size={18} aria-hidden /> <span className="measure">{place + 1}</span>
        </button>
        <Menu
          label={`Frame ${place + 1}`}
          items={acts}
          trigger={
            <button
              type="button"
              aria-label={`More for frame ${place + 1}`}
              title="More"
              className="rounded-4 p-1 hover:bg-ground"
            >
              <MoreVertical size={18} aria-hidden />
            </button>
          }
        />
      </div>
      {standing && (
        <dl className="grid grid-cols-[auto_1fr] items-center gap-x-2 gap-y-1 text-12">
          {BARS.map(([measure, word]) => (
            <Bar key={measure} word={word} standing={standing[measure]} />
          ))}
        </dl>
      )}
      {hasShadow && <p className="text-12 text-amber">its shadow is grey</p>}
    </li>
  )
}

/** A measure as a mark on a line; the band is where the others lie. */
function Bar({ word, standing: { value, usual, reach, isOutside } }: { word: string; standing: Standing['size'] }) {
  // the line shows three reaches to each side of what is usual
  const at = (number: number) => `${Math.min(100, Math.max(0, 50 + ((number - usual) / (reach || 1)) * (50 / 3)))}%`
  return (
    <>
      <dt className={isOutside ? 'text-amber' : 'text-quiet'}>{word}</dt>
      <dd className="relative h-2 rounded-4 bg-ground">
        <span className="sr-only">
          {isOutside ? 'outside the band of the others' : 'inside the band of the others'}
        </span>
        <span className="absolute inset-y-0 rounded-4 bg-line" style={{ left: at(usual - reach), width: '33.3%' }} />
        <span
          className={`absolute -inset-y-0.5 w-1 -translate-x-1/2 rounded-4 ${isOutside ? 'bg-amber' : 'bg-moss'}`}
          style={{ left: at(value) }}
        />
      </dd>
    </>
  )
}
