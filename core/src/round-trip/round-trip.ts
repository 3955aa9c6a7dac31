import type { Recipe } from '../brush/recipe.ts'
import { type Comparable, compare, type Likeness, toComparable } from '../compare/likeness.ts'
import { likenessBySigns, readSigns, type Spread, spreadOf } from '../compare/signs.ts'
import type { Destination } from '../destinations/destination.ts'
import type { Choices, FitBrush, FitWay } from '../destinations/fit-state.ts'
import type { Packers } from '../destinations/packers.ts'
import { type FitPlan, planFit } from '../destinations/plan.ts'
import { type FitFile, FitWriter } from '../destinations/write-files.ts'
import type { Pixels } from '../raster/pixels.ts'
import type { Surface } from '../raster/surface.ts'
import { type GaugeLayout, gaugeList, layOutGauge, scaleRecipe } from '../render/gauge.ts'
import { GAUGE_SEED, type Painted, renderStrokes } from '../render/render.ts'
import type { FolderReading, StandInDecoders } from '../stand-ins/found.ts'
import { STAND_IN_READERS } from '../stand-ins/stand-ins.ts'
import { prepareBrush } from '../stroke/prepare-brush.ts'

/** The paper and the paint on which likeness is measured: a colour, so that shading by tone shows. */
export const FIT_PAPER = { r: 247, g: 247, b: 247 }
export const FIT_COLOUR = { r: 52, g: 98, b: 130 }
export const FIT_PICTURE = { width: 480, height: 300 }

type Painting = { frames: readonly Pixels[]; grain: Pixels | undefined; recipe: Recipe }

/** Paints gauge strokes where another brush's lie, at the scale at which that one is shown. */
export function paintFitGauge(
  { frames, grain, recipe }: Painting,
  { strokes, scale }: GaugeLayout,
  seed = GAUGE_SEED,
): Painted {
  const brush = prepareBrush({ frames, grain }, recipe, FIT_COLOUR)
  return renderStrokes(gaugeList(strokes), brush, scaleRecipe(recipe, scale), {
    ...FIT_PICTURE,
    colour: FIT_COLOUR,
    backdrop: FIT_PAPER,
    seed,
  })
}

/** The gauge strokes of a brush as a stand-in has found it, laid out by themselves. */
export const paintFound = ({ frames, grain, recipe }: Painting): Surface =>
  paintFitGauge({ frames, grain, recipe }, layOutGauge(recipe, FIT_PICTURE.width, FIT_PICTURE.height))

/** The original's own gauge strokes, where they lie, and the work it took to paint them. */
export type Original = { layout: GaugeLayout; surface: Painted }

export function paintOriginal({ frames, grain, recipe }: FitBrush): Original {
  const layout = layOutGauge(recipe, FIT_PICTURE.width, FIT_PICTURE.height)
  return { layout, surface: paintFitGauge({ frames, grain: grain?.pixels, recipe }, layout) }
}

/** Painted gauge strokes, ready to be compared. */
const toComparableFit = (surface: Surface): Comparable => toComparable(surface, FIT_PAPER)

/** What another seed does to a brush: how like itself it ever is, place by place, 0 to 100, and by its signs. */
type Chance = { leastByPlace: number; spread: Spread }
/** The original's gauge strokes, ready for any number of destinations to be compared with. */
type Ready = Original & { comparable: Comparable; chance: Chance | undefined }

/** Paintings of a brush that say what chance does to it, besides the one that is compared. */
const OTHER_SEEDS = Array.from({ length: 8 }, (_, i) => GAUGE_SEED + 1000 * (i + 1))
/** All of them take no more work than this, as strokes count it; what is said of fewer than so many says nothing. */
const CHANCE_WORK_MAX_PX = 800_000_000
const SEEDS_LEAST = 4
/** So many of them are compared place by place, which takes longest. */
const BY_PLACE = 2
/** A figure place by place may stray by so much of what it lacks. */
const STRAYS_BY = 0.25

/** What a brush paints, ready for any number of destinations to be compared with it. */
export function readyOriginal(brush: FitBrush): Ready {
  const original = paintOriginal(brush)
  const comparable = toComparableFit(original.surface)
  return { ...original, comparable, chance: chanceOf(brush, original, comparable) }
}

/** Paints a brush with other seeds. @returns Nothing where that makes no difference, or takes more work than it may. */
function chanceOf(brush: FitBrush, { layout, surface }: Original, comparable: Comparable): Chance | undefined {
  const painting = { ...brush, grain: brush.grain?.pixels }
  const count = Math.floor(CHANCE_WORK_MAX_PX / Math.max(1, surface.workPx))
  if (count < SEEDS_LEAST) return undefined
  const [second, ...seeds] = OTHER_SEEDS.slice(0, count)
  const once = paintFitGauge(painting, layout, second)
  if (once.data.every((level, i) => level === surface.data[i])) return undefined
  const others = [once, ...seeds.map((seed) => paintFitGauge(painting, layout, seed))]
  const least = Math.min(...others.slice(0, BY_PLACE).map((other) => compare(comparable, toComparableFit(other)).score))
  return {
    leastByPlace: least - STRAYS_BY * (100 - least),
    spread: spreadOf([surface, ...others].map((each) => readSigns(each, FIT_PAPER))),
  }
}

/**
 * How like the original a painting of its strokes is. Where chance lays the marks, no painting is like another one place by
 * place: what the brush might have painted itself with another seed counts 100, in both ways of looking, and beyond that
 * the lesser of them counts.
 */
export function likenessTo({ comparable, chance }: Pick<Ready, 'comparable' | 'chance'>, painting: Surface): Likeness {
  const byPlace = compare(comparable, toComparableFit(painting))
  if (!chance || byPlace.score === 100) return byPlace
  const share = Math.min(1, byPlace.score / chance.leastByPlace)
  return { ...byPlace, score: 100 * Math.min(share, likenessBySigns(chance.spread, readSigns(painting, FIT_PAPER))) }
}

export type RoundTripOptions = Packers & {
  decoders: StandInDecoders
  library?: string
  /** What the brush itself paints, where it is painted already. */
  original?: Ready
}
type Travelled = {
  plan: FitPlan
  files: FitFile[]
  /** What the stand-in made of the files; undefined of a destination that has none. */
  reading: FolderReading | undefined
}
export type RoundTrip = Travelled & {
  likeness: Likeness
  /** What the first brush of it paints; undefined where nothing arrived. */
  after: Surface | undefined
}

const NOTHING: Likeness = { ssim: 0, deltaE: 100, score: 0 }

/**
 * Sends a brush to a destination: recipe, files, stand-in. A destination without a stand-in is taken at its word: what it
 * says it knows has arrived.
 */
async function send(
  brush: FitBrush,
  destination: Destination,
  choices: Choices,
  { decoders, library = brush.set, ...packers }: Omit<RoundTripOptions, 'original'>,
): Promise<Travelled & { found: Painting[] }> {
  const plan = planFit(brush, destination, choices)
  const writer = new FitWriter(destination, { ...packers, library })
  const files = plan.arrivals.flatMap((arrival) => writer.write(arrival))
  const folder = new Map(files.map(({ path, bytes }) => [path, bytes]))
  const reading = destination.standIn && (await STAND_IN_READERS[destination.standIn](folder, decoders))
  const found: Painting[] = reading
    ? reading.brushes
    : plan.arrivals.map(({ frames, grain, recipe }) => ({ frames, recipe, grain: grain?.pixels }))
  return { plan, files, reading, found }
}

/** Sends a brush to a destination and back: recipe, files, stand-in, strokes, and how alike those are. */
export async function measureFit(
  brush: FitBrush,
  destination: Destination,
  choices: Choices,
  { original = readyOriginal(brush), ...options }: RoundTripOptions,
): Promise<RoundTrip> {
  const { found, ...travelled } = await send(brush, destination, choices, options)
  const paintings = found.map((each) => paintFitGauge(each, original.layout))
  const all = paintings.map((painting) => likenessTo(original, painting))
  // what did not arrive is as unlike as can be
  while (all.length < travelled.plan.arrivals.length) all.push(NOTHING)
  const [after] = paintings
  return { ...travelled, likeness: meanOf(all), after }
}

/** What a brush paints here, and what it paints where it has arrived: as `measureFit`, without comparing them. */
export async function paintFit(
  brush: FitBrush,
  destination: Destination,
  choices: Choices,
  options: Omit<RoundTripOptions, 'original'>,
): Promise<{ before: Surface; after: Surface | undefined }> {
  const { layout, surface: before } = paintOriginal(brush)
  const { found } = await send(brush, destination, choices, options)
  const [first] = found
  return { before, after: first && paintFitGauge(first, layout) }
}

const meanOf = (all: readonly Likeness[]): Likeness => {
  const mean = (of: (likeness: Likeness) => number) => all.reduce((sum, each) => sum + of(each), 0) / all.length
  return { ssim: mean(({ ssim }) => ssim), deltaE: mean(({ deltaE }) => deltaE), score: mean(({ score }) => score) }
}

/** A likeness must be better by so much before another answer than the first is taken. */
const BETTER_BY = 0.05

/**
 * Finds, question after question, the answer with which what arrives is most like the original; what the curator has chosen
 * stays.
 */
export async function findBestFit(
  brush: FitBrush,
  destination: Destination,
  chosen: Choices,
  given: RoundTripOptions,
): Promise<RoundTrip & { tried: { way: FitWay['name']; value: string; score: number }[] }> {
  const options = { ...given, original: given.original ?? readyOriginal(brush) }
  let best = await measureFit(brush, destination, chosen, options)
  const tried: { way: FitWay['name']; value: string; score: number }[] = []
  let choices = chosen
  const asked = new Set<string>()
  for (let way = nextWay(best.plan, asked, chosen); way; way = nextWay(best.plan, asked, chosen)) {
    asked.add(way.name)
    tried.push({ way: way.name, value: way.chosen, score: best.likeness.score })
    for (const { value } of way.options) {
      if (value === way.chosen) continue
      const other = await measureFit(brush, destination, { ...choices, [way.name]: value }, options)
      tried.push({ way: way.name, value, score: other.likeness.score })
      if (other.likeness.score <= best.likeness.score + BETTER_BY) continue
      best = other
      choices = { ...choices, [way.name]: value }
    }
  }
  return { ...best, tried }
}

/** A question that has several answers, was not asked yet, and that the curator has not answered. */
const nextWay = ({ ways }: FitPlan, asked: ReadonlySet<string>, chosen: Choices): FitWay | undefined =>
  ways.find(({ name, options }) => options.length > 1 && !asked.has(name) && chosen[name] === undefined)
