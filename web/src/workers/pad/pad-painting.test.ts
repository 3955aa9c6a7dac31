import { defaultRecipe, type Recipe } from '@satchel/core/brush/recipe'
import { createPixels } from '@satchel/core/raster/pixels'
import { prepareFrames } from '@satchel/core/stroke/prepare-brush'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { PadPainting, type PadPart } from './pad-painting.ts'

const SIZE = { width: 80, height: 60 }
const colour = { r: 120, g: 40, b: 20 }

/** What the page would show: the parts laid on it in the order they come. */
function openPad() {
  const shown = new Uint8ClampedArray(SIZE.width * SIZE.height * 4)
  const pad = new PadPainting(SIZE, ({ x, y, width, height, data }: PadPart) => {
    for (let row = 0; row < height; row++)
      shown.set(data.subarray(row * width * 4, (row + 1) * width * 4), ((y + row) * SIZE.width + x) * 4)
  })
  pad.showAll()
  return { pad, shown: () => Buffer.from(shown).toString('base64') }
}

const tip = createPixels(9, 9, 1)
for (let i = 0; i < tip.data.length; i++) tip.data[i] = (i % 9) * 20

function brush(change: Partial<Recipe['colour']> = {}, path: Partial<Recipe['path']> = {}) {
  const plain = defaultRecipe({ sizePx: 12 })
  const recipe: Recipe = { ...plain, colour: { ...plain.colour, ...change }, path: { ...plain.path, ...path } }
  return { prepared: { frames: prepareFrames([tip], recipe, colour), grain: undefined }, recipe, colour, seed: 7 }
}
const BRUSHES = {
  plain: brush(),
  thin: brush({ opacity: 0.4, flow: 0.6 }),
  rubber: brush({ behaviour: 'erase' }),
  tapered: brush({}, { taper: { startPx: 6, endPx: 12, size: 1, opacity: 0 } }),
}
/** A straight path from one point to another: x, y, pressure, tilt, tilt, time. */
function along([x0, y0, x1, y1]: readonly [number, number, number, number]): Float64Array {
  const samples = Array.from({ length: 9 }, (_, n) => [
    x0 + ((x1 - x0) * n) / 8,
    y0 + ((y1 - y0) * n) / 8,
    0.8,
    0,
    0,
    n * 8,
  ])
  return Float64Array.from(samples.flat())
}

type Stroke = { kind: keyof typeof BRUSHES; path: readonly [number, number, number, number] }
type Act = { what: 'stroke' | 'broken'; stroke: Stroke } | { what: 'clear' | 'back' | 'again' }

function draw(pad: PadPainting, { kind, path }: Stroke, isBroken = false): void {
  pad.begin(BRUSHES[kind])
  const samples = along(path)
  pad.more(samples.slice(0, 24))
  pad.more(samples.slice(24))
  if (isBroken) pad.drop()
  else pad.end()
}

function carryOut(pad: PadPainting, act: Act): void {
  if (act.what === 'stroke' || act.what === 'broken') draw(pad, act.stroke, act.what === 'broken')
  else ({ clear: () => pad.clear(), back: () => pad.takeBack(), again: () => pad.doAgain() })[act.what]()
}

const place = fc.integer({ min: -20, max: 100 })
const stroke = fc.record({
  kind: fc.constantFrom(...(Object.keys(BRUSHES) as Stroke['kind'][])),
  path: fc.tuple(place, place, place, place),
})
const act: fc.Arbitrary<Act> = fc.oneof(
  { weight: 4, arbitrary: stroke.map((each): Act => ({ what: 'stroke', stroke: each })) },
  { weight: 1, arbitrary: stroke.map((each): Act => ({ what: 'broken', stroke: each })) },
  { weight: 4, arbitrary: fc.constantFrom<Act>({ what: 'back' }, { what: 'again' }, { what: 'clear' }) },
)

describe('the sheet of the try pad', () => {
  it('shows after any acts what is left of them when those that were taken back are left out', () => {
    fc.assert(
      fc.property(fc.array(act, { maxLength: 12 }), (acts) => {
        const tried = openPad()
        const done: Act[] = []
        let undone: Act[] = []
        for (const each of acts) {
          const before = tried.pad.steps.back
          carryOut(tried.pad, each)
          if (each.what === 'back') undone.push(...done.splice(-1))
          else if (each.what === 'again') done.push(...undone.splice(-1))
          // a stroke beside the sheet leaves nothing, and is no step
          else if (tried.pad.steps.back > before) {
            done.push(each)
            undone = []
          }
          expect(tried.pad.steps).toEqual({ back: done.length, again: undone.length })
        }
        const anew = openPad()
        for (const each of done) carryOut(anew.pad, each)
        expect(tried.shown()).toBe(anew.shown())
      }),
      { numRuns: 60 },
    )
  })

  it('is painted on, rubbed out down to the paper, and opaque everywhere', () => {
    const { pad, shown } = openPad()
    const empty = shown()
    draw(pad, { kind: 'plain', path: [10, 30, 70, 30] })
    expect(shown()).not.toBe(empty)
    for (let n = 0; n < 4; n++) draw(pad, { kind: 'rubber', path: [0, 30, 80, 30] })
    const bytes = Buffer.from(shown(), 'base64')
    for (let at = 3; at < bytes.length; at += 4) expect(bytes[at]).toBe(255)
    pad.clear()
    expect(shown()).toBe(empty)
    pad.takeBack()
    expect(shown()).toBe(bytes.toString('base64'))
  })
})
