import { describe, expect, it } from 'vitest'
import { defaultRecipe, type Recipe } from '../../brush/recipe.ts'
import type { Pixels } from '../../raster/pixels.ts'
import type { Rgb } from '../../raster/srgb.ts'
import { createSurface } from '../../raster/surface.ts'
import { gaugeStrokes, listStroke } from '../../render/gauge.ts'
import { renderGauge, renderListStroke } from '../../render/render.ts'
import { roundTip } from '../../testing.ts'
import { prepareFrame } from '../levels.ts'
import { SAMPLE_STRIDE } from '../path/samples.ts'
import { prepareBrush } from '../prepare-brush.ts'
import { StampStroke } from './stamp-stroke.ts'

const RED: Rgb = { r: 200, g: 30, b: 40 }
const WHITE: Rgb = { r: 255, g: 255, b: 255 }

function paint(recipe: Recipe, tip: Pixels[], { kernel = 'simd' as 'simd' | 'plain', pieces = 1 } = {}) {
  const [width, height] = [90, 60]
  const painter = new StampStroke({
    width,
    height,
    brush: prepareBrush({ frames: tip }, recipe, RED),
    recipe,
    seed: 5,
    colour: RED,
    kernel,
  })
  const samples = gaugeStrokes(width, height, 10).curve
  const each = Math.ceil(samples.length / SAMPLE_STRIDE / pieces) * SAMPLE_STRIDE
  for (let at = 0; at < samples.length; at += each) painter.add(samples.subarray(at, at + each))
  const surface = createSurface(width, height, WHITE)
  painter.compositeOnto(surface)
  return Buffer.from(surface.data.buffer)
}

describe('strokes', () => {
  it('tile without gap or overlap: a square tip at 100 % spacing, unturned', () => {
    const recipe = defaultRecipe({ sizePx: 8, reading: 'light' })
    recipe.path.spacingPct = 100
    recipe.colour.flow = 0.5
    const square = { width: 8, height: 8, channels: 1 as const, data: new Uint8Array(64).fill(255) }
    const painter = new StampStroke({
      width: 60,
      height: 20,
      brush: prepareBrush({ frames: [square] }, recipe, RED),
      recipe,
      seed: 1,
      colour: { r: 0, g: 0, b: 0 },
    })
    painter.add(Float64Array.of(10, 10, 1, 0, 0, 0, 49, 10, 1, 0, 0, 0))
    const surface = createSurface(60, 20, WHITE)
    painter.compositeOnto(surface)
    const row = Array.from({ length: 60 }, (_, x) => surface.data[(10 * 60 + x) * 4])
    expect(new Set(row.slice(6, 46))).toEqual(new Set([127])) // five stamps, half flow, one layer everywhere
    expect(new Set([...row.slice(0, 6), ...row.slice(46)])).toEqual(new Set([255]))
  })

  it('cap the whole stroke by opacity, however many stamps overlap', () => {
    const recipe = defaultRecipe({ sizePx: 20, reading: 'light' })
    recipe.path.spacingPct = 1
    recipe.colour.opacity = 0.4
    const least = Math.min(...paint(recipe, [roundTip(20)]).filter((_, i) => i % 4 === 1))
    expect(least).toBe(Math.round(255 * 0.6 + 30 * 0.4))
  })

  it('approach the swept profile: a soft round tip at 1 % spacing is even along the stroke', () => {
    const recipe = defaultRecipe({ sizePx: 24, reading: 'light' })
    recipe.path.spacingPct = 1
    recipe.colour.flow = 0.02
    const painter = new StampStroke({
      width: 120,
      height: 40,
      brush: prepareBrush({ frames: [roundTip(64)] }, recipe, RED),
      recipe,
      seed: 1,
      colour: RED,
    })
    painter.add(Float64Array.of(-30, 20, 1, 0, 0, 0, 150, 20, 1, 0, 0, 0))
    const surface = createSurface(120, 40)
    painter.compositeOnto(surface)
    // One pixel off the middle, cover c(x) = 1 - r/12 at flow f passes step 0.5 px: 1 - exp(sum of log(1 - f c)).
    const at = (x: number, y: number) => surface.data[(y * 120 + x) * 4 + 3] / 255
    let log = 0
    for (let x = -12; x < 12; x += 0.5) log += Math.log(1 - 0.02 * Math.max(0, 1 - Math.hypot(x + 0.25, 0.5) / 12))
    for (const x of [30, 45, 60, 80]) expect(at(x, 20)).toBeCloseTo(1 - Math.exp(log), 1.6)
    expect(at(60, 20)).toBeGreaterThan(at(60, 26))
    expect(at(60, 34)).toBe(0)
  })

  it('show a far smaller tip without aliasing: a fine checker becomes its mean', () => {
    const side = 256
    const data = Uint8Array.from({ length: side * side }, (_, i) => ((i + Math.floor(i / side)) % 2 ? 255 : 0))
    const recipe = defaultRecipe({ sizePx: 16, reading: 'light' })
    const painter = new StampStroke({
      width: 32,
      height: 32,
      brush: prepareBrush({ frames: [{ width: side, height: side, channels: 1, data }] }, recipe, RED),
      recipe,
      seed: 1,
      colour: RED,
    })
    painter.add(Float64Array.of(16.3, 15.8, 1, 0, 0, 0))
    const surface = createSurface(32, 32)
    painter.compositeOnto(surface)
    for (let y = 11; y < 21; y++)
      for (let x = 11; x < 21; x++) expect(Math.abs(surface.data[(y * 32 + x) * 4 + 3] - 128)).toBeLessThanOrEqual(1)
  })

  it('keep an own-colour tip in its colours, and take the chosen colour for a mask', () => {
    const own = defaultRecipe({ sizePx: 10, reading: 'own' })
    const blue = {
      width: 10,
      height: 10,
      channels: 4 as const,
      data: new Uint8Array(400).map((_, i) => [10, 20, 230, 255][i % 4]),
    }
    const middle = (recipe: Recipe, tip: typeof blue) => {
      const surface = createSurface(20, 20, WHITE)
      const painter = new StampStroke({
        width: 20,
        height: 20,
        brush: prepareBrush({ frames: [tip] }, recipe, RED),
        recipe,
        seed: 1,
        colour: RED,
      })
      painter.add(Float64Array.of(10, 10, 1, 0, 0, 0))
      painter.compositeOnto(surface)
      return [...surface.data.slice((10 * 20 + 10) * 4, (10 * 20 + 10) * 4 + 3)]
    }
    expect(middle(own, blue)).toEqual([10, 20, 230])
    expect(middle(defaultRecipe({ sizePx: 10, reading: 'alpha' }), blue)).toEqual([200, 30, 40])
  })

  it('never leave the picture blank or write outside it, in lists and gauges of any size', () => {
    for (const sizePx of [1, 24, 300, 4096]) {
      const recipe = defaultRecipe({ sizePx, reading: 'light' })
      const brush = { frames: [prepareFrame(roundTip(32))] }
      expect(renderListStroke(brush, recipe, { width: 200, height: 40 }).data.some((value) => value > 40)).toBe(true)
      expect(renderGauge(brush, recipe, { width: 200, height: 160 }).data.some((value) => value > 40)).toBe(true)
    }
    expect(listStroke(200, 40, 10).every(Number.isFinite)).toBe(true)
  })
})
