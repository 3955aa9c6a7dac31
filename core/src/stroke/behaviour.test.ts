import { describe, expect, it } from 'vitest'
import { defaultRecipe, type Recipe } from '../brush/recipe.ts'
import type { Pixels } from '../raster/pixels.ts'
import { createSurface, type Surface } from '../raster/surface.ts'
import { paintStroke, renderListStroke } from '../render/render.ts'
import type { Samples } from './path/samples.ts'
import { prepareBrush } from './prepare-brush.ts'

const SEA = { r: 38, g: 92, b: 122 }
const PAPER = { r: 250, g: 250, b: 250 }
const block: Pixels = { width: 12, height: 12, channels: 1, data: new Uint8Array(144).fill(255) }
const sand: Pixels = {
  width: 12,
  height: 12,
  channels: 4,
  data: Uint8Array.from({ length: 576 }, (_, i) => [180, 140, 90, 255][i % 4]),
}
const line: Samples = Float64Array.of(30, 30, 1, 0, 0, 0, 90, 30, 1, 0, 0, 99)

function stroke(
  surface: Surface,
  change: (recipe: Recipe) => void,
  { tip = block, path = line, seed = 1 } = {},
): Surface {
  const recipe = defaultRecipe({ sizePx: 12, reading: tip === sand ? 'own' : 'light' })
  change(recipe)
  paintStroke(surface, path, { brush: prepareBrush({ frames: [tip] }, recipe, SEA), recipe, seed, colour: SEA })
  return surface
}
const at = ({ data, width }: Surface, x: number, y: number) => [
  ...data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4),
]

describe('behaviours', () => {
  it('paint, erase: what is erased is clear, by as much as the stroke covers', () => {
    const surface = createSurface(120, 60, PAPER)
    stroke(surface, (recipe) => Object.assign(recipe.colour, { behaviour: 'erase', opacity: 0.6 }))
    expect(at(surface, 60, 30)).toEqual([100, 100, 100, 102]) // 40 % of premultiplied 250 and 255
    expect(at(surface, 60, 45)).toEqual([250, 250, 250, 255])
  })

  it('smear moves what is there: a hard block drags a spot along whole', () => {
    const surface = createSurface(120, 60, PAPER)
    for (let y = 27; y < 33; y++) for (let x = 27; x < 33; x++) surface.data.set([200, 30, 40, 255], (y * 120 + x) * 4)
    stroke(surface, (recipe) => (recipe.colour.behaviour = 'smear'))
    expect(at(surface, 90, 30)).toEqual([200, 30, 40, 255]) // the spot has arrived at the end of the path
    expect(at(surface, 98, 30)).toEqual([250, 250, 250, 255])
    expect(at(surface, 60, 20)).toEqual([250, 250, 250, 255]) // above the stroke nothing moved
  })

  it('smear leaves an even ground as it is, and adds no colour of its own', () => {
    const surface = createSurface(120, 60, PAPER)
    stroke(surface, (recipe) => Object.assign(recipe.colour, { behaviour: 'smear', flow: 0.7 }), { tip: sand })
    expect(surface.data.every((value, i) => value === (i % 4 === 3 ? 255 : 250))).toBe(true)
  })

  it('blend with the canvas by the specification: multiply darkens what is below', () => {
    const surface = createSurface(120, 60, { r: 200, g: 100, b: 50 })
    stroke(surface, (recipe) => (recipe.colour.blend = 'multiply'))
    const wanted = [200, 100, 50].map((below, c) => Math.round((below * [SEA.r, SEA.g, SEA.b][c]) / 255))
    expect(at(surface, 60, 30)).toEqual([...wanted, 255])
    // Two strokes over each other look like two layers of paint (E5).
    stroke(surface, (recipe) => (recipe.colour.blend = 'multiply'))
    for (const [c, value] of at(surface, 60, 30).slice(0, 3).entries())
      expect(Math.abs(value - (wanted[c] * [SEA.r, SEA.g, SEA.b][c]) / 255)).toBeLessThanOrEqual(1)
  })

  it('blend on a clear canvas is the paint itself', () => {
    const surface = createSurface(120, 60)
    stroke(surface, (recipe) => (recipe.colour.blend = 'color-burn'))
    expect(at(surface, 60, 30)).toEqual([38, 92, 122, 255])
  })
})

describe('a list’s stroke', () => {
  it('is never blank: what erases or smears is shown on bars, and leaves its trace in them', () => {
    const pictures = (['paint', 'erase', 'smear'] as const).map((behaviour) => {
      const recipe = defaultRecipe({ sizePx: 12, reading: 'light' })
      recipe.colour.behaviour = behaviour
      const brush = prepareBrush({ frames: [block] }, recipe, SEA)
      const { data } = renderListStroke(brush, recipe, { width: 200, height: 40 })
      const opaque = Array.from({ length: 200 }, (_, x) => data[(20 * 200 + x) * 4 + 3]).filter(
        (alpha) => alpha > 0,
      ).length
      return { opaque, bytes: Buffer.from(data.buffer).toString('base64') }
    })
    expect(new Set(pictures.map(({ bytes }) => bytes)).size).toBe(3)
    const [painted, erased, smeared] = pictures.map(({ opaque }) => opaque)
    expect(painted).toBeGreaterThan(100)
    expect(erased).toBeGreaterThan(2) // the bars beside the stroke stay
    expect(erased).toBeLessThan(70) // those under it are gone
    expect(smeared).toBeGreaterThan(60)
  })
})

describe('colour that varies', () => {
  const spaced = (recipe: Recipe) => {
    recipe.path.spacingPct = 150
    recipe.variation.value = { from: -13, to: 0 }
  }
  const xs = [30, 48, 66, 84]

  it('value 0 to −13 % darkens each stamp by its own share, in steps of the chosen colour (E2)', () => {
    const surface = stroke(createSurface(120, 60, PAPER), spaced)
    const values = xs.map((x) => Math.max(...at(surface, x, 30).slice(0, 3)))
    for (const value of values) expect(value >= 122 - 0.13 * 255 - 1 && value <= 122).toBe(true)
    expect(new Set(values).size).toBeGreaterThan(2)
  })

  it('varies tips in their own colours too', () => {
    const surface = stroke(createSurface(120, 60, PAPER), spaced, { tip: sand })
    const seen = xs.map((x) => at(surface, x, 30).slice(0, 3).join())
    expect(new Set(seen).size).toBeGreaterThan(2)
    for (const x of xs) expect(at(surface, x, 30)[0] >= 180 - 34 && at(surface, x, 30)[0] <= 180).toBe(true)
  })
})
