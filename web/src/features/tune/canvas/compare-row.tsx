import type { Recipe } from '@satchel/core/brush/recipe'
import type { Rgb } from '@satchel/core/raster/srgb'
import { useQuery } from '@tanstack/react-query'
import { Pin, X } from 'lucide-react'
import { type ReactNode, useEffect, useMemo, useRef } from 'react'
import { Link } from 'react-router'
import { BehaviourMark } from '../../../components/behaviour-mark.tsx'
import { LoadError } from '../../../components/states.tsx'
import { type Brush, brushQuery } from '../../../data/brush.ts'
import type { Look } from '../../../workers/stroke/protocol.ts'
import { useStrokeCanvas } from './use-stroke-canvas.ts'

type Shared = {
  /** One size for all, px; undefined leaves each its own. */
  sizePx: number | undefined
  colour: Rgb
  grey: number
}
type Props = Shared & { id: string; onPin: () => void; onLeave: () => void }

/** One brush of a comparison: its name, and the same stroke as all the others. */
export function CompareRow({ id, onPin, onLeave, ...shared }: Props) {
  const brush = useQuery(brushQuery(id))
  return (
    <article className="grid items-center gap-3 border-b border-line py-2 wide:grid-cols-[200px_minmax(0,1fr)_auto]">
      {brush.isError && <LoadError error={brush.error} onRetry={() => void brush.refetch()} />}
      {brush.data && (
        <>
          <div className="min-w-0">
            <h2 className="truncate font-title text-18">
              <Link to={`/tune/${id}`} className="hover:text-saddle">
                {brush.data.name}
              </Link>
            </h2>
            <p className="truncate text-13 text-quiet">{brush.data.maker || 'no maker'}</p>
            <p className="text-13 text-quiet">
              <span className="measure">{Math.round(shared.sizePx ?? brush.data.recipe.mark.sizePx)} px</span>{' '}
              <BehaviourMark behaviour={brush.data.behaviour} />
            </p>
          </div>
          <ComparedStroke brush={brush.data} {...shared} />
          <div className="flex flex-wrap gap-1 wide:grid">
            <RowButton onClick={onPin} name={brush.data.name}>
              <Pin size={18} aria-hidden /> Pin
            </RowButton>
            <RowButton onClick={onLeave} name={brush.data.name}>
              <X size={18} aria-hidden /> Leave out
            </RowButton>
          </div>
        </>
      )}
    </article>
  )
}

function RowButton({ onClick, name, children }: { onClick: () => void; name: string; children: ReactNode }) {
  return (
    <button
      type="button"
      onClick={onClick}
      className="inline-flex items-center gap-1 rounded-4 px-2 py-1 text-13 text-quiet hover:bg-raised"
    >
      {children}
      <span className="sr-only"> {name}</span>
    </button>
  )
}

const STROKE_HEIGHT_PX = 104

function ComparedStroke({ brush, sizePx, colour, grey }: Shared & { brush: Brush }) {
  const recipe = useMemo<Recipe>(
    () => (sizePx === undefined ? brush.recipe : { ...brush.recipe, mark: { ...brush.recipe.mark, sizePx } }),
    [brush.recipe, sizePx],
  )
  const look: Look = { recipe, show: 'after', splitAt: 0, colour, backdrop: grey, strokes: 'line' }
  const { element, canvas, isPainted } = useStrokeCanvas(
    { frames: brush.pictures, grainBlob: brush.grain?.blobSha },
    look,
  )
  const frame = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (!frame.current) return
    const observer = new ResizeObserver(([entry]) => {
      if (entry) canvas.current?.resize(Math.round(entry.contentRect.width), STROKE_HEIGHT_PX)
    })
    observer.observe(frame.current)
    return () => observer.disconnect()
  }, [canvas])
  return (
    <div ref={frame} className="well overflow-clip" style={{ height: STROKE_HEIGHT_PX }}>
      <canvas
        ref={element}
        role="img"
        aria-label={`Stroke of ${brush.name}`}
        data-testid="compared"
        className={`block max-w-none touch-none cursor-crosshair ${isPainted ? '' : 'invisible'}`}
      />
    </div>
  )
}
