import { pointsRange, type Recipe, spreadRange, turnRange } from '@satchel/core/brush/recipe'
import { RangeSlider } from '../../../components/range-slider.tsx'
import { Group } from '../controls.tsx'
import { type GroupProps, percent } from './group-props.ts'

type Part = keyof Recipe['variation']
type Range = { from: number; to: number }

const FACTORS: readonly { part: 'size' | 'squash' | 'opacity' | 'flow'; label: string; max: number }[] = [
  { part: 'size', label: 'Size', max: 200 },
  { part: 'squash', label: 'Squash', max: 100 },
  { part: 'opacity', label: 'Opacity', max: 100 },
  { part: 'flow', label: 'Flow', max: 100 },
]
const TURNS: readonly { part: 'angle' | 'hue'; label: string }[] = [
  { part: 'angle', label: 'Angle' },
  { part: 'hue', label: 'Hue' },
]
const POINTS: readonly { part: 'saturation' | 'value'; label: string }[] = [
  { part: 'saturation', label: 'Saturation' },
  { part: 'value', label: 'Value' },
]

const WHOLE = { from: 100, to: 100 }
const NONE = { from: 0, to: 0 }

export function isVaried({ variation }: Recipe): boolean {
  const ranges = [
    ...FACTORS.map(({ part }) => spreadRange(variation[part])).map(({ from, to }) => from === 1 && to === 1),
    ...TURNS.map(({ part }) => turnRange(variation[part])).map(({ from, to }) => from === 0 && to === 0),
    ...POINTS.map(({ part }) => pointsRange(variation[part])).map(({ from, to }) => from === 0 && to === 0),
  ]
  return ranges.includes(false)
}

/** Random change from stamp to stamp, each between two ends. */
export function VariationGroup({ recipe, onChange }: GroupProps) {
  const { variation, colour } = recipe
  const set = (part: Part, value: Range) => onChange({ ...recipe, variation: { ...variation, [part]: value } })
  const ribbon = recipe.path.ribbon ? 'A ribbon has no stamps to vary.' : undefined
  const colourless = colour.behaviour === 'paint' ? undefined : 'What erases or smears has no colour of its own.'
  return (
    <Group title="Variation" note="random change" inUse={isVaried(recipe)}>
      {FACTORS.map(({ part, label, max }) => {
        const { from, to } = spreadRange(variation[part])
        return (
          <RangeSlider
            key={part}
            label={label}
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
      {TURNS.map(({ part, label }) => {
        const { from, to } = turnRange(variation[part])
        return (
          <RangeSlider
            key={part}
            label={label}
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
      {POINTS.map(({ part, label }) => (
        <RangeSlider
          key={part}
          label={label}
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
