import { describe, expect, it } from 'vitest'
import { defaultRecipe, type Grain } from '../brush/recipe.ts'
import type { Pixels } from '../raster/pixels.ts'
import { createSurface } from '../raster/surface.ts'
import { createStroke } from '../stroke/create-stroke.ts'
import type { Samples } from '../stroke/path/samples.ts'
import { prepareBrush } from '../stroke/prepare-brush.ts'
import { prepareGrain, weightOf } from './prepare-grain.ts'

const BLACK = { r: 0, g: 0, b: 0 }
const BLOCK: Pixels = { width: 8, height: 8, channels: 1, data: new Uint8Array(64).fill(255) }
const TONES = { strength: 1, brightness: 0, contrast: 0 }

/** A tile of one light dot on dark, `pitch` px wide. */
function dot(pitch: number): Pixels {
  const data = new Uint8Array(pitch * pitch)
  for (let y = 0; y < 2; y++) for (let x = 0; x < 2; x++) data[y * pitch + x] = 255
  return { width: pitch, height: pitch, channels: 1, data }
}

type Stroke = { grain: Pixels; settings?: Partial<Grain>; samples?: Samples; seed?: number; sizePx?: number }
const [WIDTH, HEIGHT] = [160, 80]
const LEVEL = Float64Array.of(-40, 40, 1, 0, 0, 0, 200, 40, 1, 0, 0, 0)

/** Alpha of one stroke of a full square, 8-bit, by place. */
function alphaOf({ grain, settings, samples = LEVEL, seed = 1, sizePx = 60 }: Stroke) {
  const recipe = defaultRecipe({ sizePx, reading: 'light' })
  recipe.path.spacingPct = 10
  recipe.ground.grain = {
    sha256: '0'.repeat(64),
    anchor: 'canvas',
    scalePct: 100,
    ...TONES,
    randomTurn: 'none',
    ...settings,
  } as Grain
  const surface = createSurface(WIDTH, HEIGHT)
  const brush = prepareBrush({ frames: [BLOCK], grain }, recipe, BLACK)
  const stroke = createStroke({ width: WIDTH, height: HEIGHT, brush, recipe, seed, colour: BLACK })
  stroke.add(samples)
  stroke.finish()
  stroke.compositeOnto(surface)
  return (x: number, y: number) => surface.data[(y * WIDTH + x) * 4 + 3]
}

describe('grain on the canvas', () => {
  it('lays a dot grid exactly, over the unbroken stroke and over the borders of its tile', () => {
    const alpha = alphaOf({ grain: dot(5) })
    for (let y = 14; y < 66; y++) {
      for (let x = 0; x < WIDTH; x++) expect(alpha(x, y), `${x},${y}`).toBe(x % 5 < 2 && y % 5 < 2 ? 255 : 0)
    }
  })

  it('stays where it is, wherever the stroke begins; grain of the stroke moves with it', () => {
    const shifted = LEVEL.map((value, i) => (i % 6 === 0 ? value + 3 : value))
    const [a, b] = [alphaOf({ grain: dot(5) }), alphaOf({ grain: dot(5), samples: shifted })]
    expect([50, 51, 52, 53, 54].map((x) => b(x, 40))).toEqual([50, 51, 52, 53, 54].map((x) => a(x, 40)))
    const c = alphaOf({ grain: dot(5), settings: { anchor: 'stroke' }, samples: shifted })
    const d = alphaOf({ grain: dot(5), settings: { anchor: 'stroke' } })
    expect([50, 51, 52, 53, 54].map((x) => c(x + 3, 40))).toEqual([50, 51, 52, 53, 54].map((x) => d(x, 40)))
  })

  it('repeats at any scale without a seam: every period is the same, also where tiles do not halve evenly', () => {
    for (const scalePct of [200, 300, 50, 20, 7]) {
      const grain = dot(20)
      const period = (20 * scalePct) / 100
      const alpha = alphaOf({ grain, settings: { scalePct } })
      if (period !== Math.round(period)) continue
      for (let x = 0; x + period < WIDTH; x++) {
        expect(Math.abs(alpha(x, 40) - alpha(x + period, 40)), `${scalePct} % at ${x}`).toBeLessThanOrEqual(1)
      }
    }
  })

  it('becomes its mean when far too fine to see: no aliasing', () => {
    const side = 64
    const checker = Uint8Array.from({ length: side * side }, (_, i) => ((i + Math.floor(i / side)) % 2 ? 255 : 0))
    const alpha = alphaOf({
      grain: { width: side, height: side, channels: 1, data: checker },
      settings: { scalePct: 11 },
    })
    for (let x = 5; x < 150; x++) expect(Math.abs(alpha(x, 33) - 128)).toBeLessThanOrEqual(1)
  })

  it('weighs by 1 − strength · (1 − g), after brightness and contrast', () => {
    expect(weightOf(0.25, { ...TONES, strength: 0.6 })).toBeCloseTo(1 - 0.6 * 0.75, 12)
    expect(weightOf(0.25, { ...TONES, brightness: 0.5 })).toBeCloseTo(0.75, 12)
    expect(weightOf(0.25, { ...TONES, contrast: 0.5 })).toBeCloseTo(0, 12)
    expect(weightOf(0.25, { ...TONES, contrast: -1 })).toBeCloseTo(0.5, 12)
    const grey = { width: 1, height: 1, channels: 1 as const, data: Uint8Array.of(64) }
    expect(
      Math.abs(alphaOf({ grain: grey, settings: { strength: 0.6 } })(70, 40) - 255 * (1 - 0.6 * (1 - 64 / 255))),
    ).toBeLessThanOrEqual(1)
  })

  it('takes a clear picture for white paper', () => {
    const clear = { width: 1, height: 1, channels: 4 as const, data: Uint8Array.of(0, 0, 0, 0) }
    expect(prepareGrain(clear, TONES).levelFor(1).data[0]).toBe(255)
  })
})

describe('grain in motion', () => {
  const tap = Float64Array.of(80, 40, 1, 0, 0, 0)
  const rows = (alpha: (x: number, y: number) => number) =>
    Array.from({ length: 400 }, (_, i) => alpha(70 + (i % 20), 30 + Math.floor(i / 20))).join()

  it('of a stamp lies in every stamp alike, wherever it falls', () => {
    const settings = { anchor: 'stamp' as const }
    const a = alphaOf({ grain: dot(5), settings, samples: tap })
    const b = alphaOf({ grain: dot(5), settings, samples: tap.map((v, i) => (i === 0 ? v + 3 : v)) })
    expect(a(75, 35)).toBe(b(78, 35))
    expect(rows(a)).not.toBe(rows(b))
  })

  it('turns once a stroke or with each stamp, by the seed', () => {
    for (const randomTurn of ['stroke', 'stamp'] as const) {
      for (const anchor of ['canvas', 'stroke', 'stamp'] as const) {
        const [a, again, b] = [1, 1, 2].map((seed) => rows(alphaOf({ grain: dot(7), settings: { anchor, randomTurn }, samples: tap, seed })))
        expect(a).toBe(again)
        expect(a, `${anchor} ${randomTurn}`).not.toBe(b)
      }
    }
  }) // biome-ignore format: one line a case
})
