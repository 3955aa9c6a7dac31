import type { Rgb } from '../raster/srgb.ts'
import type { Surface } from '../raster/surface.ts'
import { ciede2000, type Lab, rgbToLab } from './ciede2000.ts'
import { countEdges, type Edges, edgesInCommon } from './edges.ts'
import { lumaOf } from './luma-plane.ts'
import { meanOf, type Plane, SSIM_LEAST_PX, ssimMap, toWindowed, type Windowed } from './ssim.ts'

/** How alike two paintings are. */
export type Likeness = {
  /** Mean structural similarity on luminance, of the whole picture: at most 1. */
  ssim: number
  /** Mean CIEDE2000 over the pixels that either painting painted. */
  deltaE: number
  /** 0 to 100. */
  score: number
}

/** Reductions at which structure is looked at: close up, and from farther away, where single stamps melt together. */
const REDUCTIONS = [1, 4] as const
/** A colour difference that leaves nothing of a likeness: what lies between paint and bare paper. */
const DELTA_E_MOST = 60
/** A level that a pixel must differ by from the paper to count as painted. */
const PAINTED_FROM = 3

/** A painting made ready to be compared with others: at each reduction, and its edges. */
export type Comparable = {
  ground: Rgb
  reduced: { surface: Surface; luma: Windowed }[]
  edges: Edges
}

/**
 * @param ground The opaque ground that it is painted on.
 * @throws {RangeError} If it is too small for a window.
 */
export function toComparable(surface: Surface, ground: Rgb): Comparable {
  const surfaces = REDUCTIONS.map((reduction) => (reduction === 1 ? surface : reduce(surface, reduction)))
  const large = surfaces.filter(({ width, height }, i) => i === 0 || Math.min(width, height) >= SSIM_LEAST_PX)
  return {
    ground,
    reduced: large.map((each) => ({ surface: each, luma: toWindowed(lumaOf(each)) })),
    edges: countEdges(lumaOf(surface)),
  }
}

/**
 * Compares two paintings of one size on one opaque ground.
 *
 * The score is 100 x (0.4 structure + 0.4 colour + 0.2 edges). Structure is the mean of SSIM close up and reduced four times,
 * over the windows in which either painted something, and not below 0. Colour is 1 less the mean CIEDE2000 over painted
 * pixels, reduced four times, as a share of 60: throwing stamps at random in another way costs little there, and missing
 * paint much. Edges is how many edges of each direction and strength both have in common, wherever they lie (`edges.ts`):
 * chance that throws stamps otherwise costs nothing there, and a stamp that should turn and does not, much.
 *
 * @throws {RangeError} If the sizes differ.
 */
export function compare(a: Comparable, b: Comparable): Likeness {
  const { ground } = a
  const structures: number[] = []
  let ssim = 1
  for (const [i, { surface, luma }] of a.reduced.entries()) {
    const other = b.reduced[i]
    if (!other) throw new RangeError('two pictures of one size')
    const map = ssimMap(luma, other.luma)
    if (i === 0) ssim = meanOf(map)
    structures.push(meanWherePainted(map, surface, other.surface, ground))
  }
  const structure = Math.max(0, structures.reduce((sum, each) => sum + each, 0) / structures.length)
  const deltaEs = a.reduced.map(({ surface }, i) => meanDeltaE(surface, b.reduced[i].surface, ground))
  const colour = 1 - Math.min(1, deltaEs[deltaEs.length - 1] / DELTA_E_MOST)
  const score = 100 * (0.4 * structure + 0.4 * colour + 0.2 * edgesInCommon(a.edges, b.edges))
  return { ssim, deltaE: deltaEs[0], score }
}

/** Compares two paintings once. @see compare */
export const compareSurfaces = (a: Surface, b: Surface, ground: Rgb): Likeness =>
  compare(toComparable(a, ground), toComparable(b, ground))

const isPainted = (data: Uint8ClampedArray, p: number, { r, g, b }: Rgb) =>
  Math.abs(data[p] - r) >= PAINTED_FROM ||
  Math.abs(data[p + 1] - g) >= PAINTED_FROM ||
  Math.abs(data[p + 2] - b) >= PAINTED_FROM

/** The mean over windows whose middle was painted in either picture; 1 where nothing was. */
function meanWherePainted(map: Plane, a: Surface, b: Surface, ground: Rgb): number {
  const inset = (SSIM_LEAST_PX - 1) / 2
  let [sum, count] = [0, 0]
  for (let y = 0; y < map.height; y++)
    for (let x = 0; x < map.width; x++) {
      const p = 4 * ((y + inset) * a.width + x + inset)
      if (!isPainted(a.data, p, ground) && !isPainted(b.data, p, ground)) continue
      sum += map.data[y * map.width + x]
      count++
    }
  return count === 0 ? 1 : sum / count
}

function meanDeltaE(a: Surface, b: Surface, ground: Rgb): number {
  const labs = new Map<number, Lab>()
  const labAt = (data: Uint8ClampedArray, p: number): Lab => {
    const key = (data[p] << 16) | (data[p + 1] << 8) | data[p + 2]
    let lab = labs.get(key)
    if (!lab) {
      lab = rgbToLab({ r: data[p], g: data[p + 1], b: data[p + 2] })
      labs.set(key, lab)
    }
    return lab
  }
  let [sum, count] = [0, 0]
  for (let p = 0; p < a.data.length; p += 4) {
    if (!isPainted(a.data, p, ground) && !isPainted(b.data, p, ground)) continue
    count++
    if (a.data[p] !== b.data[p] || a.data[p + 1] !== b.data[p + 1] || a.data[p + 2] !== b.data[p + 2])
      sum += ciede2000(labAt(a.data, p), labAt(b.data, p))
  }
  return count === 0 ? 0 : sum / count
}

/** Means over squares of so many px; what is over at the right and the bottom is left out. */
function reduce({ width, height, data }: Surface, factor: number): Surface {
  const [across, down] = [Math.floor(width / factor), Math.floor(height / factor)]
  const out = new Uint8ClampedArray(4 * across * down)
  for (let y = 0; y < down; y++)
    for (let x = 0; x < across; x++)
      for (let c = 0; c < 4; c++) {
        let sum = 0
        for (let dy = 0; dy < factor; dy++)
          for (let dx = 0; dx < factor; dx++) sum += data[4 * ((y * factor + dy) * width + x * factor + dx) + c]
        out[4 * (y * across + x) + c] = sum / (factor * factor)
      }
  return { width: across, height: down, data: out }
}
