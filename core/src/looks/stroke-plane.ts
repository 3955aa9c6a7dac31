import type { Recipe } from '../brush/recipe.ts'
import { meanOverAreas } from '../raster/area.ts'
import type { Surface } from '../raster/surface.ts'
import { paintedReach, scaleRecipe } from '../render/gauge.ts'
import { renderStrokes } from '../render/render.ts'
import { SAMPLE_STRIDE, type Samples } from '../stroke/path/samples.ts'
import { type BrushPictures, prepareBrush } from '../stroke/prepare-brush.ts'

/**
 * Paint that lies along a line from left to right, row by row: how much of it is at each place, and how dark it is there on
 * white paper, both 0…1. With its colours' mean a and b of OKLab, where it has any.
 */
export type StrokePlane = {
  width: number
  height: number
  cover: Float32Array
  dark: Float32Array
  chroma: [a: number, b: number]
}

/** A stroke as it is looked at: its width, and its paint brought to one size, from the middle of the line. */
export type StraightStroke = StrokePlane & { widthPx: number }

/** How wide a stroke may paint on the picture that is measured, px, whatever its brush's size; and how many widths it is long. */
const REACH_PX = 40
const LENGTH_REACHES = 8
const MARGIN_REACHES = 1.5
/** The pressure of a hand that paints without thinking of it; see `gauge.ts`. */
const PRESSURE = 0.7
const STEP_PX = 2
const PX_PER_MS = 0.5
const BLACK = { r: 0, g: 0, b: 0 }

/** The rows that hold this share of the paint are its width, which is widened by what is left out. */
const WITHIN_SHARE = 0.9
/** Paint that all places hold together below which there is no stroke. */
const LEAST_PAINT_PX = 4

/** Rows and columns that a stroke is brought to: its width in px, room above and below it as much again, and its length. */
export const LAID_WIDTH_PX = 24
export const LAID_ROWS = 2 * LAID_WIDTH_PX
const LAID_COLUMNS_MAX = 8 * LAID_WIDTH_PX
const LAID_COLUMNS_MIN = LAID_WIDTH_PX

/**
 * A level stroke at one pressure, painted black on nothing at a scale that is told; what erases or smears is painted as if it
 * laid paint, so that it says how strongly that works.
 *
 * @param seed Of its chance; by default that of all gauge strokes.
 */
export function paintLevelStroke(
  pictures: BrushPictures,
  recipe: Recipe,
  seed?: number,
): StrokePlane & { scale: number } {
  const painting: Recipe = { ...recipe, colour: { ...recipe.colour, behaviour: 'paint', blend: 'normal' } }
  const scale = REACH_PX / (paintedReach(painting) * painting.mark.sizePx)
  const margin = MARGIN_REACHES * REACH_PX
  const length = LENGTH_REACHES * REACH_PX
  const height = 2 * margin
  const fitted = scaleRecipe(painting, scale)
  const surface = renderStrokes(
    [levelStroke(margin, length, height / 2)],
    prepareBrush(pictures, fitted, BLACK),
    fitted,
    {
      width: length + 2 * margin,
      height,
      colour: BLACK,
      ...(seed === undefined ? {} : { seed }),
    },
  )
  return { ...middleOf(toPlane(surface), margin, length), scale }
}

function levelStroke(left: number, length: number, y: number): Samples {
  const count = Math.floor(length / STEP_PX) + 1
  const samples = new Float64Array(count * SAMPLE_STRIDE)
  for (let i = 0; i < count; i++) {
    samples.set([left + i * STEP_PX, y, PRESSURE, 0, 0, (i * STEP_PX) / PX_PER_MS], i * SAMPLE_STRIDE)
  }
  return samples
}

const LUMINANCE_STEPS = 1024
/** The lightness that OKLab gives a grey of a luminance: its cube root. */
const LIGHTNESS = Float32Array.from({ length: LUMINANCE_STEPS + 1 }, (_, i) => Math.cbrt(i / LUMINANCE_STEPS))
/** Linear light of an sRGB byte (IEC 61966-2-1). */
const LINEAR = Float32Array.from({ length: 256 }, (_, i) => {
  const v = i / 255
  return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4
})

/** What a premultiplied surface holds. */
export function toPlane({ width, height, data }: Surface): StrokePlane {
  const cover = new Float32Array(width * height)
  const dark = new Float32Array(width * height)
  let [paint, a, b] = [0, 0, 0]
  for (let i = 0, p = 0; i < cover.length; i++, p += 4) {
    const alpha = data[p + 3]
    if (alpha === 0) continue
    cover[i] = alpha / 255
    const paper = 255 - alpha
    const [red, green, blue] = [LINEAR[data[p] + paper], LINEAR[data[p + 1] + paper], LINEAR[data[p + 2] + paper]]
    // luminance by the primaries of sRGB
    dark[i] = 1 - LIGHTNESS[Math.round((0.2126 * red + 0.7152 * green + 0.0722 * blue) * LUMINANCE_STEPS)]
    paint += cover[i]
    // opponent axes of the encoded colours: cheap, and as good as any for telling red paint from green
    a += (data[p] - data[p + 1]) / 255
    b += ((data[p] + data[p + 1]) / 2 - data[p + 2]) / 255
  }
  return { width, height, cover, dark, chroma: paint > 0 ? [a / paint, b / paint] : [0, 0] }
}

/** The columns between the ends of a line, where a stroke neither begins nor ends. */
function middleOf(plane: StrokePlane, margin: number, length: number): StrokePlane {
  const from = Math.round(margin + length / LENGTH_REACHES)
  const to = Math.round(margin + length - length / LENGTH_REACHES)
  return cutColumns(plane, from, to)
}

export function cutColumns(plane: StrokePlane, from: number, to: number): StrokePlane {
  const width = to - from
  const cut = (data: Float32Array) => {
    const out = new Float32Array(width * plane.height)
    for (let y = 0; y < plane.height; y++)
      out.set(data.subarray(y * plane.width + from, y * plane.width + to), y * width)
    return out
  }
  return { ...plane, width, cover: cut(plane.cover), dark: cut(plane.dark) }
}

/**
 * Brings a stroke that lies along a line to one width, so that what it is made of can be compared whatever its size.
 * @returns Undefined where it holds no paint, or is shorter than it is wide.
 */
export function straighten(plane: StrokePlane): StraightStroke | undefined {
  const { width, height } = plane
  const rows = new Float64Array(height)
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) rows[y] += plane.cover[y * width + x]
  const paint = rows.reduce((sum, row) => sum + row, 0)
  if (paint < LEAST_PAINT_PX) return undefined
  const top = placeOf(rows, (paint * (1 - WITHIN_SHARE)) / 2)
  const bottom = placeOf(rows, (paint * (1 + WITHIN_SHARE)) / 2)
  const widthPx = Math.max(1, (bottom - top) / WITHIN_SHARE)
  const step = widthPx / LAID_WIDTH_PX
  const columns = Math.min(LAID_COLUMNS_MAX, Math.floor(width / step))
  if (columns < LAID_COLUMNS_MIN) return undefined
  const window = Math.max(1, step)
  const along = {
    first: (width - columns * step) / 2 - (window - step) / 2,
    step,
    window,
    count: columns,
    wraps: false,
  }
  const middle = (top + bottom) / 2
  const across = {
    ...{ first: middle - (LAID_ROWS / 2) * step - (window - step) / 2, step, window },
    ...{ count: LAID_ROWS, wraps: false },
  }
  const lay = (data: Float32Array) => meanOverAreas({ data, width, height, channels: 1 }, along, across)
  return {
    ...{ width: columns, height: LAID_ROWS, widthPx, chroma: plane.chroma },
    ...{ cover: lay(plane.cover), dark: lay(plane.dark) },
  }
}

/** Where along a line of sums so much of them lies behind, in places. */
export function placeOf(sums: Float64Array, wanted: number): number {
  let sum = 0
  for (let i = 0; i < sums.length; i++) {
    if (sums[i] > 0 && sum + sums[i] >= wanted) return i + (wanted - sum) / sums[i]
    sum += sums[i]
  }
  return sums.length
}
