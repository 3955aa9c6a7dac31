import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { joinKeys, printAlike } from '../alike/alike-print.ts'
import { defaultRecipe, type Recipe } from '../brush/recipe.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { renderStrokes } from '../render/render.ts'
import { ENGINE_VERSION } from '../stroke/engine-version.ts'
import { SAMPLE_STRIDE } from '../stroke/path/samples.ts'
import { prepareBrush } from '../stroke/prepare-brush.ts'
import { roundTip } from '../testing.ts'
import { cutPaint } from './cut-paint.ts'
import { findStroke } from './find-stroke.ts'
import { markLikeness, nearestMarks, printsOfPicture } from './like-mark.ts'
import { LOOK_VERSION, measureStrokeLook, NOTHING_PAINTED } from './stroke-look.ts'
import { straighten } from './stroke-plane.ts'
import { rankSignatures, SIGNATURE_BYTES, signatureOf, strokeLikeness } from './stroke-signature.ts'

type Parts = { [Group in 'mark' | 'path' | 'variation' | 'colour']?: Partial<Recipe[Group]> }
const recipeOf = ({ mark, path, variation, colour }: Parts = {}): Recipe => {
  const plain = defaultRecipe()
  return {
    ...plain,
    mark: { ...plain.mark, sizePx: 40, ...mark },
    path: { ...plain.path, spacingPct: 10, ...path },
    variation: { ...plain.variation, ...variation },
    colour: { ...plain.colour, reading: 'light', ...colour },
  }
}
const disc = { frames: [roundTip(48)] }
/** A full square: a stroke of it is a bar of the brush's own width. */
const square = (side: number, value = 255): { frames: Pixels[] } => {
  const frame = createPixels(side, side, 1)
  frame.data.fill(value)
  return { frames: [frame] }
}
const look = (parts: Parts, pictures = disc, seed?: number) => measureStrokeLook(pictures, recipeOf(parts), seed)

describe('the look of a stroke', () => {
  it('says of a bar of black how wide, dark and even it is', () => {
    const { widthPx, darkness, roughness } = look({ path: { spacingPct: 2 } }, square(40))
    expect(widthPx).toBeCloseTo(40, 0)
    expect(darkness).toBeGreaterThan(0.95)
    expect(roughness).toBeLessThan(0.01)
  })

  it('is as wide as the brush is large, and else the same at any size', () => {
    for (const sizePx of [6, 90, 700]) {
      const { widthPx, darkness, roughness, signature } = look({ mark: { sizePx } })
      const usual = look({})
      expect(widthPx / sizePx).toBeCloseTo(usual.widthPx / 40, 1)
      expect(Math.abs(darkness - usual.darkness)).toBeLessThan(0.02)
      expect(Math.abs(roughness - usual.roughness)).toBeLessThan(0.02)
      expect(strokeLikeness(signature, usual.signature)).toBeGreaterThan(90)
    }
  })

  it('is lighter with less flow and in lighter colours, rougher with gaps, wider when thrown', () => {
    expect(look({ colour: { flow: 0.1 } }).darkness).toBeLessThan(look({}).darkness)
    const pale = createPixels(20, 20, 4)
    for (let i = 0; i < pale.data.length; i += 4) pale.data.set([230, 220, 120, 255], i)
    expect(look({ colour: { reading: 'own' } }, { frames: [pale] }).darkness).toBeLessThan(
      look({}, square(20)).darkness / 3,
    )
    const gaps = look({ path: { spacingPct: 150 } })
    expect(gaps.roughness).toBeGreaterThan(3 * look({}).roughness)
    const thrown = look({ path: { spacingPct: 30, scatter: { acrossPct: 200, alongPct: 0 } } })
    expect(thrown.widthPx).toBeGreaterThan(2 * look({}).widthPx)
  })

  it('tells how strongly a brush erases or smears as if it laid paint', () => {
    const { signature, ...figures } = look({})
    for (const behaviour of ['erase', 'smear'] as const) {
      const other = look({ colour: { behaviour } })
      expect(other).toMatchObject(figures)
      // and yet looks like none that lays paint
      expect(strokeLikeness(signature, other.signature)).toBeLessThan(80)
    }
  })

  it('is named by the rules and the engine that measured it: where it comes out otherwise, either counts up', () => {
    const measured = [{}, { path: { spacingPct: 130 } }, { colour: { flow: 0.06 } }].map((parts: Parts) => look(parts))
    const said = measured.map(({ darkness, widthPx, roughness, signature }) =>
      [darkness.toFixed(3), widthPx.toFixed(2), roughness.toFixed(3), ...signature].join(' '),
    )
    expect([
      LOOK_VERSION,
      ENGINE_VERSION,
      bytesToHex(sha256(new TextEncoder().encode(said.join('\n')))).slice(0, 12),
    ]).toEqual([1, 6, 'dd3d2bfb2683'])
  })

  it('is none where nothing is painted', () => {
    expect(look({}, square(20, 0))).toEqual(NOTHING_PAINTED)
  })

  it('has figures within their bounds for any spacing, scatter, flow and size', () => {
    fc.assert(
      fc.property(
        fc.record({
          sizePx: fc.double({ min: 1, max: 2000, noNaN: true }),
          spacingPct: fc.double({ min: 1, max: 400, noNaN: true }),
          acrossPct: fc.double({ min: 0, max: 1000, noNaN: true }),
          flow: fc.double({ min: 0.01, max: 1, noNaN: true }),
        }),
        ({ sizePx, spacingPct, acrossPct, flow }) => {
          const parts = {
            mark: { sizePx },
            path: { spacingPct, scatter: { acrossPct, alongPct: 0 } },
            colour: { flow },
          }
          const { darkness, widthPx, roughness, signature } = look(parts)
          for (const share of [darkness, roughness]) expect(share >= 0 && share <= 1).toBe(true)
          expect(widthPx).toBeGreaterThanOrEqual(0)
          expect([0, SIGNATURE_BYTES]).toContain(signature.length)
        },
      ),
      { numRuns: 40 },
    )
  })
})

const FOUR: Record<string, Parts> = {
  line: {},
  beads: { path: { spacingPct: 130 } },
  spray: {
    path: { spacingPct: 40, count: 2, scatter: { acrossPct: 180, alongPct: 40 } },
    variation: { size: { from: 0.2, to: 1 } },
  },
  wash: { colour: { flow: 0.06 } },
}

/** A picture of a stroke, slanted and bent, on paper that is not quite white. */
function scanOf(parts: Parts): Pixels {
  const recipe = recipeOf({ ...parts, mark: { sizePx: 30 } })
  const [width, height, count] = [600, 420, 240]
  const samples = new Float64Array(count * SAMPLE_STRIDE)
  for (let i = 0; i < count; i++) {
    const t = i / (count - 1)
    samples.set([70 + 460 * t, 290 - 160 * t + 30 * Math.sin(3 * t), 0.7, 0, 0, 4 * i], i * SAMPLE_STRIDE)
  }
  const black = { r: 0, g: 0, b: 0 }
  const { data } = renderStrokes([samples], prepareBrush(disc, recipe, black), recipe, {
    ...{ width, height, colour: black, seed: 31, backdrop: { r: 240, g: 236, b: 228 } },
  })
  return { width, height, channels: 4, data: new Uint8Array(data.buffer) }
}

describe('strokes that look alike', () => {
  const names = Object.keys(FOUR)
  const signatures = names.map((name) => look(FOUR[name]).signature)
  const first = (signature: Uint8Array) => names[rankSignatures(signature, signatures, 1)[0].at]

  it('are those of one brush, however chance lays its marks', () => {
    for (const name of names) expect(first(look(FOUR[name], disc, 77).signature)).toBe(name)
  })

  it('are found by a picture of one, whichever way it lies', () => {
    for (const name of ['line', 'beads', 'spray']) {
      const plane = findStroke(scanOf(FOUR[name]))
      const stroke = plane && straighten(plane)
      expect(stroke && first(signatureOf(stroke))).toBe(name)
    }
  })

  it('are not looked for where nothing is painted, or what is there is no longer than broad', () => {
    expect(findStroke(createPixels(30, 30, 4))).toBeUndefined()
    expect(findStroke({ ...square(30).frames[0] })).toBeUndefined()
    const dot = createPixels(90, 90, 1)
    dot.data.fill(255)
    for (let y = 30; y < 60; y++) for (let x = 30; x < 60; x++) dot.data[y * 90 + x] = 0
    expect(findStroke(dot)).toBeUndefined()
  })

  it('refuse what is no signature', () => {
    expect(() => strokeLikeness(new Uint8Array(3), signatures[0])).toThrow(RangeError)
  })
})

/** A black shape on white: 1 where `inside` says so, over a square of 0…1. */
function drawn(inside: (x: number, y: number) => boolean, side = 96): Pixels {
  const picture = createPixels(side, side, 1)
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) picture.data[y * side + x] = inside(x / side, y / side) ? 0 : 255
  return picture
}
const SHAPES: Record<string, (x: number, y: number) => boolean> = {
  ring: (x, y) => Math.abs(Math.hypot(x - 0.5, y - 0.5) - 0.3) < 0.08,
  hook: (x, y) => (x > 0.2 && x < 0.35 && y > 0.1 && y < 0.9) || (y > 0.75 && y < 0.9 && x > 0.2 && x < 0.8),
  bars: (x, y) => x > 0.1 && x < 0.9 && y > 0.1 && y < 0.9 && Math.floor(x * 8) % 2 === 0,
  wedge: (x, y) => y > 0.1 && y < 0.9 && x > 0.1 && x < y,
}

describe('marks that look like a picture', () => {
  const names = Object.keys(SHAPES)
  const prints = names.map((name) => printAlike(drawn(SHAPES[name]), 'dark'))
  const keys = joinKeys(prints.map(({ key }) => key))
  const find = (picture: Pixels) => {
    const wanted = printsOfPicture(picture)
    const near = nearestMarks(wanted.map(({ key }) => key), keys, 3) // biome-ignore format: one line
    const [best] = markLikeness(wanted.map(({ mark }) => mark), near.map(({ at }) => prints[at].mark)) // biome-ignore format: one line
    return { name: names[near[best.at].at], likeness: best.likeness }
  }

  it('are found by what was drawn otherwise: thicker, turned, in colour on dark, clear around', () => {
    for (const name of names) {
      const inside = SHAPES[name]
      const turned = drawn((x, y) => inside(y, 1 - x), 130)
      const wobbled = drawn((x, y) => inside(x + 0.02 * Math.sin(9 * y), y + 0.02 * Math.sin(7 * x)), 80)
      const onDark = createPixels(96, 96, 4)
      const onNothing = createPixels(96, 96, 4)
      for (let i = 0; i < 96 * 96; i++) {
        const isIn = inside((i % 96) / 96, Math.floor(i / 96) / 96)
        onDark.data.set(isIn ? [250, 190, 60, 255] : [20, 24, 40, 255], 4 * i)
        if (isIn) onNothing.data.set([180, 40, 60, 255], 4 * i)
      }
      for (const picture of [turned, wobbled, onDark, onNothing]) {
        const found = find(picture)
        expect(found.name).toBe(name)
        expect(found.likeness).toBeGreaterThan(70)
      }
    }
  })

  it('are told by most like first, and no more of them than were asked for', () => {
    const [wanted] = printsOfPicture(drawn(SHAPES.ring))
    const near = nearestMarks([wanted.key], keys, 2)
    expect(near).toHaveLength(2)
    expect(near[0].distance).toBeLessThanOrEqual(near[1].distance)
    expect(names[near[0].at]).toBe('ring')
  })

  it('are none of an empty picture', () => {
    expect(printsOfPicture(createPixels(20, 20, 4))).toEqual([])
    expect(printsOfPicture({ ...square(20).frames[0] })).toEqual([])
    expect(markLikeness([new Uint8Array()], [prints[0].mark])).toEqual([])
  })
})

it('cuts paint from its ground with the colour that it has of its own', () => {
  const picture = createPixels(9, 9, 4)
  for (let i = 0; i < 81; i++) picture.data.set([250, 250, 250, 255], 4 * i)
  picture.data.set([125, 125, 125, 255], 4 * 40)
  const cut = cutPaint(picture)
  expect(cut.data.subarray(0, 4)).toEqual(Uint8Array.of(0, 0, 0, 0))
  // half of black on a ground of 250
  expect(cut.data[4 * 40 + 3]).toBeGreaterThan(110)
  expect(cut.data[4 * 40]).toBeLessThan(12)
})
