import { toTold } from '../number-row.ts'
import { type PartName, RECIPE_PARTS, type RecipeGroup } from './parts.ts'
import {
  type Curve,
  type Points,
  pointsRange,
  type Recipe,
  type Spread,
  spreadRange,
  type Turn,
  turnRange,
} from './recipe.ts'
import { type NumberName, RECIPE_NUMBERS } from './recipe-numbers.ts'
import {
  ANGLE_MODE_WORDS,
  BEHAVIOUR_WORDS,
  FRAME_RULE_WORDS,
  GRAIN_ANCHOR_WORDS,
  GRAIN_TURN_WORDS,
  HAND_WORDS,
  LAY_WORDS,
  READING_WORDS,
} from './recipe-words.ts'
import { isSameValue } from './same-value.ts'

/** A part of a recipe that changed, what it is called, and what it was and is, in words. */
export type PartChange = { part: PartName; label: string; from: string; to: string }

type Groups = Omit<Recipe, 'version'>
/** Every value of a part, as it is told; one that is not set is told by the caller. */
type Told = {
  [Group in RecipeGroup]: { [Part in keyof Groups[Group]]-?: (value: NonNullable<Groups[Group][Part]>) => string }
}

const number = (name: NumberName) => (value: number) => {
  const { unit } = RECIPE_NUMBERS[name]
  const told = toTold(value, RECIPE_NUMBERS[name])
  return unit === '' || unit === '°' ? `${told}${unit}` : `${told} ${unit}`
}
const percent = (share: number) => Math.round(share * 1000) / 10
const spread = (value: Spread) => {
  const { from, to } = spreadRange(value)
  return `${percent(from)} to ${percent(to)} %`
}
const turn = (value: Turn) => {
  const { from, to } = turnRange(value)
  return `${Math.round(from * 10) / 10}° to ${Math.round(to * 10) / 10}°`
}
const points = (value: Points) => {
  const { from, to } = pointsRange(value)
  return `${Math.round(from * 10) / 10} to ${Math.round(to * 10) / 10} points`
}
const curve = (points: Curve) => points.map(([x, y]) => `${percent(x)} → ${percent(y)} %`).join(', ')
const curves = (value: Recipe['hand']['pressure']) =>
  Object.entries(value)
    .flatMap(([name, points]) => (points ? [`${HAND_WORDS[name as keyof typeof HAND_WORDS]} by ${curve(points)}`] : []))
    .join('; ') || 'nothing'
/** A picture by the first signs of its name: enough to see that it is another. */
const picture = (sha256: string) => `picture ${sha256.slice(0, 8)}`

const TOLD: Told = {
  mark: {
    sizePx: number('mark.sizePx'),
    angle: ({ mode, deg }) => `${ANGLE_MODE_WORDS[mode]}, ${number('mark.angle.deg')(deg)}`,
    squash: number('mark.squash'),
  },
  path: {
    spacingPct: number('path.spacingPct'),
    scatter: ({ acrossPct, alongPct }) =>
      `${number('path.scatter.acrossPct')(acrossPct)} to the sides, ${number('path.scatter.alongPct')(alongPct)} along`,
    count: number('path.count'),
    nextFrame: (rules) => rules.map(({ rule, frames }) => `${FRAME_RULE_WORDS[rule]}, ${frames}`).join('; '),
    taper: ({ startPx, endPx, size, opacity }) =>
      `${number('path.taper.startPx')(startPx)} and ${number('path.taper.endPx')(endPx)}, thinner by ${percent(size)} %, paler by ${percent(opacity)} %`,
    ribbon: ({ lay, leadInPx, leadOutPx }) => `${LAY_WORDS[lay]}, lead-in ${leadInPx} px, lead-out ${leadOutPx} px`,
  },
  variation: {
    ...{ size: spread, angle: turn, squash: spread, opacity: spread, flow: spread },
    ...{ hue: turn, saturation: points, value: points },
  },
  hand: { pressure: curves, tilt: curves, speed: curves },
  ground: {
    grain: ({ sha256, anchor, scalePct, strength, brightness, contrast, randomTurn }) =>
      [
        picture(sha256),
        `on ${GRAIN_ANCHOR_WORDS[anchor]}`,
        `scale ${number('ground.grain.scalePct')(scalePct)}`,
        `strength ${percent(strength)} %`,
        `brightness ${percent(brightness)} %`,
        `contrast ${percent(contrast)} %`,
        `turned ${GRAIN_TURN_WORDS[randomTurn]}`,
      ].join(', '),
  },
  colour: {
    reading: (reading) => READING_WORDS[reading],
    anchorGrey: number('colour.anchorGrey'),
    opacity: number('colour.opacity'),
    flow: number('colour.flow'),
    blend: (blend) => blend,
    behaviour: (behaviour) => BEHAVIOUR_WORDS[behaviour],
  },
}

const UNSET = 'none'

/**
 * The parts in which two recipes differ, in the order of the table of parts, each with what it was and is. A change that is too
 * small for the words is told by the numbers themselves, so that what was and what is always read differently.
 */
export function recipeDifference(before: Recipe, after: Recipe): PartChange[] {
  return (Object.keys(RECIPE_PARTS) as RecipeGroup[]).flatMap((group) => {
    const [was, is] = [before[group], after[group]] as Record<string, unknown>[]
    const told = TOLD[group] as Record<string, (value: never) => string>
    const parts = RECIPE_PARTS[group] as Record<string, { label: string }>
    return Object.keys(parts).flatMap((key): PartChange[] => {
      if (isSameValue(was?.[key], is?.[key])) return []
      const words = [was?.[key], is?.[key]].map((value) => (value === undefined ? UNSET : told[key]?.(value as never)))
      const [from = UNSET, to = UNSET] =
        words[0] === words[1] ? [was?.[key], is?.[key]].map((value) => JSON.stringify(value)) : words
      const label =
        group === 'variation' ? `Variation of ${parts[key]?.label.toLowerCase()}` : (parts[key]?.label ?? key)
      return [{ part: `${group}.${key}` as PartName, label, from, to }]
    })
  })
}
