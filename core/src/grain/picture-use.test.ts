import { describe, expect, it } from 'vitest'
import type { Pixels } from '../raster/pixels.ts'
import { guessUse } from './picture-use.ts'

const picture = (width: number, height: number, grey: (x: number, y: number) => number): Pixels => ({
  width,
  height,
  channels: 1,
  data: Uint8Array.from({ length: width * height }, (_, i) => grey(i % width, Math.floor(i / width))),
})
/** Waves that go on over the borders: `turns` whole ones make a tile, others leave a seam. */
const waves = (side: number, turns: number) =>
  picture(side, side, (x, y) => {
    const [u, v] = [x, y].map((at) => Math.cos((2 * Math.PI * turns * (at + 0.5)) / side))
    return 128 + 60 * u * v + 50 * Math.cos((2 * Math.PI * 3 * (x + y)) / side)
  })
const blot = (side: number) =>
  picture(side, side, (x, y) => (Math.hypot(x - side / 2, y - side / 2) < side / 3 ? 20 : 250))
const band = (width: number, height: number, from: number, to: number) =>
  picture(width, height, (x, y) => (x >= from && x < to && y > 2 && y < height - 3 ? 20 + ((x * 7) % 60) : 255))

describe('the use one would have for a picture', () => {
  it('is a grain for a full tile without a seam, a tip where the seam shows', () => {
    expect(guessUse([waves(128, 4)])).toBe('grain')
    expect(guessUse([waves(128, 4.1)])).toBe('grain') // measures 0.97
    expect(guessUse([waves(128, 4.15)])).toBe('tip') // measures 2.03
  })

  it('is a tip for a mark on an even backdrop, and for tiles that are too small', () => {
    expect(guessUse([blot(128)])).toBe('tip')
    expect(guessUse([waves(63, 4)])).toBe('tip')
    expect(guessUse([waves(64, 4)])).toBe('grain')
  })

  it('is a strip for what is three times as wide as high and runs from end to end', () => {
    expect(guessUse([band(192, 64, 0, 192)])).toBe('strip')
    expect(guessUse([band(192, 64, 9, 183)])).toBe('strip') // nine tenths of the length
    expect(guessUse([band(192, 64, 12, 180)])).toBe('tip')
    expect(guessUse([band(191, 64, 0, 191)])).toBe('tip')
    expect(guessUse([band(192, 64, 0, 192), band(192, 64, 0, 192)])).toBe('tip')
    expect(guessUse([])).toBe('tip')
  })
})
