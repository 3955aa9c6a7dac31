import { describe, expect, it } from 'vitest'
import { finish } from '../make/finish.ts'
import { drawDepth, FRONT_VIEW, lostToCircle, toDepthGrey, type View } from './depth.ts'
import type { Mesh } from './mesh.ts'
import { cone, plane, sphere } from './testing.ts'

const SIDE = 257
const draw = (mesh: Mesh, view: Partial<View> = {}, side = SIDE) =>
  finish(drawDepth(mesh, { ...FRONT_VIEW, ...view }, side))
/** Px of the picture in units of the model, whose farthest point lies `radius` from its middle. */
const unitOf = (radius: number) => (0.96 * SIDE) / (2 * radius)
/** Greys differ from what geometry says by more than one, away from edges. */
function wrongGreys(
  mesh: Mesh,
  view: Partial<View>,
  nearnessAt: (x: number, y: number) => number | undefined,
  radius: number,
) {
  const depth = draw(mesh, view)
  const grey = toDepthGrey(depth, 8)
  const unit = unitOf(radius)
  let [wrong, seen] = [0, 0]
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const wanted = nearnessAt((x + 0.5 - SIDE / 2) / unit, (SIDE / 2 - y - 0.5) / unit)
      if (wanted === undefined) continue
      seen++
      if (Math.abs(grey[y * SIDE + x] - 255 * wanted) > 1) wrong++
    }
  return { wrong, seen }
}
const EDGE = 0.03

describe('depth', () => {
  it.each([[{}], [{ yawDeg: 37 }], [{ pitchDeg: -64, rollDeg: 20 }], [{ yawDeg: 120, pitchDeg: 15, rollDeg: -80 }]])(
    'of a sphere is that of a sphere, however it is turned: %j',
    (view) => {
      // the far half is hidden, and still counts as depth: the rim lies in the middle of the range
      const ball = (x: number, y: number) => {
        const r = Math.hypot(x, y)
        // near the rim one px spans many greys
        return r > 0.9 ? undefined : (1 + Math.sqrt(1 - r * r)) / 2
      }
      const { wrong, seen } = wrongGreys(sphere(), view, ball, 1.0 * Math.sqrt(1))
      expect(seen).toBeGreaterThan(20_000)
      expect(wrong).toBe(0)
    },
  )

  it('of a cone falls evenly from its tip', () => {
    const radius = Math.hypot(1, 1)
    const tip = (x: number, y: number) => {
      const r = Math.hypot(x, y)
      return r > 1 - EDGE || r < EDGE ? undefined : 1 - r
    }
    for (const rollDeg of [0, 33]) expect(wrongGreys(cone(), { rollDeg }, tip, radius).wrong).toBe(0)
  })

  it.each([
    [30, 0],
    [0, 50],
    [-45, 0],
  ])('of a plane turned by %i and %i degrees is a plane', (yawDeg, pitchDeg) => {
    const [yaw, pitch] = [(yawDeg * Math.PI) / 180, (pitchDeg * Math.PI) / 180]
    // which side comes nearer: yaw turns the right side away from the eye, pitch the upper side towards it
    const slope = (x: number, y: number) => {
      const [u, v] = [x / Math.cos(yaw), y / Math.cos(pitch)]
      if (Math.abs(u) > 1 - EDGE || Math.abs(v) > 1 - EDGE) return undefined
      return yawDeg !== 0 ? (1 - Math.sign(yaw) * u) / 2 : (1 + v) / 2
    }
    const { wrong, seen } = wrongGreys(plane(), { yawDeg, pitchDeg }, slope, Math.SQRT2)
    expect(seen).toBeGreaterThan(5000)
    expect(wrong).toBe(0)
  })

  it('has sixteen bits where they are asked for', () => {
    const depth = draw(sphere())
    const grey = toDepthGrey(depth, 16)
    expect(Math.max(...grey.subarray(128 * SIDE, 129 * SIDE))).toBeGreaterThan(65_000)
    expect(new Set(grey).size).toBeGreaterThan(2000)
  })

  it('shows a part of its range, and cuts what lies before and behind it', () => {
    const grey = toDepthGrey(draw(sphere(), { near: 0.25, far: 0.5 }), 8)
    const middle = 128 * SIDE + 128
    expect(grey[middle]).toBe(255)
    // half of the way to the rim in depth: 1 - 0.375 of the way
    expect(draw(sphere(), { near: 0, far: 0.25 }).nearness[128 * SIDE + 20]).toBe(0)
  })

  it('is softened at its edge', () => {
    const { cover } = draw(sphere())
    const levels = new Set(cover)
    expect(levels.size).toBeGreaterThan(8)
    const area = cover.reduce((sum, level) => sum + level / 255, 0)
    expect(area / (Math.PI * unitOf(1) ** 2)).toBeCloseTo(1, 2)
  })

  it('tells how much a circle cuts off', () => {
    expect(lostToCircle(draw(sphere()))).toBe(0)
    // a square of side 1.8 in a circle of 2: what is left out of its area
    const corner = lostToCircle(draw(plane(), { zoom: Math.SQRT2 / 0.96 }))
    expect(corner).toBeCloseTo(1 - Math.PI / 4, 2)
  })

  it('tells how far it is', () => {
    const shares = [...drawDepth(sphere(), FRONT_VIEW, 64)]
    expect(shares.at(-1)).toBe(1)
    expect(shares).toEqual([...shares].sort((a, b) => a - b))
  })
})

describe('a model that would cover its picture over and over', () => {
  const faces = (count: number): Mesh => ({
    points: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0),
    triangles: Uint32Array.from({ length: 3 * count }, (_, i) => i % 3),
  })
  it('is refused before the first triangle, whether they are large or only long', () => {
    expect(() => drawDepth(faces(400_000), FRONT_VIEW, 1024).next()).toThrow('what its faces cover together')
    const slivers: Mesh = {
      points: Float32Array.of(0, 0, 0, 1e-6, 0, 0, 0, 1, 0),
      triangles: Uint32Array.from({ length: 6_000_000 }, (_, i) => i % 3),
    }
    expect(() => drawDepth(slivers, FRONT_VIEW, 1024).next()).toThrow('what its faces cover together')
  })
  it('is drawn where it covers it as often as real ones do', () => {
    expect(draw(faces(40)).cover.some((cover) => cover > 0)).toBe(true)
    expect(draw(sphere(360, 180), {}, 1024).cover.some((cover) => cover > 0)).toBe(true)
  })
})
