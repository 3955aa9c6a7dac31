import { RECIPE_PARTS, usesGroup } from '@satchel/core/brush/parts'
import { pointsRange, type Recipe, spreadRange, turnRange } from '@satchel/core/brush/recipe'
import { Group } from '../../../components/controls.tsx'
import { RangeSlider } from '../../../components/range-slider.tsx'
import { type GroupProps, percent } from './group-props.ts'

type Part = keyof Recipe['variation']
type Range = { from: number; to: number }

const FACTORS = [
  { part: 'size', max: 200 },
  { part: 'squash', max: 100 },
  { part: 'opacity', max: 100 },
  { part: 'flow', max: 100 },
] as const
const TURNS = ['angle', 'hue'] as const
const POINTS = ['saturation', 'value'] as const

const WHOLE = { from: 100, to: 100 }
const NONE = { from: 0, to: 0 }
const labelOf = (part: Part) => RECIPE_PARTS.variation[part].label

/** Random change from stamp to stamp, each between two ends. */
export function VariationGroup({ recipe, onChange }: GroupProps) {
  const { variation, colour } = recipe
  const set = (part: Part, value: Range) => onChange({ ...recipe, variation: { ...variation, [part]: value } })
  const ribbon = recipe.path.ribbon ? 'A ribbon has no stamps to vary.' : undefined
  const colourless = colour.behaviour === 'paint' ? undefined : 'What erases or smears has no colour of its own.'
  return (
    <Group title="Variation" note="random change" inUse={usesGroup(recipe, 'variation')}>
      {FACTORS.map(({ part, max }) => {
        const { from, to } = spreadRange(variation[part])
        return (
          <RangeSlider
            key={part}
            label={labelOf(part)}
            unit="%"
            min={0}
            max={max}
            value={{ from: percent(from), to: percent(to) }}
            usual={WHOLE}
            idle={part === 'size' ? ribbon : ribbon && ''}
            onChange={(range) => set(part, { from: range.from / 100, to: range.to / 100 })}
          />
        )
      })}
      {TURNS.map((part) => {
        const { from, to } = turnRange(variation[part])
        return (
          <RangeSlider
            key={part}
            label={labelOf(part)}
            unit="°"
            min={-180}
            max={180}
            value={{ from: Math.round(from), to: Math.round(to) }}
            usual={NONE}
            idle={(ribbon && '') ?? (part === 'hue' ? colourless : undefined)}
            onChange={(range) => set(part, range)}
          />
        )
      })}
      {POINTS.map((part) => (
        <RangeSlider
          key={part}
          label={labelOf(part)}
          unit="pt"
          min={-100}
          max={100}
          value={pointsRange(variation[part])}
          usual={NONE}
          idle={(ribbon ?? colourless) && ''}
          onChange={(range) => set(part, range)}
        />
      ))}
    </Group>
  )
}
