import type { Recipe } from '@satchel/core/brush/recipe'
import { STARTING_POINTS, type StartingPoint } from '@satchel/core/brush/starting-points'
import { useEffect, useRef } from 'react'
import { Dialog } from '../../components/dialog.tsx'
import { toastError } from '../../components/toasts.tsx'
import type { InkedCanvas } from './canvas/use-stroke-canvas.ts'

const [WIDTH, HEIGHT] = [440, 64]

type Props = {
  open: boolean
  onOpenChange: (open: boolean) => void
  recipe: Recipe
  inked: InkedCanvas
  onChoose: (recipe: Recipe) => void
}

/** Ready recipes, each shown on the brush's own tip. */
export function StartingPoints({ open, onOpenChange, recipe, inked, onChoose }: Props) {
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="Starting points"
      description="Size, frames, reading and grain stay; everything else begins as shown, on this brush's own tip."
    >
      <ul className="grid gap-2">
        {STARTING_POINTS.map((point) => (
          <li key={point.name}>
            <PointCard
              point={point}
              recipe={recipe}
              inked={inked}
              onChoose={() => {
                onChoose(point.apply(recipe))
                onOpenChange(false)
              }}
            />
          </li>
        ))}
      </ul>
    </Dialog>
  )
}

function PointCard({
  point,
  recipe,
  inked,
  onChoose,
}: {
  point: StartingPoint
  recipe: Recipe
  inked: InkedCanvas
  onChoose: () => void
}) {
  const picture = useRef<HTMLCanvasElement>(null)
  const { canvas, ready } = inked
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked for again once pictures have arrived
  useEffect(() => {
    canvas.current
      ?.preview({ recipe: point.apply(recipe), width: WIDTH, height: HEIGHT })
      .then((pixels) => pixels && picture.current?.getContext('2d')?.putImageData(pixels, 0, 0), toastError)
  }, [canvas, point, recipe, ready])
  return (
    <button
      type="button"
      onClick={onChoose}
      className="grid w-full gap-1 rounded-10 border border-line bg-raised p-2 text-left hover:border-saddle"
    >
      <canvas ref={picture} width={WIDTH} height={HEIGHT} className="well h-16 w-full object-cover" aria-hidden />
      <span className="font-title text-18">{point.name}</span>
      <span className="text-13 text-quiet">{point.what}</span>
    </button>
  )
}
