import { useDraggable } from '@dnd-kit/core'
import { THUMBNAIL_SIZE } from '@satchel/core/brush/thumbnail'
import { memo, type PointerEventHandler } from 'react'
import { useNavigate } from 'react-router'
import { BehaviourMark } from '../../components/behaviour-mark.tsx'
import { QueuedPicture } from '../../components/queued-picture.tsx'
import type { BrushLineData } from '../../data/library.ts'
import { readingWord } from './words.ts'

export type LineProps = {
  brush: BrushLineData
  index: number
  chosen: boolean
  current: boolean
  onClick: (event: { shiftKey: boolean }, index: number, id: string) => void
}

const STROKE = { width: 420, height: 52 }

const sizeText = (sizePx: number) => `${Math.round(sizePx)} px`

/** Makes a line or tile draggable by the pointer; the keyboard copies with c instead. */
function useBrushDrag({ id, name }: BrushLineData) {
  const { setNodeRef, listeners } = useDraggable({ id: `brush ${id}`, data: { brushId: id, name } })
  // the library types its listeners as any function
  return { ref: setNodeRef, onPointerDown: listeners?.onPointerDown as PointerEventHandler | undefined }
}

/** One brush as a line of 60 px: box, tip, name and maker, a long stroke, size, reading, frames, tags. */
export const BrushLine = memo(function BrushLine({ brush, index, chosen, current, onClick }: LineProps) {
  const drag = useBrushDrag(brush)
  const navigate = useNavigate()
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list takes the keys
    <div
      {...drag}
      id={`line-${brush.id}`}
      role="option"
      tabIndex={-1}
      aria-selected={chosen}
      aria-label={`${brush.name}, ${sizeText(brush.sizePx)}, ${readingWord(brush.reading)}${brush.frames > 1 ? `, ${brush.frames} frames` : ''}`}
      onClick={(event) => onClick(event, index, brush.id)}
      onDoubleClick={() => void navigate(`/tune/${brush.id}`)}
      className={`grid h-[116px] touch-pan-y select-none grid-cols-[22px_44px_minmax(0,1fr)_auto] content-center items-center gap-x-3 gap-y-1.5 border-b border-line px-3 sm:h-[60px] sm:grid-cols-[22px_44px_minmax(120px,1fr)_minmax(120px,420px)_128px_minmax(0,120px)] sm:gap-3 ${chosen ? 'bg-[color-mix(in_srgb,var(--saddle)_12%,var(--surface))]' : 'hover:bg-raised'} ${current ? 'shadow-[inset_3px_0_0_var(--saddle)]' : ''}`}
    >
      <Box chosen={chosen} />
      <QueuedPicture
        src={`/api/brushes/${brush.id}/tip.png?v=${brush.revision}`}
        width={44}
        height={44}
        className="well h-11 w-11 object-contain p-0.5"
      />
      <span className="min-w-0">
        <span className="block truncate font-medium">{brush.name}</span>
        <span className="block truncate text-13 text-quiet">{brush.maker || 'no maker'}</span>
      </span>
      <span className="well order-last col-span-4 block h-[52px] overflow-clip sm:order-none sm:col-span-1">
        <QueuedPicture
          src={`/api/brushes/${brush.id}/stroke.png?size=line&v=${brush.version}-${brush.revision}`}
          {...STROKE}
          className="mx-auto h-[50px] object-contain"
        />
      </span>
      <span className="grid text-13 leading-tight">
        <span className="measure">
          {sizeText(brush.sizePx)} {brush.frames > 1 && <FrameMark frames={brush.frames} />}
        </span>
        <span className="truncate text-quiet">
          <BehaviourMark behaviour={brush.behaviour} />
          {brush.behaviour !== 'paint' && ' · '}
          {readingWord(brush.reading)}
        </span>
      </span>
      <span className="hidden truncate text-13 text-quiet sm:block">{brush.tags.join(', ')}</span>
    </div>
  )
})

/** One brush as a tile: its thumbnail large, its name below. */
export const BrushTile = memo(function BrushTile({ brush, index, chosen, current, onClick }: LineProps) {
  const drag = useBrushDrag(brush)
  const navigate = useNavigate()
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list takes the keys
    <div
      {...drag}
      id={`line-${brush.id}`}
      role="option"
      tabIndex={-1}
      aria-selected={chosen}
      aria-label={brush.name}
      onClick={(event) => onClick(event, index, brush.id)}
      onDoubleClick={() => void navigate(`/tune/${brush.id}`)}
      className={`grid touch-pan-y select-none gap-1.5 rounded-10 border p-2.5 ${chosen ? 'border-saddle bg-[color-mix(in_srgb,var(--saddle)_12%,var(--surface))]' : 'border-line bg-surface hover:bg-raised'} ${current ? 'shadow-[inset_0_3px_0_var(--saddle)]' : ''}`}
    >
      <span className="well grid h-[112px] place-content-center overflow-clip bg-[#f7f7f7]">
        <QueuedPicture
          src={`/api/brushes/${brush.id}/thumbnail.png?v=${brush.version}-${brush.revision}`}
          {...THUMBNAIL_SIZE}
          className="h-[110px] w-full object-contain"
        />
      </span>
      <span className="flex items-center gap-2">
        <Box chosen={chosen} />
        <span className="min-w-0 flex-1 truncate font-medium">{brush.name}</span>
        <span className="text-13 text-quiet">
          <BehaviourMark behaviour={brush.behaviour} />
        </span>
        {brush.frames > 1 && <FrameMark frames={brush.frames} />}
        <span className="measure text-quiet">{Math.round(brush.sizePx)}</span>
      </span>
    </div>
  )
})

function Box({ chosen }: { chosen: boolean }) {
  return (
    <span
      aria-hidden
      className={`grid h-[18px] w-[18px] place-content-center rounded-4 border text-12 leading-none ${chosen ? 'border-saddle bg-saddle text-on-saddle' : 'border-quiet bg-raised'}`}
    >
      {chosen ? '✓' : ''}
    </span>
  )
}

/** Tells at a glance that a brush holds several pictures. */
function FrameMark({ frames }: { frames: number }) {
  return (
    <span title={`${frames} frames`} className="measure rounded-4 border border-line px-1 text-12 text-slate">
      ×{frames}
    </span>
  )
}
