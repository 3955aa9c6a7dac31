import type { Rgb } from '../raster/srgb.ts'
import type { Surface } from '../raster/surface.ts'
import { rgbToLab } from './ciede2000.ts'
import { countEdges, type Edges, edgesInCommon } from './edges.ts'
import { lumaOf } from './luma-plane.ts'

/**
 * What a painting is like, wherever its marks lie: how much is painted along and across the strokes, how fine it is drawn
 * and which way, which edges, which colours and how much cover it has.
 */
export type Signs = {
  /** How much is painted in all, as px wholly painted. */
  paint: Float64Array
  /** Paint in each row, as px wholly painted; the mean of seven rows. */
  across: Float64Array
  /** Paint in blocks of 24 px beside one another, in each of the four bands in which gauge strokes lie. */
  along: Float64Array
  /** Of each halving of the size, the mean square of what it takes away: sideways, up and down, and both ways. */
  spectrum: Float64Array
  edges: Edges
  /** CIELAB of the painted pixels in order, so many of each of L, a and b. */
  colours: Float64Array
  /** How the painted pixels are covered, in order, 0 to 1. */
  cover: Float64Array
}
type SignName = keyof Signs

const BANDS = 4
const BLOCK_PX = 24
const SMOOTH_PX = 3
const OCTAVES = 6
const QUANTILES = 32
/** A level that a pixel must differ by from the paper to count as painted. */
const PAINTED_FROM = 3
/** Steps of L, a and b that colours are counted by, and the least of each. */
const LAB_STEP = 0.25
const LAB_LEAST = -128
const LAB_STEPS = 1024

/**
 * The signs of a painting on an opaque ground of one colour.
 * @param surface Opaque RGBA, gauge strokes in four bands from the top.
 */
export function readSigns(surface: Surface, ground: Rgb): Signs {
  const { width, height, data } = surface
  const ink = new Float32Array(width * height)
  const covers = new Uint32Array(256)
  const across = new Float64Array(height)
  const blocks = Math.ceil(width / BLOCK_PX)
  const along = new Float64Array(BANDS * blocks)
  const colours = new Map<number, number>()
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const p = 4 * i
      const level = Math.max(
        Math.abs(data[p] - ground.r),
        Math.abs(data[p + 1] - ground.g),
        Math.abs(data[p + 2] - ground.b),
      )
      if (level < PAINTED_FROM) continue
      ink[i] = level / 255
      covers[level]++
      across[y] += ink[i]
      along[Math.floor((y * BANDS) / height) * blocks + Math.floor(x / BLOCK_PX)] += ink[i]
      const colour = (data[p] << 16) | (data[p + 1] << 8) | data[p + 2]
      colours.set(colour, (colours.get(colour) ?? 0) + 1)
    }
  return {
    paint: Float64Array.of(across.reduce((sum, row) => sum + row, 0)),
    across: smooth(across),
    along,
    spectrum: spectrumOf(ink, width, height),
    edges: countEdges(lumaOf(surface)),
    colours: Float64Array.from(countLabs(colours).flatMap((counts) => quantiles(counts))).map(
      (step) => step * LAB_STEP + LAB_LEAST,
    ),
    cover: Float64Array.from(quantiles(covers)).map((level) => level / 255),
  }
}

/** How many painted pixels have each L, each a and each b. */
function countLabs(colours: ReadonlyMap<number, number>): Uint32Array[] {
  const counts = [0, 1, 2].map(() => new Uint32Array(LAB_STEPS))
  for (const [colour, count] of colours) {
    const { L, a, b } = rgbToLab({ r: colour >> 16, g: (colour >> 8) & 255, b: colour & 255 })
    for (const [i, value] of [L, a, b].entries()) {
      const step = Math.round((value - LAB_LEAST) / LAB_STEP)
      counts[i][Math.min(LAB_STEPS - 1, Math.max(0, step))] += count
    }
  }
  return counts
}

/** Places in a count of values by which equal parts of them lie; zeros where there are none. */
function quantiles(counts: Uint32Array): number[] {
  const all = counts.reduce((sum, count) => sum + count, 0)
  let [at, below] = [0, counts[0]]
  return Array.from({ length: QUANTILES }, (_, q) => {
    if (all === 0) return 0
    while (below <= ((q + 0.5) * all) / QUANTILES) below += counts[++at]
    return at
  })
}

/** A mark does not end at a row. */
function smooth(rows: Float64Array): Float64Array {
  return rows.map((_, i) => {
    const near = rows.subarray(Math.max(0, i - SMOOTH_PX), i + SMOOTH_PX + 1)
    return near.reduce((sum, each) => sum + each, 0) / near.length
  })
}

/** @see Mallat, "A theory for multiresolution signal decomposition", 1989; here by Haar's wavelet. */
function spectrumOf(ink: Float32Array, width: number, height: number): Float64Array {
  const out = new Float64Array(3 * OCTAVES)
  let [now, w, h] = [ink, width, height]
  for (let octave = 0; octave < OCTAVES; octave++) {
    const [across, down] = [w >> 1, h >> 1]
    const next = new Float32Array(across * down)
    let [sideways, upright, both] = [0, 0, 0]
    for (let y = 0; y < down; y++)
      for (let x = 0; x < across; x++) {
        const i = 2 * y * w + 2 * x
        const [a, b, c, d] = [now[i], now[i + 1], now[i + w], now[i + w + 1]]
        next[y * across + x] = (a + b + c + d) / 4
        sideways += (a - b + c - d) ** 2
        upright += (a + b - c - d) ** 2
        both += (a - b - c + d) ** 2
      }
    const area = Math.max(1, 16 * across * down)
    out.set([sideways / area, upright / area, both / area], 3 * octave)
    ;[now, w, h] = [next, across, down]
  }
  return out
}

/** The share of paint that lies elsewhere. */
function shareApart(a: Float64Array, b: Float64Array): number {
  let [apart, all] = [0, 0]
  for (let i = 0; i < a.length; i++) {
    apart += Math.abs(a[i] - b[i])
    all += a[i] + b[i]
  }
  return all === 0 ? 0 : apart / all
}
const meanApart = (a: Float64Array, b: Float64Array): number =>
  a.reduce((sum, each, i) => sum + Math.abs(each - b[i]), 0) / a.length

/** What of a spectrum is too faint to be seen: a step of a level in a thousand pixels. */
const FAINT = 1e-6
const octavesApart = (a: Float64Array, b: Float64Array): number =>
  a.reduce((sum, each, i) => sum + Math.abs(Math.log2((each + FAINT) / (b[i] + FAINT))), 0) / a.length

/**
 * How far two paintings are apart by each sign, and how far is nothing in common and how far cannot be seen, all in the
 * sign's own unit.
 */
const SIGNS: Record<SignName, { apart(a: Float64Array, b: Float64Array): number; most: number; unseen: number }> = {
  paint: { apart: shareApart, most: 1.5, unseen: 0.005 },
  across: { apart: shareApart, most: 0.6, unseen: 0.005 },
  along: { apart: shareApart, most: 1, unseen: 0.005 },
  spectrum: { apart: octavesApart, most: 4, unseen: 0.02 },
  edges: { apart: (a, b) => 1 - edgesInCommon(a, b), most: 2, unseen: 0.01 },
  colours: { apart: (a, b) => 3 * meanApart(a, b), most: 120, unseen: 1 },
  cover: { apart: meanApart, most: 0.5, unseen: 0.005 },
}
const NAMES = Object.keys(SIGNS) as SignName[]

/**
 * How like itself a brush is that is painted several times: what these have in common, and how far from that another one may
 * be by each sign.
 */
export type Spread = { mean: Signs; strays: Record<SignName, number> }

/** Deviations beyond the usual distance of a few that still are chance. */
const CHANCE = 4.5

/** @param paintings The same strokes of the same brush, painted with different seeds: two at least. */
export function spreadOf(paintings: readonly Signs[]): Spread {
  const meanBut = (left: number | undefined, name: SignName) => {
    const counted = paintings.filter((_, i) => i !== left)
    return counted[0][name].map((_, i) => counted.reduce((sum, each) => sum + each[name][i], 0) / counted.length)
  }
  const each = <Value>(of: (name: SignName) => Value) =>
    Object.fromEntries(NAMES.map((name) => [name, of(name)])) as Record<SignName, Value>
  return {
    mean: each((name) => meanBut(undefined, name)),
    // each against the others, as what is compared later was not among them
    strays: each((name) => {
      const apart = paintings.map((signs, i) => SIGNS[name].apart(signs[name], meanBut(i, name)))
      const mean = apart.reduce((sum, one) => sum + one, 0) / apart.length
      const square = apart.reduce((sum, one) => sum + (one - mean) ** 2, 0) / (apart.length - 1)
      return mean + CHANCE * Math.sqrt(square)
    }),
  }
}

/**
 * Signs add up, though the largest counts most: by the power mean that came nearest to the order in which a person put twelve
 * pairs (docs/fit.md).
 */
const POWER = 1.5

/** How far a painting is beyond what another seed might have painted, by each sign, as a share of nothing in common. */
const beyondOf = ({ mean, strays }: Spread, signs: Signs): Record<SignName, number> =>
  Object.fromEntries(
    NAMES.map((name) => {
      const { apart, most, unseen } = SIGNS[name]
      return [name, Math.max(0, apart(signs[name], mean[name]) - Math.max(unseen, strays[name])) / most]
    }),
  ) as Record<SignName, number>

/**
 * How like a brush a painting is whose marks lie where chance has thrown them: 1 as far as another seed might have painted
 * it, less by how far it is beyond that.
 */
export function likenessBySigns(spread: Spread, signs: Signs): number {
  const all = Object.values(beyondOf(spread, signs)).reduce((sum, beyond) => sum + beyond ** POWER, 0)
  return 1 - Math.min(1, all ** (1 / POWER))
}
