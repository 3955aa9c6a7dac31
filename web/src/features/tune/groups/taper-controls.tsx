import type { GroupProps } from './group-props.ts'
import { RecipeSlider } from './recipe-slider.tsx'

/** How a stroke grows at its start and shrinks at its end: over which lengths, and by how much. */
export function TaperControls({ recipe, onChange }: GroupProps) {
  const { startPx, endPx } = recipe.path.taper
  const hasLength = startPx > 0 || endPx > 0
  const both = { recipe, onChange }
  return (
    <>
      <RecipeSlider name="path.taper.startPx" {...both} />
      <RecipeSlider name="path.taper.endPx" {...both} />
      <RecipeSlider name="path.taper.size" idle={hasLength ? undefined : 'Give the taper a length first.'} {...both} />
      <RecipeSlider name="path.taper.opacity" idle={hasLength ? undefined : ''} {...both} />
    </>
  )
}
