import { type Recipe, spreadRange } from '../brush/recipe.ts'
import { SAMPLE_STRIDE, type Samples } from '../stroke/path/samples.ts'

/** The standard strokes on which everything is shown and measured. */
export type GaugeStrokes = { level: Samples; curve: Samples; zigzag: Samples; stamps: Samples[] }

/** Gauge strokes one after the other, in the order in which they are painted. */
export const gaugeList = ({ stamps, ...strokes }: GaugeStrokes): Samples[] => [...Object.values(strokes), ...stamps]

const STEP_PX = 2 // between samples; finer than any pen reports
const CURVE_PRESSURE = 0.7
const SLOW_PX_PER_MS = 0.5
const FAST_PX_PER_MS = 4
const ZIGZAG_TURNS = 6

/** The part of a picture's height that marks may take, four strokes above one another; the rest is room to swing. */
const MARKS_SHARE = 0.8
/** How many marks must fit beside one another. */
const MARKS_ACROSS = 4
/** What is left of the height goes to the level line, the curve, the zigzag and the stamps. */
const REST_SHARES = [0.15, 0.35, 0.35, 0.15] as const

/** Gauge strokes, and the recipe at the scale at which they fit the picture: 1 where it paints at its own size. */
export type GaugeLayout = { strokes: GaugeStrokes; recipe: Recipe; scale: number }

/**
 * Lays the gauge strokes of a brush out by how wide it paints, thrown marks counted, so that none runs into another or off
 * the edge; a brush too large for the picture is shown smaller.
 * @param width, height The picture, px.
 */
export function layOutGauge(recipe: Recipe, width: number, height: number): GaugeLayout {
  const reachPx = paintedReach(recipe) * recipe.mark.sizePx
  const scale = Math.min(1, (MARKS_SHARE * height) / 4 / reachPx, width / MARKS_ACROSS / reachPx)
  return { strokes: gaugeStrokes(width, height, (reachPx * scale) / 2), recipe: scaleRecipe(recipe, scale), scale }
}

/** How wide a stroke paints, in times the brush's size: marks drawn larger, and thrown across the path to both sides. */
export function paintedReach({ path, variation }: Recipe): number {
  const largest = Math.max(1, spreadRange(variation.size).to)
  return path.ribbon ? 1 : largest + (2 * path.scatter.acrossPct) / 100
}

/** The same brush seen smaller: what is counted in canvas px shrinks along. */
export function scaleRecipe(recipe: Recipe, scale: number): Recipe {
  if (scale === 1) return recipe
  const { mark, path, ground } = recipe
  const taper = { ...path.taper, startPx: path.taper.startPx * scale, endPx: path.taper.endPx * scale }
  const grain = ground.grain && { ...ground.grain, scalePct: ground.grain.scalePct * scale }
  return {
    ...recipe,
    mark: { ...mark, sizePx: mark.sizePx * scale },
    path: { ...path, taper },
    ground: grain ? { ...ground, grain } : ground,
  }
}

/**
 * Gauge strokes laid out in four bands from the top: a level line with pressure 0-1-0, an S curve at pressure 0.7,
 * a fast zigzag, and three single stamps.
 * @param width, height The picture, px. @param marginPx Kept free around every stroke.
 */
export function gaugeStrokes(width: number, height: number, marginPx: number): GaugeStrokes {
  const left = Math.min(marginPx, width / 4)
  const right = width - left
  const margin = Math.min(marginPx, (MARKS_SHARE * height) / 8)
  const rest = height - 8 * margin
  const bands = REST_SHARES.map((share) => 2 * margin + rest * share)
  const bandAt = (n: number) => bands.slice(0, n).reduce((sum, band) => sum + band, 0)
  const box = (n: number) => ({ left, right, top: bandAt(n) + margin, bottom: bandAt(n + 1) - margin })
  const middle = (n: number) => bandAt(n) + bands[n] / 2
  return {
    level: levelStroke(left, right, middle(0)),
    curve: curveStroke(box(1)),
    zigzag: zigzagStroke(box(2)),
    stamps: [1, 3, 5].map((sixth) => Float64Array.of(left + ((right - left) * sixth) / 6, middle(3), 1, 0, 0, 0)),
  }
}

/** One long stroke for a list: a slow wave from left to right, pressure 0-1-0. */
export function listStroke(width: number, height: number, marginPx: number): Samples {
  const swing = Math.max(0, Math.min(height * 0.18, height / 2 - marginPx))
  const left = Math.min(marginPx, width / 4)
  const box = { left, right: width - left, top: height / 2 - swing, bottom: height / 2 + swing }
  return samplePath(curvePoint(box), { length: box.right - box.left, pressure: rise, speed: SLOW_PX_PER_MS })
}

type Box = { left: number; right: number; top: number; bottom: number }
type PathPoint = (t: number) => [x: number, y: number]

/** Pressure 0-1-0 along a stroke. */
const rise = (t: number) => 1 - Math.abs(2 * t - 1)

function levelStroke(left: number, right: number, y: number): Samples {
  return samplePath((t) => [left + (right - left) * t, y], {
    length: right - left,
    pressure: rise,
    speed: SLOW_PX_PER_MS,
  })
}

function curveStroke(box: Box): Samples {
  const length = (box.right - box.left) * 1.3
  return samplePath(curvePoint(box), { length, pressure: () => CURVE_PRESSURE, speed: SLOW_PX_PER_MS })
}

/** A cubic that leaves level, swings to the bottom, then the top, and ends level. */
const curvePoint =
  (box: Box): PathPoint =>
  (t) => {
    const x = box.left + (box.right - box.left) * t
    const middle = (box.top + box.bottom) / 2
    // t(1-t)(1-2t) has its extremes +-0.09623 at (1 +- 1/sqrt 3) / 2
    const wave = (t * (1 - t) * (1 - 2 * t)) / 0.0962250449
    return [x, middle + (wave * (box.bottom - box.top)) / 2]
  }

function zigzagStroke(box: Box): Samples {
  const rowPx = (box.right - box.left) / ZIGZAG_TURNS
  const rise = box.bottom - box.top
  const length = ZIGZAG_TURNS * Math.sqrt(rowPx * rowPx + rise * rise)
  const point: PathPoint = (t) => {
    const turn = t * ZIGZAG_TURNS
    const part = turn - Math.floor(turn)
    const down = Math.floor(turn) % 2 === 0 ? part : 1 - part
    return [box.left + (box.right - box.left) * t, box.top + rise * down]
  }
  return samplePath(point, { length, pressure: () => 1, speed: FAST_PX_PER_MS })
}

function samplePath(
  point: PathPoint,
  { length, pressure, speed }: { length: number; pressure: (t: number) => number; speed: number },
): Samples {
  const count = Math.max(2, Math.ceil(length / STEP_PX) + 1)
  const samples = new Float64Array(count * SAMPLE_STRIDE)
  for (let i = 0; i < count; i++) {
    const t = i / (count - 1)
    const [x, y] = point(t)
    samples.set([x, y, pressure(t), 0, 0, (t * length) / speed], i * SAMPLE_STRIDE)
  }
  return samples
}
