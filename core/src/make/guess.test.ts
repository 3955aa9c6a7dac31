import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import type { Pixels } from '../raster/pixels.ts'
import { guessSteps } from './guess.ts'
import { findObjects, USUAL_OBJECTS } from './sheet/find-objects.ts'
import { findMark, trimWork } from './steps/trim.ts'
import { runSteps } from './steps.ts'
import { anyOf, disc, leaf, overlap, takePhoto } from './testing.ts'
import { startWork, type Work } from './work.ts'

/** What the untouched first guess makes of a picture, before it is trimmed. */
function guessed(picture: Pixels): Work {
  let at = startWork(picture)
  for (const { step, work } of runSteps(startWork(picture), guessSteps(picture)))
    if (step.kind !== 'trim') at = work
    else break
  return at
}

async function throughJpeg({ width, height, data }: Pixels, quality: number): Promise<Pixels> {
  const jpeg = await sharp(data, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .jpeg({ quality })
    .toBuffer()
  const out = await sharp(jpeg).ensureAlpha().raw().toBuffer()
  return { width, height, channels: 4, data: new Uint8Array(out) }
}

const [width, height] = [731, 517]
const feather = anyOf(leaf(340, 260, 380, 24), disc(560, 130, 61), leaf(180, 400, 190, -50))
const slope = (x: number, y: number) => 0.62 + 0.38 * ((x / width + (1 - y / height)) / 2)
/** A soft shadow that falls over half of the paper. */
const shadow = (x: number, y: number) => 1 - 0.28 / (1 + Math.exp((x - 300 + y / 3) / 35))

describe('the first guess of a picture', () => {
  const dark = { paint: [52, 44, 40], ground: [228, 224, 214] } as const
  it.each([
    ['on plain paper', {}],
    ['on paper lit from one corner', { light: slope }],
    ['in a soft shadow', { light: shadow }],
    ['with noise', { light: slope, noise: 7 }],
    [
      'under warm light, in shadow, with noise',
      { light: shadow, noise: 5, ground: [231, 201, 150], paint: [60, 40, 22] },
    ],
    ['of a brown thing', { paint: [126, 84, 46], light: slope, noise: 4 }],
  ] as const)('finds a dark thing %s', (_how, photo) => {
    const { picture, mask } = takePhoto({ width, height, shape: feather, ...dark, ...photo })
    expect(overlap(guessed(picture).grey, mask)).toBeGreaterThan(0.95)
  })

  it('finds a dark thing in a JPEG', async () => {
    const { picture, mask } = takePhoto({ width, height, shape: feather, ...dark, light: slope, noise: 4 })
    expect(overlap(guessed(await throughJpeg(picture, 60)).grey, mask)).toBeGreaterThan(0.95)
  })

  it.each([60, 80, 90])('takes the waves around a mark in a clean JPEG for ground, quality %i', async (quality) => {
    const box = (x: number, y: number) => (x >= 30 && x < 95 && y >= 25 && y < 60 ? 1 : 0)
    const { picture } = takePhoto({ width: 131, height: 97, shape: box, ...dark })
    const found = findMark(guessed(await throughJpeg(picture, quality)))
    const exact = { left: 30, top: 25, right: 95, bottom: 60 }
    for (const side of ['left', 'top', 'right', 'bottom'] as const)
      expect(Math.abs((found?.[side] ?? 0) - exact[side])).toBeLessThanOrEqual(2)
  })

  it.each([
    ['white', [243, 240, 232]],
    ['yellow', [232, 210, 70]],
    ['orange, as light as the blue', [190, 110, 40]],
  ] as const)('finds a shape on blue: %s', async (_what, paint) => {
    const photo = takePhoto({ width, height, shape: feather, paint, ground: [38, 92, 176], light: shadow, noise: 5 })
    expect(overlap(guessed(await throughJpeg(photo.picture, 75)).grey, photo.mask)).toBeGreaterThan(0.9)
  })

  it('finds light on dark', () => {
    const { picture, mask } = takePhoto({
      width,
      height,
      shape: feather,
      paint: [236, 233, 228],
      ground: [44, 47, 50],
      light: slope,
      noise: 5,
    })
    expect(overlap(guessed(picture).grey, mask)).toBeGreaterThan(0.95)
  })

  it('takes what is not clear where a picture is cut out already', () => {
    const { picture, mask } = takePhoto({ width, height, shape: feather, paint: [240, 240, 240], ground: [0, 0, 0] })
    for (let i = 0; i < mask.length; i++) picture.data[4 * i + 3] = mask[i] * 255
    expect(overlap(guessed(picture).grey, mask)).toBe(1)
  })

  it('takes specks away and leaves greys inside the shape', () => {
    const dust = anyOf(disc(40, 40, 2), disc(690, 480, 2.4), disc(600, 300, 1.6))
    const { picture, mask } = takePhoto({ width, height, shape: anyOf(feather, dust), ...dark })
    const wanted = takePhoto({ width, height, shape: feather, ...dark }).mask
    // a vein of middle grey
    for (let x = 240; x < 440; x++)
      for (let y = 255; y < 262; y++) picture.data.fill(120, 4 * (y * width + x), 4 * (y * width + x) + 3)
    const { grey } = guessed(picture)
    expect(overlap(grey, mask)).toBeLessThan(1)
    expect(overlap(grey, wanted)).toBeGreaterThan(0.99)
    expect(grey[258 * width + 340]).toBeGreaterThan(60)
    expect(grey[258 * width + 340]).toBeLessThan(200)
  })

  it('leaves no speck that makes the tip larger than its mark', () => {
    for (const seed of [1, 2, 3, 4, 5]) {
      const noisy = {
        width,
        height,
        shape: disc(300, 240, 120),
        paint: [50, 46, 44],
        ground: [226, 221, 210],
        noise: 5,
        seed,
      } as const
      const { picture } = takePhoto(noisy)
      const trimmed = trimWork(guessed(picture), { paddingPx: 0, square: false })
      expect(Math.max(trimmed.width, trimmed.height)).toBeLessThan(246)
    }
  })

  it.each([1, 2, 255])('makes something of an even picture of grey %i', (level) => {
    const picture = { width: 3, height: 2, channels: 1 as const, data: new Uint8Array(6).fill(level) }
    const { width, height, grey } = guessed(picture)
    expect([width, height, new Set(grey).size]).toEqual([3, 2, 1])
  })
})

describe('a sheet of coins, pale ones among them', () => {
  const [wide, high] = [611, 433]
  const middles = Array.from({ length: 12 }, (_, i) => ({
    x: (wide * ((i % 4) + 0.5)) / 4,
    y: (high * (Math.floor(i / 4) + 0.5)) / 3,
    radius: 24 + ((i * 7) % 20),
    pale: 0.3 + 0.7 * (((i * 5) % 12) / 11),
  }))
  const nearest = (x: number, y: number) =>
    middles.reduce((best, each) => (distanceOf(each, x, y) < distanceOf(best, x, y) ? each : best))
  const distanceOf = (each: (typeof middles)[number], x: number, y: number) => Math.hypot(x - each.x, y - each.y)
  const sheet = (dark: boolean, reach: number) =>
    takePhoto({
      width: wide,
      height: high,
      shape: anyOf(...middles.map(({ x, y, radius }) => disc(x, y, radius))),
      ground: dark ? [44, 44, 44] : [226, 226, 226],
      paint: dark ? [44 + reach, 44 + reach, 44 + reach] : [226 - reach, 226 - reach, 226 - reach],
      relief: (x, y) => nearest(x, y).pale * (0.75 + 0.35 * Math.sin(x / 3.1) * Math.cos(y / 4.3)),
      // beside what lies on it the ground is further from its paint: a shade on dark cloth, an edge drawn sharp on paper
      light: (x, y) => {
        const away = distanceOf(nearest(x, y), x, y) - nearest(x, y).radius
        return (1 - (0.15 * x) / wide) * (away > 0 && away < 22 ? 1 + (dark ? -0.32 : 0.06) * (1 - away / 22) : 1)
      },
      noise: 3,
    })
  it.each([
    ['dark cloth', true, 90],
    ['dark cloth, little light', true, 62],
    ['paper', false, 80],
  ] as const)('falls into as many objects as lie on it, on %s', (_on, dark, reach) => {
    const { picture, mask } = sheet(dark, reach)
    const work = guessed(picture)
    expect(findObjects(work, USUAL_OBJECTS).objects).toHaveLength(12)
    expect(overlap(work.grey, mask)).toBeGreaterThan(0.75)
  })
})
