import type { Recipe } from '@satchel/core/brush/recipe'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { plural } from '../../components/format.ts'
import { PixelsCanvas } from '../../components/pixels-canvas.tsx'
import { brushQuery } from '../../data/brush.ts'
import { materialQuery } from '../../data/materials.ts'
import { loadPicture } from '../../data/pictures.ts'
import { openGrainBench } from '../../workers/grain/grain-bench.ts'
import type { GrainTile } from '../../workers/grain/protocol.ts'
import type { Shown } from '../../workers/shown.ts'

/** Brushes that are shown; more would make everybody wait. */
const SHOWN_MAX = 6
const STROKE = { width: 420, height: 52 }

/** What another grain does to the brushes that use this one: the stroke of each, now and then. */
export function BrushesAfter({ grainId, tile }: { grainId: string; tile: GrainTile | undefined }) {
  const material = useQuery(materialQuery(grainId))
  const brushes = material.data?.brushes ?? []
  if (material.isError) return <p className="text-13 text-madder">{material.error.message}</p>
  return (
    <section aria-label="What it does to brushes" className="grid gap-2">
      {brushes.slice(0, SHOWN_MAX).map(({ id, name }) => (
        <BrushAfter key={id} id={id} name={name} tile={tile} />
      ))}
      {brushes.length > SHOWN_MAX && (
        <p className="text-13 text-quiet">And {plural(brushes.length - SHOWN_MAX, 'more brush', 'more brushes')}.</p>
      )}
    </section>
  )
}

function BrushAfter({ id, name, tile }: { id: string; name: string; tile: GrainTile | undefined }) {
  const brush = useQuery(brushQuery(id))
  const after = useStrokeWith(brush.data, tile)
  return (
    <div className="grid gap-1 sm:grid-cols-[7rem_minmax(0,1fr)_minmax(0,1fr)] sm:items-center sm:gap-3">
      <span className="truncate text-13">{name}</span>
      <img src={`/api/brushes/${id}/stroke.png`} alt={`${name} now`} className="well h-12 w-full object-contain" />
      {after ? (
        <PixelsCanvas
          pixels={after}
          label={`${name} with the other grain`}
          className="well h-12 w-full object-contain"
        />
      ) : (
        <span className="well grid h-12 place-content-center text-12 text-[#555555]">painting …</span>
      )}
    </div>
  )
}

type Painted = { recipe: unknown; pictures: readonly { blobSha: string }[] }

function useStrokeWith(brush: Painted | undefined, tile: GrainTile | undefined) {
  const [stroke, setStroke] = useState<Shown>()
  useEffect(() => {
    if (!brush || !tile) return
    const bench = openGrainBench()
    let gone = false
    Promise.all(brush.pictures.map(({ blobSha }) => loadPicture(blobSha)))
      .then((frames) => bench.ask('stroke', { frames, grain: tile.png, recipe: brush.recipe as Recipe, ...STROKE }))
      .then((shown) => {
        if (!gone) setStroke(shown)
      })
      .catch(() => undefined) // without it the change can still be made; the stroke now stays
    return () => {
      gone = true
      bench.close()
    }
  }, [brush, tile])
  return stroke
}
