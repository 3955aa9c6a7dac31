import { describe, expect, it } from 'vitest'
import type { Pixels } from '../../raster/pixels.ts'
import { guessSteps } from '../guess.ts'
import { StepRunner } from '../steps.ts'
import { anyOf, disc, leaf, type Shape, takePhoto } from '../testing.ts'
import { startWork, type Work } from '../work.ts'
import { cutObject, findObjects, middleOf, type Objects, USUAL_OBJECTS } from './find-objects.ts'

const [width, height] = [903, 611]
const sheet = (...shapes: Shape[]): Pixels =>
  takePhoto({
    width,
    height,
    shape: anyOf(...shapes),
    paint: [50, 46, 44],
    ground: [226, 221, 210],
    noise: 4,
    light: (x) => 0.75 + (0.25 * x) / width,
  }).picture

/** The sheet as it is before it is trimmed. */
function cleared(picture: Pixels, scale = 1): Work {
  const { works } = new StepRunner(startWork(picture, scale)).run(guessSteps(picture))
  return works[6]
}

const grid = Array.from({ length: 12 }, (_, i) =>
  disc(120 + (i % 4) * 210, 110 + Math.floor(i / 4) * 190 + (i % 3), 40 + i * 3),
)
const find = (picture: Pixels, settings: Partial<Objects> = {}) => {
  const work = cleared(picture)
  return { work, ...findObjects(work, { ...USUAL_OBJECTS, ...settings }) }
}
const middles = (found: ReturnType<typeof find>) =>
  found.objects.map(({ left, right, top, bottom }) => [(left + right) / 2, (top + bottom) / 2])

describe('objects of a sheet', () => {
  it('are counted, in rows from the top, whatever their height', () => {
    const found = find(sheet(...grid))
    expect(found.objects).toHaveLength(12)
    for (const [i, [x, y]] of middles(found).entries()) {
      expect(Math.abs(x - (120 + (i % 4) * 210))).toBeLessThan(2)
      expect(Math.abs(y - (110 + Math.floor(i / 4) * 190 + (i % 3)))).toBeLessThan(2)
    }
  })

  it('stand by size when asked', () => {
    const areas = find(sheet(...grid), { order: 'size' }).objects.map(({ area }) => area)
    expect(areas).toEqual([...areas].sort((a, b) => b - a))
  })

  it.each([
    ['that touch in a point', [disc(300, 300, 100), disc(499, 300, 100)], 2],
    ['that lie over each other a bit', [disc(300, 300, 100), disc(470, 330, 90)], 2],
    ['of which a small one touches a large one', [disc(300, 300, 130), disc(300 + 172, 300, 45)], 2],
    ['three in a row', [disc(200, 300, 80), disc(355, 310, 80), disc(508, 300, 80)], 3],
    ['a pixel apart', [disc(300, 300, 100), disc(502, 300, 100)], 2],
    ['one leaf, which is one', [leaf(450, 300, 500, 20)], 1],
    [
      'one long bar with a bulge, which is one',
      [(x: number, y: number) => (Math.abs(y - 300) < 24 && x > 100 && x < 700 ? 1 : 0), disc(400, 300, 34)],
      1,
    ],
  ] as const)('are told apart: %s', (_how, shapes, count) => {
    expect(find(sheet(...shapes)).objects).toHaveLength(count)
  })

  it('are not cut where no neck may be', () => {
    expect(find(sheet(disc(300, 300, 100), disc(470, 330, 90)), { neck: 0 }).objects).toHaveLength(1)
  })

  it('leave dirt out', () => {
    expect(find(sheet(disc(300, 300, 100), disc(600, 300, 100), disc(450, 100, 7))).objects).toHaveLength(2)
  })

  it('are joined over a gap, and no wider one', () => {
    const two = sheet(disc(300, 300, 80), disc(470, 300, 80))
    expect(find(two, { gapPx: 8 }).objects).toHaveLength(2)
    expect(find(two, { gapPx: 13 }).objects).toHaveLength(1)
  })

  it('are joined, cut and left out by hand, by the places of the source', () => {
    const picture = sheet(disc(200, 300, 80), disc(420, 300, 80), leaf(720, 300, 240, 0))
    const joined = { from: { x: 200, y: 300 }, to: { x: 420, y: 300 } }
    expect(find(picture, { joined: [joined] }).objects).toHaveLength(2)
    expect(find(picture, { cuts: [{ from: { x: 720, y: 150 }, to: { x: 720, y: 450 } }] }).objects).toHaveLength(4)
    const { objects } = find(picture, { leftOut: [{ x: 420, y: 300 }] })
    expect(objects.map(({ isLeftOut }) => isLeftOut)).toEqual([false, true, false])
  })

  it('are cut out alone: what reaches into their box stays away', () => {
    const ring: Shape = (x, y) => disc(400, 300, 220)(x, y) - disc(400, 300, 180)(x, y)
    const found = find(sheet(ring, disc(400, 300, 60)), { neck: 0 })
    expect(found.objects).toHaveLength(2)
    const [outer, inner] = found.objects.map((object) => cutObject(found.work, found, object))
    expect(outer.grey[Math.floor(outer.height / 2) * outer.width + Math.floor(outer.width / 2)]).toBe(255)
    expect(inner.grey[Math.floor(inner.height / 2) * inner.width + Math.floor(inner.width / 2)]).toBeLessThan(12)
    const paint = (grey: Uint8Array) => grey.reduce((sum, level) => sum + 255 - level, 0)
    // all but a haze that is not seen
    expect((paint(outer.grey) + paint(inner.grey)) / paint(found.work.grey)).toBeGreaterThan(0.999)
  })

  it('are named by a place that lies on them, even when their middle does not', () => {
    const ring: Shape = (x, y) => disc(400, 300, 220)(x, y) - disc(400, 300, 180)(x, y)
    const found = find(sheet(ring), { neck: 0 })
    const { x, y } = middleOf(found.work, found, found.objects[0])
    expect(ring(x, y)).toBe(1)
  })
})
