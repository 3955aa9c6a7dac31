import { describe, expect, it } from 'vitest'
import { defaultRecipe, type Recipe } from '../brush/recipe.ts'
import type { PixelSha } from '../hashes.ts'
import type { Pixels } from '../raster/pixels.ts'
import { createSurface } from '../raster/surface.ts'
import { createStroke } from './create-stroke.ts'
import { prepareBrush } from './prepare-brush.ts'

// What a mark of any size looks like, against references written here on their own: the exact mean of the tip over each
// canvas pixel (edges on the pixel grid), and the mean of 8 x 8 points a pixel (moved and turned). Area sampling as in
// any textbook of image processing; the bounds are ours.

const BLACK = { r: 0, g: 0, b: 0 }
const SIDE = 256
const tipOf = (level: (x: number, y: number) => number): Pixels => ({
  width: SIDE,
  height: SIDE,
  channels: 1,
  data: Uint8Array.from({ length: SIDE * SIDE }, (_, i) => level(i % SIDE, Math.floor(i / SIDE))),
})
/** Lines one pixel wide, three and five pixels apart, across each other. */
const hairlines = tipOf((x, y) => ((x * 3 + y) % 17 < 2 || (y * 5 - x + 600) % 23 < 2 ? 255 : 0))
const soft = tipOf((x, y) => Math.max(0, 255 * (1 - Math.hypot(x - 127.5, y - 127.5) / 128)))

const SIZES = Array.from({ length: SIDE - 7 }, (_, i) => i + 8)

type Marked = { pose?: { shift?: number; deg?: number }; pressure?: number; change?: (recipe: Recipe) => void }

/** Coverage of one mark, its tip's middle at the middle of a canvas a little larger than it. */
function stampOf(
  tip: Pixels,
  sizePx: number,
  { pose: { shift = 0, deg = 0 } = {}, pressure = 1, change }: Marked = {},
) {
  const recipe = defaultRecipe({ sizePx, reading: 'light' })
  recipe.mark.angle.deg = deg
  change?.(recipe)
  const side = sizePx + 2 * Math.ceil(sizePx / 4) + 4
  const stroke = createStroke({
    width: side,
    height: side,
    brush: prepareBrush({ frames: [tip] }, recipe, BLACK),
    recipe,
    seed: 1,
    colour: BLACK,
  })
  const surface = createSurface(side, side)
  stroke.add(Float64Array.of(side / 2 + shift, side / 2 + shift, pressure, 0, 0, 0))
  stroke.finish()
  stroke.compositeOnto(surface)
  const alpha = Float64Array.from({ length: side * side }, (_, i) => surface.data[i * 4 + 3])
  return { side, alpha }
}

/** The exact mean of the tip over each canvas pixel, unturned and with its edges on the pixel grid. */
function exactOf(tip: Pixels, sizePx: number, side: number): Float64Array {
  const edge = (side - sizePx) / 2
  const per = SIDE / sizePx
  const weights = Array.from({ length: side }, (_, x) => {
    const [from, to] = [(x - edge) * per, (x + 1 - edge) * per]
    const shares: [number, number][] = []
    for (let i = Math.max(0, Math.floor(from)); i < Math.min(SIDE, to); i++)
      shares.push([i, (Math.min(to, i + 1) - Math.max(from, i)) / per])
    return shares
  })
  const columns = new Float64Array(side * SIDE)
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < side; x++)
      for (const [i, share] of weights[x]) columns[y * side + x] += share * tip.data[y * SIDE + i]
  const out = new Float64Array(side * side)
  for (let y = 0; y < side; y++)
    for (const [i, share] of weights[y])
      for (let x = 0; x < side; x++) out[y * side + x] += share * columns[i * side + x]
  return out
}

/** The mean of 8 x 8 points a pixel, or more where that would pass over pixels of the tip. */
function supersampledOf(tip: Pixels, sizePx: number, side: number, { shift = 0, deg = 0 }): Float64Array {
  const [cos, sin] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)]
  const out = new Float64Array(side * side)
  const middle = side / 2 + shift
  const n = Math.max(8, Math.ceil(SIDE / sizePx))
  for (let p = 0; p < out.length; p++) {
    for (let k = 0; k < n * n; k++) {
      const dx = (p % side) + ((k % n) + 0.5) / n - middle
      const dy = Math.floor(p / side) + (Math.floor(k / n) + 0.5) / n - middle
      const u = Math.floor(((cos * dx + sin * dy) * SIDE) / sizePx + SIDE / 2)
      const v = Math.floor(((cos * dy - sin * dx) * SIDE) / sizePx + SIDE / 2)
      if (u >= 0 && v >= 0 && u < SIDE && v < SIDE) out[p] += tip.data[v * SIDE + u] / (n * n)
    }
  }
  return out
}

const rmsOf = (a: Float64Array, b: Float64Array) =>
  Math.sqrt(a.reduce((sum, v, i) => sum + (v - b[i]) ** 2, 0) / a.length)
const contrastOf = (values: Float64Array) => {
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length
  return Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length)
}

describe('a mark of any size', () => {
  it.each([
    ['hairlines', hairlines, 5, SIZES],
    ['a soft tip', soft, 2, SIZES.filter((sizePx) => sizePx % 6 < 2)],
  ] as const)('of %s is the exact area reduction, with its edges on the pixel grid', (_, tip, most, sizes) => {
    let before: { sizePx: number; contrast: number } | undefined
    for (const sizePx of sizes) {
      const { side, alpha } = stampOf(tip, sizePx)
      const exact = exactOf(tip, sizePx, side)
      expect(rmsOf(alpha, exact), `${sizePx} px`).toBeLessThanOrEqual(most)
      const contrast = contrastOf(alpha) / contrastOf(exact)
      expect(Math.abs(contrast - 1), `contrast at ${sizePx} px`).toBeLessThanOrEqual(0.06)
      if (before?.sizePx === sizePx - 1)
        expect(Math.abs(contrast - before.contrast), `step at ${sizePx} px`).toBeLessThanOrEqual(0.02)
      before = { sizePx, contrast }
    }
  })

  const poses = [
    ['on half pixels', { shift: 0.5 }, 0.1],
    ['turned a little', { deg: 7 }, 0.12],
    ['turned by 30', { deg: 30 }, 0.12],
    ['turned by 45', { deg: 45 }, 0.12],
  ] as const
  it.each(poses)('is as sharp %s', (_, pose, most) => {
    for (const sizePx of [8, 13, 20, 31, 45, 64, 90, 91, 127, 128, 180, 255]) {
      const { side, alpha } = stampOf(hairlines, sizePx, { pose })
      const contrast = contrastOf(alpha) / contrastOf(supersampledOf(hairlines, sizePx, side, pose))
      expect(Math.abs(contrast - 1), `${sizePx} px`).toBeLessThanOrEqual(most)
    }
  })

  it('keeps its tone while it grows: no size at which pressure makes a visible step', () => {
    const change = (recipe: Recipe) => {
      recipe.hand.pressure.size = [
        [0, 0],
        [1, 1],
      ]
    }
    const ratios: number[] = []
    for (let sizePx = 24; sizePx <= 128; sizePx += 2) {
      const { side, alpha } = stampOf(hairlines, 128, { pressure: sizePx / 128, change })
      ratios.push(contrastOf(alpha) / contrastOf(exactOf(hairlines, sizePx, side)))
    }
    for (const ratio of ratios) expect(Math.abs(ratio - 1)).toBeLessThanOrEqual(0.1)
    // A mark between two sizes lies off the pixel grid by a part of a pixel, and is at most so much softer for it.
    for (const [i, ratio] of ratios.entries())
      expect(Math.abs(ratio - (ratios[i - 1] ?? ratio))).toBeLessThanOrEqual(0.09)
  })

  it('enlarged up to twice is smooth: no blocks', () => {
    const edge = tipOf((x) => (x < 128 ? 255 : 0))
    for (const sizePx of [300, 400, 512]) {
      const { side, alpha } = stampOf(edge, sizePx)
      const row = alpha.subarray((side / 2) * side, (side / 2 + 1) * side)
      const ramp = Array.from(row.subarray(side / 2 - 2, side / 2 + 2))
      expect(Math.max(...ramp.slice(1).map((v, i) => ramp[i] - v)), `${sizePx} px`).toBeLessThanOrEqual(
        sizePx === 512 ? 128 : 220,
      )
      expect(ramp.every((v, i) => i === 0 || v <= ramp[i - 1])).toBe(true)
    }
  })

  it('squashed is reduced by its own amount on each axis', () => {
    const lines = tipOf((x) => (x % 4 < 1 ? 255 : 0))
    const squashed = stampOf(lines, 128, {
      change: (recipe) => {
        recipe.mark.squash = 0.25
      },
    })
    // Two tip px a canvas px across: every other pixel holds half a line, whatever happens down.
    const row = squashed.alpha
      .subarray((squashed.side / 2) * squashed.side)
      .subarray(squashed.side / 2 - 20, squashed.side / 2 + 20)
    expect(new Set(row)).toEqual(new Set([0, 128]))
  })
})

describe('a grain of any scale', () => {
  it('is the exact area reduction of its tile where that fits the pixel grid', () => {
    const block = tipOf(() => 255)
    for (const width of [8, 12, 20, 45, 64, 90, 91, 127, 128, 200]) {
      const grain = {
        sha256: '0'.repeat(64) as PixelSha,
        anchor: 'canvas' as const,
        scalePct: (100 * width) / SIDE,
        strength: 1,
        brightness: 0,
        contrast: 0,
        randomTurn: 'none' as const,
      }
      const recipe = defaultRecipe({ sizePx: 600, reading: 'light' })
      recipe.ground.grain = grain
      const stroke = createStroke({
        width,
        height: width,
        brush: prepareBrush({ frames: [block], grain: hairlines }, recipe, BLACK),
        recipe,
        seed: 1,
        colour: BLACK,
      })
      const surface = createSurface(width, width)
      stroke.add(Float64Array.of(width / 2, width / 2, 1, 0, 0, 0))
      stroke.finish()
      stroke.compositeOnto(surface)
      const alpha = Float64Array.from({ length: width * width }, (_, i) => surface.data[i * 4 + 3])
      const exact = exactOf(hairlines, width, width)
      expect(rmsOf(alpha, exact), `${width} px`).toBeLessThanOrEqual(5)
      // A tile of 8 px has hardly any contrast left: rounding to whole levels may not be weighed as blur.
      const off = Math.abs(contrastOf(alpha) - contrastOf(exact))
      expect(off, `contrast at ${width} px`).toBeLessThanOrEqual(0.06 * contrastOf(exact) + 0.3)
    }
  })
})

describe('a strip of any width', () => {
  it('is the exact area reduction of its strip, along a straight path on the pixel grid', () => {
    for (const sizePx of [8, 20, 45, 64, 90, 91, 127, 128, 181, 256]) {
      const recipe = defaultRecipe({ sizePx, reading: 'light' })
      recipe.path.ribbon = { lay: 'stretched', leadInPx: 0, leadOutPx: 0 }
      const side = sizePx + 8
      const stroke = createStroke({
        width: side,
        height: side,
        brush: prepareBrush({ frames: [hairlines] }, recipe, BLACK),
        recipe,
        seed: 1,
        colour: BLACK,
      })
      const surface = createSurface(side, side)
      stroke.add(Float64Array.of(4, side / 2, 1, 0, 0, 0, 4 + sizePx, side / 2, 1, 0, 0, 100))
      stroke.finish()
      stroke.compositeOnto(surface)
      const alpha = Float64Array.from({ length: side * side }, (_, i) => surface.data[i * 4 + 3])
      const exact = exactOf(hairlines, sizePx, side)
      expect(rmsOf(alpha, exact), `${sizePx} px`).toBeLessThanOrEqual(5)
      expect(Math.abs(contrastOf(alpha) / contrastOf(exact) - 1), `contrast at ${sizePx} px`).toBeLessThanOrEqual(0.06)
    }
  })
})
