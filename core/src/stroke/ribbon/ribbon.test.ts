import { describe, expect, it } from 'vitest'
import { defaultRecipe, type Recipe, type Ribbon } from '../../brush/recipe.ts'
import type { Pixels } from '../../raster/pixels.ts'
import { createSurface } from '../../raster/surface.ts'
import { SAMPLE_STRIDE, type Samples } from '../path/samples.ts'
import { prepareBrush } from '../prepare-brush.ts'
import { RibbonStroke } from './ribbon-stroke.ts'
import { closedRun, openRun } from './strip-run.ts'

const BLACK = { r: 0, g: 0, b: 0 }
const [WIDTH, HEIGHT] = [300, 220]

/** A strip 100 x 20: a dark lead-in of 20, a body of 60 whose level rises from 60 to 178, a lead-out of 20. */
const strip: Pixels = {
  width: 100,
  height: 20,
  channels: 1,
  data: Uint8Array.from({ length: 2000 }, (_, i) => {
    const x = i % 100
    return x < 20 ? 250 : x < 80 ? 60 + 2 * (x - 20) : 30
  }),
}
const solid: Pixels = { width: 50, height: 20, channels: 1, data: new Uint8Array(1000).fill(255) }

const line = (x0: number, y0: number, x1: number, y1: number): Samples =>
  Float64Array.of(x0, y0, 1, 0, 0, 0, x1, y1, 1, 0, 0, 99)
const arc = (radius: number, degrees: number): Samples =>
  Float64Array.from(
    Array.from({ length: degrees + 1 }, (_, deg) => {
      const a = (deg * Math.PI) / 180
      return [150 + radius * Math.cos(a), 110 + radius * Math.sin(a), 1, 0, 0, deg]
    }).flat(),
  )

function paint(
  samples: Samples,
  { ribbon, tip = strip, change }: { ribbon: Ribbon; tip?: Pixels; change?: (r: Recipe) => void },
) {
  const recipe = defaultRecipe({ sizePx: 20, reading: 'light' })
  recipe.path.ribbon = ribbon
  change?.(recipe)
  const brush = prepareBrush({ frames: [tip] }, recipe, BLACK)
  const stroke = new RibbonStroke({ width: WIDTH, height: HEIGHT, brush, recipe, seed: 1, colour: BLACK })
  stroke.add(samples)
  stroke.finish()
  const surface = createSurface(WIDTH, HEIGHT)
  stroke.compositeOnto(surface)
  return { stroke, alpha: (x: number, y: number) => surface.data[(y * WIDTH + x) * 4 + 3] }
}

const STRETCHED: Ribbon = { lay: 'stretched', leadInPx: 0, leadOutPx: 0 }
const REPEATED: Ribbon = { lay: 'repeated', leadInPx: 20, leadOutPx: 20 }

describe('a ribbon', () => {
  it('stretched lies once over the whole path', () => {
    const { alpha } = paint(line(50, 100, 250, 100), { ribbon: STRETCHED }) // 200 px for 100 px of strip
    for (const x of [55, 80, 100, 150, 200, 240]) {
      const from = (x + 0.5 - 50) / 2 // strip px
      const wanted = from < 20 ? 250 : from < 80 ? 60 + 2 * (from - 20.5) : 30
      expect(Math.abs(alpha(x, 100) - wanted), `at ${x}`).toBeLessThanOrEqual(2)
    }
    expect([alpha(48, 100), alpha(252, 100), alpha(150, 88), alpha(150, 112)]).toEqual([0, 0, 0, 0])
  })

  it('repeated shows lead-in, bodies and lead-out whole, however long the path', () => {
    for (const length of [100, 131, 160, 177, 220, 243]) {
      const { alpha } = paint(line(20, 100, 20 + length, 100), { ribbon: REPEATED })
      const levels = Array.from({ length }, (_, i) => alpha(20 + i, 100))
      expect(levels.slice(2, 14).every((level) => level > 245)).toBe(true)
      expect(levels.slice(-12, -2).every((level) => level < 40)).toBe(true)
      // A body ends where its level falls back from the top to the bottom.
      let [falls, high] = [0, false]
      for (const level of levels) {
        if (high && level < 100) falls++
        high = level > 160 || (high && level >= 100)
      }
      expect(falls, `${length} px`).toBe(Math.max(1, Math.round((length - 40) / 60)) + 1) // lead-in's end and each body's
    }
  })

  it('is the same by arithmetic: bodies of equal length that fit to the end', () => {
    const sizes = { lengthPx: 100, leadInPx: 20, leadOutPx: 20 }
    const run = closedRun(sizes, 0, 250)
    const stretch = 250 / (20 + 4 * 60 + 20) // (250 − 40) / 60 is 3.5, rounded up
    for (const k of [0, 1, 2, 3]) expect(run((20 + k * 60) * stretch + 1e-9)).toBeCloseTo(20, 6)
    expect(run(250)).toBeCloseTo(100, 6)
    expect(openRun(sizes)(20 + 60 * 7 + 13)).toBeCloseTo(33, 9)
    // drawn up to 300: the next body begins at 320
    const late = closedRun(sizes, 300, 500)
    expect(late(310)).toBeCloseTo(openRun(sizes)(310), 9)
    expect(late(500)).toBeCloseTo(100, 6)
  })

  it('covers a bend without holes and never twice', () => {
    for (const radius of [40, 22, 12]) {
      const samples = arc(radius, 300)
      const half = (recipe: Recipe) => (recipe.colour.flow = 0.5)
      const { alpha } = paint(samples, { ribbon: STRETCHED, tip: solid, change: half })
      const tones = new Set<number>()
      for (let deg = 20; deg < 280; deg += 3) {
        for (let off = -8; off <= 8; off += 1) {
          const a = (deg * Math.PI) / 180
          tones.add(
            alpha(Math.floor(150 + (radius + off) * Math.cos(a)), Math.floor(110 + (radius + off) * Math.sin(a))),
          )
        }
      }
      expect(
        [...tones].every((tone) => Math.abs(tone - 127.5) <= 1.5),
        `radius ${radius}: ${[...tones]}`,
      ).toBe(true)
    }
  })

  it('shows its end on trial as if the path ended there, and goes on as if it had not', () => {
    const samples = arc(60, 330)
    const part = 30 * SAMPLE_STRIDE
    for (const lay of ['stretched', 'repeated'] as const) {
      const recipe = defaultRecipe({ sizePx: 20, reading: 'light' })
      recipe.path.ribbon = { ...REPEATED, lay }
      recipe.path.taper = { startPx: 10, endPx: 40, size: 0.8, opacity: 0.5 }
      const brush = prepareBrush({ frames: [strip] }, recipe, BLACK)
      const begin = () => new RibbonStroke({ width: WIDTH, height: HEIGHT, brush, recipe, seed: 1, colour: BLACK })
      const shown = (stroke: RibbonStroke) => {
        const surface = createSurface(WIDTH, HEIGHT)
        stroke.compositeOnto(surface)
        return Buffer.from(surface.data)
      }
      const growing = begin()
      let before = Buffer.from(createSurface(WIDTH, HEIGHT).data)
      for (let to = part; to - part < samples.length; to += part) {
        const areas = [growing.add(samples.subarray(to - part, to)), growing.peek()]
        const ended = begin()
        ended.add(samples.subarray(0, to))
        ended.finish()
        const now = shown(growing)
        expect(now.equals(shown(ended)), `${lay}, ${to / SAMPLE_STRIDE} samples`).toBe(true)
        for (let i = 0; i < now.length; i++) {
          if (now[i] === before[i]) continue
          const [x, y] = [(i >> 2) % WIDTH, Math.floor((i >> 2) / WIDTH)]
          if (!areas.some((a) => a && x >= a.left && x < a.right && y >= a.top && y < a.bottom))
            expect.fail(`${lay}: ${x}, ${y} changed in silence`)
        }
        before = now
      }
      growing.finish()
      expect(shown(growing).equals(before)).toBe(true)
      expect(before.some((value) => value > 0)).toBe(true)
    }
  })

  it('lies over itself where it really crosses', () => {
    const loop = Float64Array.of(
      ...[40, 60, 1, 0, 0, 0],
      ...[240, 60, 1, 0, 0, 1],
      ...[240, 180, 1, 0, 0, 2],
      ...[140, 180, 1, 0, 0, 3],
      ...[140, 20, 1, 0, 0, 4],
    )
    const { alpha } = paint(loop, { ribbon: STRETCHED, tip: solid, change: (recipe) => (recipe.colour.flow = 0.5) })
    expect(Math.abs(alpha(140, 60) - 255 * 0.75)).toBeLessThanOrEqual(2)
    expect(Math.abs(alpha(80, 60) - 127.5)).toBeLessThanOrEqual(1.5)
  })

  it('tells where it is squeezed by more than a third: half the width over the radius', () => {
    const tight = paint(arc(24, 200), { ribbon: STRETCHED }).stroke.squeezes() // 10 / 24
    expect(tight.length).toBe(1)
    expect(tight[0].share).toBeCloseTo(10 / 24, 1)
    expect(tight[0].toPx - tight[0].fromPx).toBeGreaterThan(0.85 * 24 * ((200 * Math.PI) / 180))
    expect(paint(arc(36, 200), { ribbon: STRETCHED }).stroke.squeezes()).toEqual([]) // 10 / 36 is less than a third
  })

  it('tapers in width and opacity at both ends', () => {
    const taper = { startPx: 60, endPx: 60, size: 1, opacity: 0.5 }
    const { alpha } = paint(line(40, 100, 260, 100), {
      ribbon: STRETCHED,
      tip: solid,
      change: (r) => (r.path.taper = taper),
    })
    const height = (x: number) =>
      Array.from({ length: 40 }, (_, i) => alpha(x, 80 + i)).filter((level) => level > 10).length
    expect(Math.abs(height(70) - 10)).toBeLessThanOrEqual(2) // half way in
    expect(height(150)).toBe(20)
    expect(Math.abs(height(230) - 10)).toBeLessThanOrEqual(2)
    expect(Math.abs(alpha(70, 100) - 255 * 0.75)).toBeLessThanOrEqual(4)
  })
})
