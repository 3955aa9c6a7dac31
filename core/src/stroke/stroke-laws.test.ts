import fc from 'fast-check'
import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import { defaultRecipe, Recipe } from '../brush/recipe.ts'
import type { Pixels } from '../raster/pixels.ts'
import { createSurface } from '../raster/surface.ts'
import { gaugeStrokes } from '../render/gauge.ts'
import { renderGauge } from '../render/render.ts'
import { anyPixels, anyRecipe, NO_PIXELS, roundTip } from '../testing.ts'
import { createStroke } from './create-stroke.ts'
import { SAMPLE_STRIDE, type Samples } from './path/samples.ts'
import { prepareBrush } from './prepare-brush.ts'

const KELP = { r: 74, g: 92, b: 42 }
const [WIDTH, HEIGHT] = [120, 90]

type Painting = { recipe: Recipe; frames: Pixels[]; grain: Pixels; kernel?: 'simd' | 'plain'; pieces?: number }

/** Gauge curve and zigzag as one path, over a canvas that is not empty. */
function paint({ recipe, frames, grain, kernel, pieces = 1 }: Painting): Buffer {
  const surface = createSurface(WIDTH, HEIGHT, { r: 250, g: 240, b: 220 })
  for (let i = 0; i < surface.data.length; i += 28) surface.data[i] = i % 251
  const brush = prepareBrush({ frames, grain }, recipe, KELP)
  const stroke = createStroke({
    width: WIDTH,
    height: HEIGHT,
    brush,
    recipe,
    seed: 5,
    colour: KELP,
    kernel,
    under: surface,
  })
  const samples = path()
  const each = Math.ceil(samples.length / SAMPLE_STRIDE / pieces) * SAMPLE_STRIDE
  for (let at = 0; at < samples.length; at += each) stroke.add(samples.subarray(at, at + each))
  stroke.finish()
  stroke.compositeOnto(surface)
  return Buffer.from(surface.data.buffer)
}

function path(): Samples {
  const { curve, zigzag } = gaugeStrokes(WIDTH, HEIGHT, 6)
  const samples = new Float64Array(curve.length + zigzag.length)
  samples.set(curve)
  samples.set(zigzag, curve.length)
  for (let i = 0; i < samples.length; i += SAMPLE_STRIDE) {
    samples[i + 3] = ((i / SAMPLE_STRIDE) % 120) - 60
    samples[i + 4] = 40
  }
  return samples
}

const frames = fc
  .tuple(anyPixels(20), fc.integer({ min: 1, max: 3 }))
  .map(([tip, n]) => Array.from({ length: n }, () => tip))

describe('a stroke of any recipe', () => {
  it('is of the schema to begin with', () => {
    for (const recipe of fc.sample(anyRecipe, 50)) expect(v.safeParse(Recipe, recipe).issues).toBeUndefined()
  })

  it('has the same bytes in SIMD and in the readable reference', () => {
    fc.assert(
      fc.property(anyRecipe, frames, anyPixels(9), (recipe, tip, grain) => {
        const painting = { recipe, frames: tip, grain }
        expect(paint(painting).equals(paint({ ...painting, kernel: 'plain' }))).toBe(true)
      }),
      { numRuns: 150 },
    )
  }, 60_000)

  it('has the same bytes whole or in pieces', () => {
    fc.assert(
      fc.property(anyRecipe, frames, anyPixels(9), fc.integer({ min: 2, max: 9 }), (recipe, tip, grain, pieces) => {
        const painting = { recipe, frames: tip, grain }
        expect(paint({ ...painting, pieces }).equals(paint(painting))).toBe(true)
      }),
      { numRuns: 100 },
    )
  }, 60_000)

  it('tells the whole area it changed: nothing outside it differs', () => {
    fc.assert(
      fc.property(anyRecipe, frames, anyPixels(9), (recipe, tip, grain) => {
        const under = createSurface(WIDTH, HEIGHT, { r: 250, g: 240, b: 220 })
        const brush = prepareBrush({ frames: tip, grain }, recipe, KELP)
        const stroke = createStroke({ width: WIDTH, height: HEIGHT, brush, recipe, seed: 5, colour: KELP, under })
        const samples = path()
        const areas = [
          stroke.add(samples.subarray(0, 30 * SAMPLE_STRIDE)),
          stroke.add(samples.subarray(30 * SAMPLE_STRIDE)),
          stroke.finish(),
        ]
        const whole = createSurface(WIDTH, HEIGHT, { r: 250, g: 240, b: 220 })
        stroke.compositeOnto(whole)
        for (let y = 0; y < HEIGHT; y++)
          for (let x = 0; x < WIDTH; x++) {
            const i = (y * WIDTH + x) * 4
            const told = areas.some((a) => a && x >= a.left && x < a.right && y >= a.top && y < a.bottom)
            if (!told && whole.data.subarray(i, i + 4).join() !== '250,240,220,255')
              expect.fail(`${x},${y} changed in silence`)
          }
      }),
      { numRuns: 60 },
    )
  }, 60_000)

  it('is bounded for the worst that the schema allows: 32 stamps a step, 1 % spacing, 4096 px', () => {
    const recipe = defaultRecipe({ sizePx: 4096, reading: 'light' })
    recipe.path.spacingPct = 1
    recipe.path.count = 32
    recipe.path.scatter.acrossPct = 10
    const brush = prepareBrush({ frames: [roundTip(64)] }, recipe, KELP)
    const stroke = createStroke({ width: 1200, height: 900, brush, recipe, seed: 1, colour: KELP })
    stroke.add(Float64Array.of(0, 450, 1, 0, 0, 0, 1200, 450, 1, 0, 0, 99))
    stroke.finish()
    expect(stroke.isCutShort).toBe(true)
    const modest = createStroke({
      width: 200,
      height: 90,
      brush,
      recipe: defaultRecipe({ reading: 'light' }),
      seed: 1,
      colour: KELP,
    })
    modest.add(path())
    modest.finish()
    expect(modest.isCutShort).toBe(false)
  }, 60_000)

  it('survives a one-pixel tip, a path of numbers that are none, and a grain that is gone', () => {
    const recipe = defaultRecipe({ sizePx: 12, reading: 'light' })
    recipe.ground.grain = {
      sha256: NO_PIXELS,
      anchor: 'canvas',
      scalePct: 100,
      strength: 1,
      brightness: 0,
      contrast: 0,
      randomTurn: 'none',
    }
    const dot = { width: 1, height: 1, channels: 1 as const, data: Uint8Array.of(255) }
    const surface = renderGauge(prepareBrush({ frames: [dot] }, recipe, KELP), recipe, { width: 90, height: 60 })
    expect(surface.data.some((value) => value > 40)).toBe(true)
    const stroke = createStroke({
      width: 90,
      height: 60,
      brush: prepareBrush({ frames: [dot] }, recipe, KELP),
      recipe,
      seed: 1,
      colour: KELP,
    })
    expect(
      stroke.add(Float64Array.of(Number.NaN, 3, 1, 0, 0, 0, 5, Number.POSITIVE_INFINITY, 1, 0, 0, 0)),
    ).toBeUndefined()
    expect(stroke.add(Float64Array.of(20, 20, 1, 0, 0, 0))).toBeDefined()
  })
})
