import { type PartName, RECIPE_PARTS, type RecipePart, usedParts } from '../brush/parts.ts'
import type { Recipe } from '../brush/recipe.ts'
import type { Pixels } from '../raster/pixels.ts'
import { CARRY_ROWS } from './carry-parts.ts'
import type { Destination } from './destination.ts'
import { fitFrames } from './fit-frames.ts'
import { fitGrain } from './fit-grain.ts'
import { fitName } from './fit-name.ts'
import { fitReading } from './fit-paint.ts'
import { fitPicture, fitSize } from './fit-picture.ts'
import { fitRibbon } from './fit-ribbon.ts'
import { type Carried, type Choices, type FitBrush, Fitting, type FitWay } from './fit-state.ts'
import { fitTurns } from './fit-turns.ts'

/** A brush as the destination shall have it. */
export type Arrival = {
  name: string
  set: string
  maker: string
  licence: string
  frames: readonly Pixels[]
  grain: FitBrush['grain']
  recipe: Recipe
}

/** What of a brush goes to a destination, as what, and what had to be decided for it. */
export type FitPlan = {
  arrivals: Arrival[]
  kept: Carried[]
  approximated: Carried[]
  left: Carried[]
  ways: FitWay[]
}

/**
 * Plans how a brush goes to a destination. Nothing outside is looked at: the same brush, destination and choices give the
 * same plan.
 */
export function planFit(brush: FitBrush, destination: Destination, choices: Choices = {}): FitPlan {
  const fitting = new Fitting(brush, destination, choices)
  fitRibbon(fitting)
  fitReading(fitting)
  const isOneEach = fitFrames(fitting)
  fitGrain(fitting)
  fitTurns(fitting, isOneEach)
  fitSize(fitting)
  fitPicture(fitting)
  narrowParts(fitting)
  // where each picture goes alone, the rule that picked among them goes nowhere
  const isAlone = isOneEach || fitting.frames.length === 1
  const { path } = brush.recipe
  if (brush.frames.length > 1 && isAlone && !fitting.isTold('path.nextFrame'))
    fitting.leave('path.nextFrame', calledOf('path.nextFrame', path.nextFrame))
  const name = fitName(brush.name, destination.names)
  if (name !== brush.name) fitting.approximate('name', 'its name', `"${name}"`)
  const { approximated, left, ways, grain, recipe } = fitting
  const { set, maker, licence } = brush
  const whole = { name, set, maker, licence, grain, recipe }
  const arrivals = isOneEach
    ? fitting.frames.map((frame, i) => ({
        ...whole,
        name: fitName(`${brush.name} ${i + 1}`, destination.names),
        frames: [frame],
        recipe: { ...recipe, path: { ...recipe.path, nextFrame: [{ rule: 'inOrder' as const, frames: 1 }] } },
      }))
    : [{ ...whole, frames: fitting.frames }]
  const told = new Set([...approximated, ...left].map(({ thing }) => thing))
  const kept = usedParts(brush.recipe).flatMap(({ name: thing, called }) =>
    told.has(thing) ? [] : [{ thing, called }],
  )
  return { arrivals, kept, approximated, left, ways }
}

/** Brings every part of the recipe within what the destination knows of it. */
function narrowParts(fitting: Fitting): void {
  const { destination } = fitting
  for (const { name, group, key, row } of CARRY_ROWS) {
    // the pictures were brought to a reading that is known; a brush as large as its picture needs no word for it
    if (name === 'colour.reading' || (name === 'mark.sizePx' && destination.pictures.isOwnSize)) continue
    const value = (fitting.recipe[group] as Record<string, unknown>)[key]
    const said = destination.knows[name]
    if (value === undefined || said === true) continue
    const { value: narrowed, how } = said === false ? {} : row.narrow(value, said)
    if (narrowed !== undefined && how === undefined) continue
    const called = calledOf(name, value)
    if (partOf(name).isUsed(value, fitting.recipe)) {
      if (narrowed === undefined) fitting.leave(name, called)
      else fitting.approximate(name, called, how ?? '')
    }
    setPart(fitting, group, key, narrowed ?? plainOf(name, row.plain, fitting))
  }
}

/** What is painted with where nothing is known; as many frames as there are go on to follow in order. */
const plainOf = (name: PartName, plain: unknown, { frames }: Fitting): unknown =>
  name === 'path.nextFrame' ? [{ rule: 'inOrder', frames: frames.length }] : plain

function partOf(name: PartName): RecipePart {
  const [group, key] = name.split('.') as [keyof typeof RECIPE_PARTS, string]
  return (RECIPE_PARTS[group] as Record<string, RecipePart>)[key]
}

function calledOf(name: PartName, value: unknown): string {
  const { called } = partOf(name)
  return typeof called === 'string' ? called : called(value)
}

const setPart = (fitting: Fitting, group: keyof Omit<Recipe, 'version'>, key: string, value: unknown) =>
  fitting.change((recipe) => {
    const { [key]: _, ...others } = recipe[group] as Record<string, unknown>
    return { ...recipe, [group]: value === undefined ? others : { ...others, [key]: value } }
  })
