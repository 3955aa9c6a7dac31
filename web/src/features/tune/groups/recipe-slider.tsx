import { type NumberName, numberOf, RECIPE_NUMBERS, usualNumber, withNumber } from '@satchel/core/brush/recipe-numbers'
import { Slider } from '../../../components/controls.tsx'
import type { GroupProps } from './group-props.ts'

type Props = GroupProps & {
  name: NumberName
  /** What it is called here, where that is another word than usual. */
  label?: string
  frames?: number
  idle?: string | undefined
}

const round1 = (value: number) => Math.round(value * 10) / 10

/** A number of the recipe: what it is called, its unit and its bounds stand in core. Nothing where the recipe has no such part. */
export function RecipeSlider({ recipe, onChange, name, label, frames = 1, idle }: Props) {
  const row = RECIPE_NUMBERS[name]
  const value = numberOf(recipe, name)
  if (value === undefined) return null
  return (
    <Slider
      label={label ?? row.label}
      unit={row.unit}
      min={round1(row.from * row.per)}
      max={round1(row.to * row.per)}
      value={round1(value * row.per)}
      usual={round1(usualNumber(name, frames) * row.per)}
      eased={'eased' in row}
      idle={idle}
      onChange={(next) => onChange(withNumber(recipe, name, next / row.per))}
    />
  )
}
