import { differenceCiede2000 } from 'culori'
import { ssim } from 'ssim.js'
import { describe, expect, it } from 'vitest'
import { createSurface, type Surface } from '../raster/surface.ts'
import { ciede2000, rgbToLab } from './ciede2000.ts'
import { compareSurfaces } from './likeness.ts'
import { meanOf, type Plane, ssimMap, toWindowed } from './ssim.ts'

/** The test pairs of Sharma, Wu and Dalal, 2005, table 1 (from memory): L, a, b twice, and the difference. */
const PAIRS = [
  [50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425],
  [50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615],
  [50, 2.8361, -74.02, 50, 0, -82.7485, 3.4412],
  [50, -1.3802, -84.2814, 50, 0, -82.7485, 1],
  [50, -1.1848, -84.8006, 50, 0, -82.7485, 1],
  [50, -0.9009, -85.5211, 50, 0, -82.7485, 1],
  [50, 0, 0, 50, -1, 2, 2.3669],
  [50, -1, 2, 50, 0, 0, 2.3669],
  [50, 2.49, -0.001, 50, -2.49, 0.0009, 7.1792],
  [50, 2.49, -0.001, 50, -2.49, 0.001, 7.1792],
  [50, 2.49, -0.001, 50, -2.49, 0.0011, 7.2195],
  [50, 2.49, -0.001, 50, -2.49, 0.0012, 7.2195],
  [50, -0.001, 2.49, 50, 0.0009, -2.49, 4.8045],
  [50, -0.001, 2.49, 50, 0.001, -2.49, 4.8045],
  [50, -0.001, 2.49, 50, 0.0011, -2.49, 4.7461],
  [50, 2.5, 0, 50, 0, -2.5, 4.3065],
  [50, 2.5, 0, 73, 25, -18, 27.1492],
  [50, 2.5, 0, 61, -5, 29, 22.8977],
  [50, 2.5, 0, 56, -27, -3, 31.903],
  [50, 2.5, 0, 58, 24, 15, 19.4535],
  [50, 2.5, 0, 50, 3.1736, 0.5854, 1],
  [50, 2.5, 0, 50, 3.2972, 0, 1],
  [50, 2.5, 0, 50, 1.8634, 0.5757, 1],
  [50, 2.5, 0, 50, 3.2592, 0.335, 1],
  [60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
  [63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.263],
  [61.2901, 3.7196, -5.3901, 61.4292, 2.248, -4.962, 1.8731],
  [35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645],
  [22.7233, 20.0904, -46.694, 23.0331, 14.973, -42.5619, 2.0373],
  [36.4612, 47.858, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146],
  [90.8027, -2.0831, 1.441, 91.1528, -1.6435, 0.0447, 1.4441],
  [90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381],
  [6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377],
  [2.0776, 0.0795, -1.135, 0.9033, -0.0636, -0.5514, 0.9082],
] as const

describe('CIEDE2000', () => {
  it('gives what was published for all 34 pairs, both ways round', () => {
    for (const [L1, a1, b1, L2, a2, b2, wanted] of PAIRS) {
      const [one, other] = [
        { L: L1, a: a1, b: b1 },
        { L: L2, a: a2, b: b2 },
      ]
      expect(ciede2000(one, other), String([L1, a1, b1, L2, a2, b2])).toBeCloseTo(wanted, 4)
      expect(ciede2000(other, one)).toBeCloseTo(wanted, 4)
    }
  })

  it('gives what the package culori does for sRGB colours', () => {
    const differ = differenceCiede2000()
    let most = 0
    for (let n = 0; n < 400; n++) {
      const [one, other] = [colourOf(n * 7919), colourOf(n * 104_729 + 13)]
      const culori = differ(
        { mode: 'rgb', r: one.r / 255, g: one.g / 255, b: one.b / 255 },
        { mode: 'rgb', r: other.r / 255, g: other.g / 255, b: other.b / 255 },
      )
      most = Math.max(most, Math.abs(ciede2000(rgbToLab(one), rgbToLab(other)) - culori))
    }
    // it takes the white of D65 with other digits
    expect(most).toBeLessThan(0.1)
  })
})

const colourOf = (n: number) => ({ r: n % 256, g: (n >> 3) % 256, b: (n >> 7) % 256 })

const plane = (width: number, height: number, level: (x: number, y: number) => number) =>
  toWindowed({
    width,
    height,
    data: Float32Array.from({ length: width * height }, (_, i) => level(i % width, Math.floor(i / width))),
  })

const toImage = ({ width, height, data }: Plane) => ({
  width,
  height,
  data: Uint8ClampedArray.from({ length: 4 * data.length }, (_, i) => (i % 4 === 3 ? 255 : data[i >> 2])),
})

describe('SSIM', () => {
  const waves = plane(67, 43, (x, y) => Math.round(128 + 60 * Math.sin(x / 3) + 50 * Math.cos(y / 5)))
  const moved = plane(67, 43, (x, y) => Math.round(120 + 50 * Math.sin(x / 3 + 0.4) + 50 * Math.cos(y / 5)))

  it('is 1 of a picture with itself, and what the package ssim.js says of others', () => {
    expect(meanOf(ssimMap(waves, waves))).toBeCloseTo(1, 6)
    const { mssim } = ssim(toImage(waves), toImage(moved), { ssim: 'original', downsample: false })
    expect(mssim).toBeLessThan(0.95)
    expect(meanOf(ssimMap(waves, moved))).toBeCloseTo(mssim, 3)
  })

  it('is what the formula gives by hand where both are even: only the luminances differ', () => {
    const c1 = (0.01 * 255) ** 2
    const map = ssimMap(
      plane(13, 12, () => 100),
      plane(13, 12, () => 150),
    )
    expect([map.width, map.height]).toEqual([3, 2])
    // float planes of squares leave a little variance
    expect(meanOf(map)).toBeCloseTo((2 * 100 * 150 + c1) / (100 ** 2 + 150 ** 2 + c1), 3)
  })

  it('refuses planes of two sizes, or too small for a window', () => {
    expect(() =>
      ssimMap(
        waves,
        plane(67, 42, () => 0),
      ),
    ).toThrow(RangeError)
    expect(() =>
      ssimMap(
        plane(10, 40, () => 0),
        plane(10, 40, () => 0),
      ),
    ).toThrow(RangeError)
  })
})

const PAPER = { r: 247, g: 247, b: 247 }
const INK = [176, 84, 42]

/** Discs on paper. */
function discs(places: readonly [x: number, y: number][], radius = 14, ink = INK): Surface {
  const surface = createSurface(301, 203, PAPER)
  for (const [cx, cy] of places)
    for (let y = 0; y < 203; y++)
      for (let x = 0; x < 301; x++) if (Math.hypot(x - cx, y - cy) < radius) surface.data.set(ink, 4 * (y * 301 + x))
  return surface
}
const row = (step: number, jitter = 0): [number, number][] =>
  Array.from({ length: 7 }, (_, i) => [30 + i * step, 100 + jitter * Math.sin(i * 5)])

describe('likeness', () => {
  const score = (a: Surface, b: Surface) => compareSurfaces(a, b, PAPER).score
  const own = discs(row(38))

  it('is 100 of a painting with itself and the same both ways', () => {
    expect(compareSurfaces(own, own, PAPER)).toEqual({ ssim: 1, deltaE: 0, score: 100 })
    const other = discs(row(36))
    expect(score(own, other)).toBeCloseTo(score(other, own), 9)
  })

  it('falls the more the more is wrong', () => {
    const near = score(own, discs(row(38), 14.5))
    const moved = score(own, discs(row(38, 5)))
    const spaced = score(own, discs(row(30)))
    const missing = score(own, discs([]))
    expect(near).toBeGreaterThan(85)
    for (const [more, less] of [
      [100, near],
      [near, moved],
      [moved, spaced],
      [spaced, missing],
    ])
      expect(more).toBeGreaterThan(less + 1)
    expect(missing).toBeLessThan(35)
  })

  it('hears a colour that is another', () => {
    expect(score(own, discs(row(38), 14, [42, 84, 176]))).toBeLessThan(75)
  })
})
