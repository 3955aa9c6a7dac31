import { defaultRecipe } from '../brush/recipe.ts'
import { CARRY_ROWS } from '../destinations/carry-parts.ts'
import type { Destination } from '../destinations/destination.ts'
import type { Choices, FitBrush, Thing } from '../destinations/fit-state.ts'
import { findBestFit, type RoundTripOptions } from './round-trip.ts'

/** Something that a brush could do without, and how it would then arrive. */
export type Improvement = { thing: Thing; called: string; score: number }

/** Less is no reason to change a brush. */
const WORTH = 1
/** Parts that pictures cannot do without. */
const NEEDED: readonly Thing[] = ['colour.reading', 'mark.sizePx']

/**
 * What would make a brush arrive better: for each part that is approximated or left behind, the likeness of the same brush
 * without it, measured as any other; those that gain most come first.
 */
export async function findBetter(
  brush: FitBrush,
  destination: Destination,
  choices: Choices,
  options: Omit<RoundTripOptions, 'original'>,
): Promise<{ score: number; improvements: Improvement[] }> {
  const { plan, likeness } = await findBestFit(brush, destination, choices, options)
  const called = new Map<Thing, string>()
  for (const carried of [...plan.left, ...plan.approximated])
    if (!NEEDED.includes(carried.thing) && !called.has(carried.thing)) called.set(carried.thing, carried.called)
  const improvements: Improvement[] = []
  // one picture alone has no rule that picks among several
  if (called.has('frames')) called.delete('path.nextFrame')
  for (const [thing, name] of called) {
    const without = doWithout(brush, thing)
    if (!without) continue
    const { score } = (await findBestFit(without, destination, choices, options)).likeness
    if (score >= likeness.score + WORTH) improvements.push({ thing, called: name, score })
  }
  return { score: likeness.score, improvements: improvements.sort((a, b) => b.score - a.score) }
}

/** The same brush without one part; undefined where there is no such brush. */
export function doWithout(brush: FitBrush, thing: Thing): FitBrush | undefined {
  if (thing === 'name' || thing === 'picture') return undefined
  if (thing === 'frames' || thing === 'path.nextFrame') {
    const [first] = brush.frames
    if (!first || brush.frames.length === 1) return undefined
    const { nextFrame } = defaultRecipe({ frames: 1 }).path
    return { ...brush, frames: [first], recipe: { ...brush.recipe, path: { ...brush.recipe.path, nextFrame } } }
  }
  const row = CARRY_ROWS.find(({ name }) => name === thing)
  if (!row) return undefined
  const { [row.key]: _, ...rest } = brush.recipe[row.group] as Record<string, unknown>
  const group = row.row.plain === undefined ? rest : { ...rest, [row.key]: row.row.plain }
  const recipe = { ...brush.recipe, [row.group]: group }
  return { ...brush, recipe, grain: recipe.ground.grain && brush.grain }
}
