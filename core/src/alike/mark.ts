import type { PaintReading } from '../brush/recipe.ts'
import { type AxisSamples, meanOverAreas } from '../raster/area.ts'
import { rgbToOklab } from '../raster/oklab.ts'
import type { Pixels } from '../raster/pixels.ts'
import { borderPlaces, findSeen } from './cut-out.ts'
import { type Part, type Reduced, reducePart } from './picture-parts.ts'

/**
 * What a tip paints, trimmed, levelled and laid on a square grid of `side` x `side`, row by row.
 *
 * - `shape`: how much a mask paints, 0 none … 1 most; for own colours, where anything is seen at all.
 * - `colour`: OKLab of own colours as they lie on white paper, so that faint paint is light.
 * - `tone`: their lightness, from its mean within the shape and in deviations (faint ones count less), times shape.
 */
export type Mark = {
  side: number
  /** Of the trimmed mark. */
  widthPx: number
  heightPx: number
  /** Of the whole picture. */
  canvasWidthPx: number
  canvasHeightPx: number
  /** What was none and most before levelling, 0…1. */
  faintest: number
  strongest: number
  shape: Float32Array
  tone: Float32Array | undefined
  colour: { L: Float32Array; a: Float32Array; b: Float32Array } | undefined
}

type Layers = [Float32Array, Float32Array, Float32Array, Float32Array]

/** A box between the px of a picture, and how many times larger than the mark it was made. */
type Box = { left: number; top: number; width: number; height: number; widened: number }

// All found by trial on copies of drawn tips and on clip art.
/** Paint below this share of the strongest is dust or the noise of a lossy file, not shape. */
const DUST_SHARE = 0.1
/** Of the paint, what may lie beyond each side of the box that is measured, so that specks do not move it. */
const BEYOND_SHARE = 0.01
/** How far the box is then widened at each side, as a share of its size: the rest of the mark lies there. */
const WIDEN_SHARE = 0.06
/** Of all px, how many may be fainter or stronger than what counts as none and most. */
const ODD_SHARE = 0.002
/** Of the border, how much must be painted for a mark that goes from side to side, such as a texture. */
const FILLS_FROM = 0.5
/** A span of levels below which paint is flat. */
const FLAT_LEVELS = 12 / 255
const FAINTEST_MARK = 8 / 255
/** Deviation of lightness below which tones count less. */
const FAINT_TONE = 0.15
/** The longer side of the picture that is looked at, at least, px; at most twice as much. */
const LOOK_PX = 112
/** Of it, how many px at least for each place of the grid: with fewer, what is compared hangs on how they lie. */
const PX_A_PLACE = 3.4
const LEVELS = 256
const WHITE = 255

/**
 * Lays out what a tip paints, so that margins, size and the range of levels do not matter.
 *
 * @param side Of the grid. @returns Undefined when it paints nothing.
 */
export function layMark(pixels: Pixels, reading: PaintReading, side: number): Mark | undefined {
  const { width, height } = pixels
  const lookPx = Math.max(LOOK_PX, PX_A_PLACE * side)
  const whole = look(reducePart(pixels, reading, { left: 0, top: 0, width, height }, lookPx))
  if (!whole) return undefined
  const part = aroundBox(whole.box, whole.reduced.scale, pixels)
  // A small mark on a large sheet is looked at again, closer.
  const isSmall = whole.reduced.scale > 1 && 2 * Math.max(part.width, part.height) < Math.max(width, height)
  const near = isSmall ? look(reducePart(pixels, reading, part, lookPx), whole.levels) : undefined
  const { reduced, cover, box, levels } = near ?? whole
  const lay = (data: Float32Array) =>
    meanOverAreas(
      { data, width: reduced.width, height: reduced.height, channels: 1 },
      acrossBox(box.left, box.width, side),
      acrossBox(box.top, box.height, side),
    )
  const shape = lay(cover)
  const colour = layColours(reduced, cover, levels.strongest, lay)
  return {
    side,
    widthPx: (box.width / box.widened) * reduced.scale,
    heightPx: (box.height / box.widened) * reduced.scale,
    canvasWidthPx: width,
    canvasHeightPx: height,
    ...levels,
    shape,
    tone: colour && standardizeTone(colour.L, shape),
    colour,
  }
}

type Levels = Pick<Mark, 'faintest' | 'strongest'>
type Looked = { reduced: Reduced; cover: Float32Array; box: Box; levels: Levels }

function look(reduced: Reduced, known?: Levels): Looked | undefined {
  const levels = known ?? levelsOf(reduced.paint)
  if (levels.strongest < FAINTEST_MARK) return undefined
  const cover = reduced.rgb ? findSeen(reduced, levels.strongest) : stretch(reduced.paint, levels)
  return { reduced, cover, box: findBox(cover, reduced.width, reduced.height), levels }
}

const stretch = (paint: Float32Array, { faintest, strongest }: Levels) =>
  paint.map((value) => Math.min(1, Math.max(0, (value - faintest) / (strongest - faintest))))

/** What counts as none and most, but for a few odd px; flat paint is most everywhere. */
function levelsOf(paint: Float32Array): Levels {
  const counts = new Uint32Array(LEVELS)
  for (let i = 0; i < paint.length; i++) counts[Math.round(paint[i] * (LEVELS - 1))]++
  const odd = paint.length * ODD_SHARE
  const faintest = levelAt(counts, odd) / (LEVELS - 1)
  const strongest = 1 - levelAt(counts.toReversed(), odd) / (LEVELS - 1)
  return { faintest: strongest - faintest < FLAT_LEVELS ? 0 : faintest, strongest }
}

/** The first level up to which more than `wanted` lie. */
function levelAt(counts: Uint32Array, wanted: number): number {
  let sum = 0
  for (let i = 0; i < counts.length; i++) {
    sum += counts[i]
    if (sum > wanted) return i
  }
  return counts.length - 1
}

/** The box that holds nearly all paint, widened. */
function findBox(paint: Float32Array, width: number, height: number): Box {
  const columns = new Float64Array(width)
  const rows = new Float64Array(height)
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (paint[i] < DUST_SHARE) continue
      columns[x] += paint[i]
      rows[y] += paint[i]
    }
  }
  const border = borderPlaces(width, height)
  const fills = border.filter((i) => paint[i] > DUST_SHARE).length > FILLS_FROM * border.length
  if (fills) return { left: 0, top: 0, width, height, widened: 1 }
  const widened = 1 + 2 * WIDEN_SHARE
  const [left, right] = spanOf(columns)
  const [top, bottom] = spanOf(rows)
  return {
    left: left - (right - left) * WIDEN_SHARE,
    top: top - (bottom - top) * WIDEN_SHARE,
    width: (right - left) * widened,
    height: (bottom - top) * widened,
    widened,
  }
}

/** Between which places all but BEYOND_SHARE at each end lies; each place counts as evenly filled. */
function spanOf(sums: Float64Array): [from: number, to: number] {
  const beyond = sums.reduce((a, b) => a + b, 0) * BEYOND_SHARE
  const from = placeOf(sums, beyond)
  const to = sums.length - placeOf(sums.toReversed(), beyond)
  return [from, Math.max(to, from + 1)]
}

function placeOf(sums: Float64Array, wanted: number): number {
  let sum = 0
  for (let i = 0; i < sums.length; i++) {
    if (sum + sums[i] > wanted) return i + (wanted - sum) / sums[i]
    sum += sums[i]
  }
  return sums.length
}

/** The px of the source that a box of the reduced picture touches, and a little more. */
function aroundBox(box: Box, scale: number, { width, height }: Pixels): Part {
  const left = Math.max(0, Math.floor((box.left - 2) * scale))
  const top = Math.max(0, Math.floor((box.top - 2) * scale))
  const right = Math.min(width, Math.ceil((box.left + box.width + 2) * scale))
  const bottom = Math.min(height, Math.ceil((box.top + box.height + 2) * scale))
  return { left, top, width: right - left, height: bottom - top }
}

/** Samples whose windows meet; of a box smaller than the grid they are a px wide, and so blend neighbours. */
function acrossBox(first: number, length: number, count: number): AxisSamples {
  const step = length / count
  const window = Math.max(1, step)
  return { first: first - (window - step) / 2, step, window, count, wraps: false }
}

/** Colours on white paper of the places that are painted; alpha was levelled with the shape. */
function layColours(
  { paint, rgb }: Reduced,
  seen: Float32Array,
  strongest: number,
  lay: (data: Float32Array) => Float32Array,
): Mark['colour'] {
  if (!rgb) return undefined
  const [red, green, blue, count] = [0, 1, 2, 3].map(() => new Float32Array(seen.length)) as Layers
  for (let i = 0, p = 0; i < seen.length; i++, p += 3) {
    if (seen[i] === 0) continue
    const paper = WHITE * Math.max(0, 1 - paint[i] / strongest)
    red[i] = rgb[p] / strongest + paper
    green[i] = rgb[p + 1] / strongest + paper
    blue[i] = rgb[p + 2] / strongest + paper
    count[i] = 1
  }
  const [r, g, b, n] = [red, green, blue, count].map(lay) as Layers
  const colour = { L: new Float32Array(n.length), a: new Float32Array(n.length), b: new Float32Array(n.length) }
  for (let i = 0; i < n.length; i++) {
    if (n[i] === 0) continue
    const found = rgbToOklab({ r: r[i] / n[i], g: g[i] / n[i], b: b[i] / n[i] })
    colour.L[i] = found.L
    colour.a[i] = found.a
    colour.b[i] = found.b
  }
  return colour
}

/** Lightness as steps from its mean over the shape, in deviations. */
export function standardizeTone(lightness: Float32Array, shape: Float32Array): Float32Array {
  let [weight, sum, squares] = [0, 0, 0]
  for (let i = 0; i < shape.length; i++) {
    weight += shape[i]
    sum += shape[i] * lightness[i]
    squares += shape[i] * lightness[i] ** 2
  }
  const mean = sum / weight
  const deviation = Math.max(FAINT_TONE, Math.sqrt(Math.max(0, squares / weight - mean ** 2)))
  return lightness.map((L, i) => (shape[i] * (L - mean)) / deviation)
}
