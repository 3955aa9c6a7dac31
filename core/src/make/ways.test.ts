import { describe, expect, it } from 'vitest'
import { FormatError, LimitError } from '../errors.ts'
import { cone, sphere } from '../mesh/testing.ts'
import type { LayerNode } from '../raster/compose-layers.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { finish } from './finish.ts'
import { makeAll } from './make-all.ts'
import { type Opened, toOpened } from './opened.ts'
import { parsePlan } from './parse-plan.ts'
import { settingsOf, withSettings } from './step-kinds.ts'
import { anyOf, disc, takePhoto } from './testing.ts'
import {
  beginPlan,
  firstBegun,
  guessPlan,
  lastWork,
  type Plan,
  sharedSteps,
  tryPart,
  WAY_NAMES,
  type Way,
  whatIsWanted,
} from './ways.ts'

const opened = (pixels: Pixels) => toOpened({ frames: [{ pixels, name: '' }] })
const three = opened(
  takePhoto({
    width: 700,
    height: 301,
    paint: [60, 50, 40],
    ground: [235, 230, 220],
    shape: anyOf(disc(120, 150, 60), disc(340, 150, 50), disc(560, 150, 40)),
  }).picture,
)
const square = (side: number, [r, g, b]: readonly number[]): Pixels => {
  const pixels = createPixels(side, side, 4)
  for (let i = 0; i < pixels.data.length; i += 4) pixels.data.set([r, g, b, 255], i)
  return pixels
}
const layer = (name: string, pixels: Pixels, left: number, more: Partial<LayerNode> = {}): LayerNode =>
  ({ kind: 'layer', name, pixels, left, top: 5, op: 'normal', opacity: 1, isHidden: false, ...more }) as LayerNode
const drawing = toOpened({
  frames: [],
  drawing: {
    width: 120,
    height: 60,
    layers: [
      layer('Head', square(20, [200, 30, 30]), 10),
      layer('Notes', square(9, [0, 0, 0]), 0, { isHidden: true }),
      layer('Head', square(30, [30, 30, 200]), 50),
      layer('Paper', square(12, [90, 160, 40]), 100, { opacity: 0.5 }),
    ],
  },
})
const ball = toOpened({ frames: [], mesh: sphere(60, 30) })
const FILES: Record<Way, Opened> = { picture: three, sheet: three, ornament: three, layers: drawing, model: ball }
const made = (source: Opened, plan: Plan) => finish(makeAll(source, plan))

describe('plans', () => {
  it.each(WAY_NAMES)('of the way %s are stored and read again', (way) => {
    const plan = guessPlan(way, FILES[way])
    expect(parsePlan(JSON.parse(JSON.stringify(plan)))).toEqual(plan)
  })

  it.each([
    [null],
    [{}],
    [{ way: 'by magic', steps: [] }],
    [{ ...guessPlan('sheet', three), objects: {} }],
    [{ ...guessPlan('picture', three), more: 1 }],
    [{ ...guessPlan('model', ball), model: { views: [], sidePx: 100, become: 'tips' } }],
  ])('that are none are refused: %j', (data) => {
    expect(() => parsePlan(data)).toThrow(FormatError)
  })
})

describe('making', () => {
  it('holds one picture at a time: the next layer is laid out only when the one before is made', () => {
    let laidOut = 0
    const counted = (name: string): LayerNode => ({
      ...(layer(name, square(20, [20, 20, 20]), 10) as LayerNode & { kind: 'layer' }),
      get pixels() {
        laidOut++
        return square(20, [20, 20, 20])
      },
    })
    const source: Opened = { ...drawing, layers: ['a', 'b', 'c'].map(counted) }
    const plan = guessPlan('layers', source)
    laidOut = 0
    const beginning = beginPlan(source, plan)
    while (typeof beginning.next().value === 'number');
    const once = laidOut
    expect(once).toBeGreaterThan(0)
    for (let next = beginning.next(); !next.done; next = beginning.next());
    expect(laidOut).toBe(3 * once)
  })

  it('is refused where more comes of it than can be held', () => {
    const dots = opened(
      takePhoto({
        width: 1500,
        height: 1200,
        paint: [20, 20, 20],
        ground: [240, 240, 240],
        shape: (x, y) => (x % 25 < 8 && y % 25 < 8 ? 1 : 0),
      }).picture,
    )
    const plan = guessPlan('sheet', dots)
    if (plan.way !== 'sheet') throw new Error('no sheet')
    expect(() => made(dots, plan)).toThrow(/the number of tips that are made at once/)
    const frames: Plan = { ...plan, objects: { ...plan.objects, become: 'frames' } }
    expect(() => made(dots, frames)).toThrow(LimitError)
    const whole = withSettings(guessPlan('layers', drawing).steps, 'size', { fit: 'canvas', width: 6000, height: 6000 })
    const layers = guessPlan('layers', drawing)
    expect(() => made(drawing, { ...layers, steps: whole } as Plan)).toThrow(/the pixel count of all that is made/)
  })

  it.each(WAY_NAMES)('by %s tells how far it is, and never back', (way) => {
    const shares = [...makeAll(FILES[way], guessPlan(way, FILES[way]))]
    expect(shares).toEqual([...shares].sort((a, b) => a - b))
    expect(shares.at(-1)).toBe(1)
  })

  it('wants the right kind of file for each way', () => {
    expect(WAY_NAMES.filter((way) => whatIsWanted(way, three) === undefined)).toEqual([
      'picture',
      'sheet',
      'layers',
      'ornament',
    ])
    expect(WAY_NAMES.filter((way) => whatIsWanted(way, ball) === undefined)).toEqual(['model'])
  })

  it('a sheet gives each thing trimmed, and names it by its place', () => {
    const plan = guessPlan('sheet', three)
    const first = made(three, plan)
    expect(first.become).toBe('tips')
    expect(first.parts.map(({ part }) => part.split(',')[1])).toEqual(['151', '151', '151'])
    expect(first.parts.map(({ pixels }) => Math.round(pixels.width / 10))).toEqual([12, 10, 8])
    const smaller = { ...plan, steps: withSettings(plan.steps, 'size', { fit: 'side', sidePx: 50 }) }
    const again = made(three, smaller as Plan)
    expect(again.parts.map(({ part }) => part)).toEqual(first.parts.map(({ part }) => part))
    expect(again.parts.map(({ pixels }) => pixels.width)).toEqual([50, 50, 50])
  })

  it('layers give one each, with their colours and alpha; hidden ones only knowingly', () => {
    const plan = guessPlan('layers', drawing)
    const { become, parts } = made(drawing, plan)
    expect(become).toBe('frames')
    expect(parts.map(({ part }) => part)).toEqual(['Head', 'Head/2', 'Paper'])
    expect(parts.map(({ pixels }) => pixels.width)).toEqual([20, 30, 12])
    expect([...parts[1].pixels.data.subarray(0, 4)]).toEqual([30, 30, 200, 255])
    expect([...parts[2].pixels.data.subarray(0, 4)]).toEqual([90, 160, 40, 128])
    if (plan.way !== 'layers') throw new Error('no layers')
    const withNotes = made(drawing, { ...plan, layers: { ...plan.layers, chosen: [1] } })
    expect(withNotes.parts.map(({ name, pixels }) => [name, pixels.width])).toEqual([['Notes', 9]])
  })

  it('a model gives its depth, near light, a tip for each view', () => {
    const plan = guessPlan('model', ball)
    if (plan.way !== 'model') throw new Error('no model')
    const [view] = plan.model.views
    const two = { ...plan, model: { ...plan.model, sidePx: 201, views: [view, { ...view, near: 0, far: 0.3 }] } }
    const { parts } = made(ball, two)
    expect(parts.map(({ reading }) => reading)).toEqual(['light', 'light'])
    const [whole, cap] = parts.map(({ pixels }) => pixels)
    expect(whole.data[Math.floor(whole.height / 2) * whole.width + Math.floor(whole.width / 2)]).toBeGreaterThan(252)
    // only the cap before 0.3 of the depth has any light
    expect(cap.width).toBeLessThan(whole.width)
    expect(settingsOf(two.steps, 'reading').reading).toBe('light')
  })

  it('a cone seen from its side is a triangle', () => {
    const source = toOpened({ frames: [], mesh: cone(90) })
    const plan = guessPlan('model', source)
    if (plan.way !== 'model') throw new Error('no model')
    const side = { ...plan, model: { ...plan.model, sidePx: 200, views: [{ ...plan.model.views[0], pitchDeg: 90 }] } }
    const [{ pixels }] = made(source, side).parts
    expect(Math.abs(pixels.width - pixels.height)).toBeLessThan(4)
    const painted = pixels.data.filter((level) => level > 8).length
    expect(painted / pixels.data.length).toBeCloseTo(0.5, 1)
  })
})

describe('one part, to be tried', () => {
  const cleared = (plan: Plan) => {
    const begun = firstBegun(three, plan, {})
    if (!begun) throw new Error('nothing to begin with')
    return lastWork(begun.work, sharedSteps(plan.steps))
  }

  it('of a sheet it is the thing in that place, and what was left out does not count', () => {
    const plan = guessPlan('sheet', three)
    if (plan.way !== 'sheet') throw new Error('no sheet')
    const work = cleared(plan)
    const widthOf = (plan: Plan, part: number) => tryPart(work, plan, { part, sidePx: 480 }).work.width
    const { found } = tryPart(work, plan, { part: 0, sidePx: 480 })
    expect(found?.objects).toHaveLength(3)
    expect(widthOf(plan, 0)).toBeGreaterThan(widthOf(plan, 1))
    const leftOut = [{ x: 120, y: 150 }]
    const without: Plan = { ...plan, objects: { ...plan.objects, leftOut } }
    expect(widthOf(without, 0)).toBe(widthOf(plan, 1))
    expect(widthOf(plan, 99)).toBe(widthOf(plan, 0))
  })

  it('an ornament is tried small, anything else as it is', () => {
    const ornament = guessPlan('ornament', three)
    const work = cleared(ornament)
    expect(tryPart(work, ornament, { part: 0, sidePx: 200 }).work.width).toBe(200)
    const picture = guessPlan('picture', three)
    expect(tryPart(work, picture, { part: 0, sidePx: 200 })).toEqual({ work })
  })
})
