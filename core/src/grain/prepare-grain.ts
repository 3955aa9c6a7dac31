import type { Grain } from '../brush/recipe.ts'
import { type AxisSamples, meanOverAreas } from '../raster/area.ts'
import { toGreyOnPaper } from '../raster/grey.ts'
import { DENSE_BYTES_MAX, LevelStore } from '../raster/level-store.ts'
import type { Pixels } from '../raster/pixels.ts'

/**
 * A tile prefiltered for one size: weights 0…255 with one more column and row, which repeat the first ones. A place x px
 * from the tile's edge is read at `x · width / tile width + origin` level px from the middle of the first pixel.
 */
export type GrainLevel = { width: number; height: number; stride: number; data: Uint8Array; origin: number }

/** A grain ready to weigh marks. */
export type PreparedGrain = {
  width: number
  height: number
  /**
   * The level to read at so many canvas px per grain px; it repeats as the tile does. Below 1, one bilinear sample of it
   * is the mean of what a canvas pixel covers; from 1 on, it is the tile itself.
   */
  levelFor(scale: number): GrainLevel
}

type Tones = Pick<Grain, 'strength' | 'brightness' | 'contrast'>

/**
 * Reads a picture as grain: light takes paint, dark holds it off. Brightness and contrast come first, then strength:
 * a weight is 1 − strength · (1 − g). Whatever lies beyond the picture is the picture again.
 */
export function prepareGrain(pixels: Pixels, tones: Tones): PreparedGrain {
  const { width, height } = pixels
  const weights = Uint8Array.from(toGreyOnPaper(pixels), (grey) => 255 * weightOf(grey / 255, tones) + 0.5)
  const tile = { data: weights, width, height, channels: 1 }
  const own = createLevel(weights, width, height, MIDDLE_ORIGIN)
  const store = new LevelStore<GrainLevel>()
  return {
    width,
    height,
    levelFor(scale) {
      if (scale >= 1) return own
      return store.keep(String(scale), () => {
        const dense = 4 * scale * scale * width * height <= DENSE_BYTES_MAX
        const reduced = dense ? denseAxis : sparseAxis
        const [across, down] = [reduced(width, scale), reduced(height, scale)]
        const origin = dense ? EDGE_ORIGIN : MIDDLE_ORIGIN
        return createLevel(meanOverAreas(tile, across, down), across.count, down.count, origin)
      })
    },
  }
}

/** Where a level's first sample lies: on the tile's edge, or half a level px into it. */
const EDGE_ORIGIN = 0
const MIDDLE_ORIGIN = -0.5

/** About two samples a canvas pixel, each the mean over the width of two: a whole number of them fits the tile. */
function denseAxis(length: number, scale: number): AxisSamples {
  const count = Math.max(1, Math.round(2 * scale * length))
  const step = length / count
  return { first: -step, step, window: 2 * step, count, wraps: true }
}

/** About one sample a canvas pixel, for tiles too large for two. */
function sparseAxis(length: number, scale: number): AxisSamples {
  const count = Math.max(1, Math.round(scale * length))
  const step = length / count
  return { first: 0, step, window: step, count, wraps: true }
}

/** The weight of a grey 0…1: brightness adds, contrast turns about the middle grey. */
export function weightOf(grey: number, { strength, brightness, contrast }: Tones): number {
  const steepness = contrast < 0 ? 1 + contrast : 1 / Math.max(1 - contrast, 1 / 255)
  const g = Math.min(1, Math.max(0, (grey + brightness - 0.5) * steepness + 0.5))
  return 1 - strength * (1 - g)
}

function createLevel(weights: ArrayLike<number>, width: number, height: number, origin: number): GrainLevel {
  const stride = width + 1
  const data = new Uint8Array(stride * (height + 1))
  for (let y = 0; y <= height; y++) {
    const row = (y % height) * width
    for (let x = 0; x <= width; x++) data[y * stride + x] = weights[row + (x % width)] + 0.5
  }
  return { width, height, stride, data, origin }
}
