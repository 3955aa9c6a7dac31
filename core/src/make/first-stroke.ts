import { toCoverage } from '../brush/coverage.ts'
import type { PaintReading, Recipe } from '../brush/recipe.ts'
import { labelAreas } from '../raster/areas.ts'
import type { Pixels } from '../raster/pixels.ts'
import { fitSize, shrinkPixels } from '../raster/resample.ts'

/** How a mark that was just made may stroke, for a start. */
type FirstStrokeRow = {
  /** What the interface calls it. */
  word: string
  /** What it does, in a few words. */
  about: string
  /** @param plain As drawn: size, reading and frames stay. */
  recipe(plain: Recipe): Recipe
}

const along = (recipe: Recipe, path: Partial<Recipe['path']>): Recipe => ({
  ...recipe,
  path: { ...recipe.path, ...path },
})

/** Every first stroke, one row each; the figures were found by painting marks of each kind. */
export const FIRST_STROKES = {
  apart: {
    word: 'One by one',
    about: 'whole pictures, set down beside one another',
    recipe: (plain) => along(plain, { spacingPct: 112 }),
  },
  follow: {
    word: 'Along the path',
    about: 'marks that lie over one another and turn with the path',
    recipe: (plain) => ({
      ...along(plain, { spacingPct: 45 }),
      mark: { ...plain.mark, angle: { mode: 'following', deg: 0 } },
    }),
  },
  texture: {
    word: 'Texture',
    about: 'marks turned and thrown at random, until they melt together',
    recipe: (plain) => ({
      ...along(plain, { spacingPct: 30, scatter: { acrossPct: 12, alongPct: 12 } }),
      variation: { ...plain.variation, angle: 1, size: { from: 0.8, to: 1.1 } },
      colour: { ...plain.colour, flow: 0.7 },
    }),
  },
  line: {
    word: 'A line',
    about: 'marks so close that none is seen; thinner where the pen is light',
    recipe: (plain) => ({
      ...along(plain, { spacingPct: 8 }),
      hand: { ...plain.hand, pressure: { ...plain.hand.pressure, size: [[0, 0.3], [1, 1]] } }, // biome-ignore format: points
    }),
  },
} as const satisfies Record<string, FirstStrokeRow>

export type FirstStroke = keyof typeof FIRST_STROKES
export const FIRST_STROKE_NAMES = Object.keys(FIRST_STROKES) as [FirstStroke, ...FirstStroke[]]

/** What of a mark says how it may stroke. */
export type MarkMeasures = {
  /** The share of its box that it paints, 0 to 1. */
  full: number
  /** How many times as long as wide it is: 1 of anything round, by its second moments. */
  long: number
  /**
   * The length of all its edges, by how strong they are, over that of a round mark painted whole with as much paint: 1 of a
   * hard disc, less of a soft one, much more of a drawing.
   */
  edges: number
  /** How evenly paint is spread over its box, 0 where it lies in one place to 1 where every part has as much. */
  even: number
  /** How fine it is drawn: the share of its edges that is gone when it is seen at an eighth of its size. */
  fine: number
  /** In how many pieces it falls, a small one beside large ones hardly counted. */
  pieces: number
  /** How far its colours are from their mean, 0 to 1; 0 of what paints in the chosen colour. */
  colours: number
}

/** A mark is measured at so many px of its longer side: what is finer is not seen in a stroke. */
const MEASURED_SIDE_PX = 96
/** Parts of the box beside one another in which paint is counted. */
const PARTS = 5

/** @throws {RangeError} Never; a mark that paints nothing is round and has no edges. */
export function measureMark(tip: Pixels, reading: PaintReading): MarkMeasures {
  const { width, height, cover, colours } = smallCover(tip, reading)
  let [sum, sx, sy] = [0, 0, 0]
  const parts = new Float64Array(PARTS * PARTS)
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const paint = cover[i]
      sum += paint
      sx += paint * x
      sy += paint * y
      parts[Math.floor((y * PARTS) / height) * PARTS + Math.floor((x * PARTS) / width)] += paint
    }
  if (sum === 0) return { full: 0, long: 1, edges: 0, even: 0, fine: 0, pieces: 0, colours: 0 }
  const [mx, my] = [sx / sum, sy / sum]
  let [xx, yy, xy] = [0, 0, 0]
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      xx += cover[i] * (x - mx) ** 2
      yy += cover[i] * (y - my) ** 2
      xy += cover[i] * (x - mx) * (y - my)
    }
  // eigenvalues of the second moments: squares of the half axes
  const middle = (xx + yy) / 2
  const apart = Math.sqrt(((xx - yy) / 2) ** 2 + xy * xy)
  const mean = sum / parts.length
  const stray = parts.reduce((all, each) => all + Math.abs(each - mean), 0) / parts.length / mean
  const edges = variationOf(cover, width, height)
  const coarse = shrinkPixels(
    { width, height, channels: 1, data: Uint8Array.from(cover, (paint) => Math.round(255 * paint)) },
    ...halfHalfHalf(width, height),
  )
  const far =
    variationOf(
      Float64Array.from(coarse.data, (level) => level / 255),
      coarse.width,
      coarse.height,
    ) * 8
  return {
    full: sum / (width * height),
    long: Math.sqrt((middle + apart) / Math.max(1e-9, middle - apart)),
    edges: edges / (2 * Math.sqrt(Math.PI * sum)),
    even: 1 - Math.min(1, stray),
    fine: edges === 0 ? 0 : Math.max(0, 1 - far / edges),
    pieces: countPieces(cover, width, height),
    colours,
  }
}
const halfHalfHalf = (width: number, height: number): [number, number] => [
  Math.max(1, Math.round(width / 8)),
  Math.max(1, Math.round(height / 8)),
]

function smallCover(tip: Pixels, reading: PaintReading) {
  const { width, height } = fitSize(tip.width, tip.height, MEASURED_SIDE_PX)
  const coverage = toCoverage(width === tip.width ? tip : shrinkPixels(tip, width, height), reading)
  const { channels, data } = coverage
  const cover = new Float64Array(width * height)
  if (channels === 1) {
    for (let i = 0; i < cover.length; i++) cover[i] = data[i] / 255
    return { width, height, cover, colours: 0 }
  }
  const mean = [0, 0, 0]
  let all = 0
  for (let i = 0; i < cover.length; i++) {
    cover[i] = data[4 * i + 3] / 255
    all += cover[i]
    for (let c = 0; c < 3; c++) mean[c] += cover[i] * data[4 * i + c]
  }
  let stray = 0
  for (let i = 0; i < cover.length; i++)
    stray += cover[i] * Math.max(...mean.map((sum, c) => Math.abs(data[4 * i + c] - sum / all)))
  return { width, height, cover, colours: all === 0 ? 0 : stray / all / 255 }
}

/** The number of pieces of one size that would be as uneven: 1 over the sum of the squares of their shares. */
function countPieces(cover: Float64Array, width: number, height: number): number {
  const isPaint = Uint8Array.from(cover, (paint) => (paint >= 0.5 ? 1 : 0))
  const [, ...sizes] = labelAreas(isPaint, width, height).sizes
  const all = sizes.reduce((sum, size) => sum + size, 0)
  return all === 0 ? 0 : 1 / sizes.reduce((sum, size) => sum + (size / all) ** 2, 0)
}

/**
 * The total variation: by the formula of Fleming and Rishel (1960) the length of all outlines, each level as far as it
 * reaches. Weighed over 3 x 3 px first, as else the steps of a slanting outline would count instead of its length.
 */
function variationOf(cover: Float64Array, width: number, height: number): number {
  const at = (x: number, y: number) => (x < 0 || y < 0 || x >= width || y >= height ? 0 : cover[y * width + x])
  const row = (x: number, y: number) => at(x - 1, y) + 2 * at(x, y) + at(x + 1, y)
  // two px beyond the picture on every side, where it still reaches
  const [across, down] = [width + 4, height + 4]
  const weighed = new Float64Array(across * down)
  for (let y = 0, i = 0; y < down; y++)
    for (let x = 0; x < across; x++, i++)
      weighed[i] = (row(x - 2, y - 3) + 2 * row(x - 2, y - 2) + row(x - 2, y - 1)) / 16
  let sum = 0
  for (let y = 0; y < down - 1; y++)
    for (let x = 0, i = y * across; x < across - 1; x++, i++)
      sum += Math.hypot(weighed[i + 1] - weighed[i], weighed[i + across] - weighed[i])
  return sum
}

/** A line is drawn with what is about as wide as long, has nothing drawn in it, and fills its box. */
const LINE = { longMost: 2.2, edgesMost: 1.15, fullLeast: 0.2 }
/** What is so long has a direction. */
const LONG_LEAST = 2.6
/** Texture has edges everywhere, and no place where there is more of it; or it is many specks. */
const WEAVE = { edgesLeast: 3, evenLeast: 0.78, fineLeast: 0.35 }
const SPECKS = { piecesLeast: 12, largestShare: 0.004 }
/** A picture in more than shades of one colour is of something. */
const COLOURS_MOST = 0.1

/** Proposes how a mark strokes, by its measures; the thresholds were chosen by eye on clip art and photographs. */
export function proposeStroke({ full, long, edges, even, fine, pieces, colours }: MarkMeasures): FirstStroke {
  if (edges >= WEAVE.edgesLeast && even >= WEAVE.evenLeast && fine >= WEAVE.fineLeast) return 'texture'
  if (colours > COLOURS_MOST) return 'apart'
  if (long >= LONG_LEAST) return 'follow'
  if (pieces >= SPECKS.piecesLeast && full / pieces <= SPECKS.largestShare) return 'texture'
  if (long <= LINE.longMost && edges <= LINE.edgesMost && full >= LINE.fullLeast) return 'line'
  return 'apart'
}
