import { type NumberName, numberOf, RECIPE_NUMBERS, usualNumber, withNumber } from '@satchel/core/brush/recipe-numbers'
import { NumberSlider } from '../../../components/number-slider.tsx'
import type { GroupProps } from './group-props.ts'

type Props = GroupProps & {
  name: NumberName
  /** What it is called here, where that is another word than usual. */
  label?: string
  frames?: number
  idle?: string | undefined
}

/** A number of the recipe: what it is called, its unit and its bounds stand in core. Nothing where the recipe has no such part. */
export function RecipeSlider({ recipe, onChange, name, label, frames = 1, idle }: Props) {
  const value = numberOf(recipe, name)
  if (value === undefined) return null
  return (
    <NumberSlider
      {...{ value, label, idle }}
      row={RECIPE_NUMBERS[name]}
      usual={usualNumber(name, frames)}
      onChange={(next) => onChange(withNumber(recipe, name, next))}
    />
  )
}
