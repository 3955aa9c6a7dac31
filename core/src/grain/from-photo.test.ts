import { describe, expect, it } from 'vitest'
import { FormatError } from '../errors.ts'
import type { Pixels } from '../raster/pixels.ts'
import { grainFromPhoto, type PhotoGrainWish } from './from-photo.ts'
import { measureSeam } from './seam.ts'

const usual: PhotoGrainWish = { sidePx: 150, evenness: 1, levels: true, mend: 'cut' }

/** A woven cloth of a pitch across and down, lit from one side, with noise. */
function cloth(width: number, height: number, { across = 37, down = 29, light = 0.4, noise = 4 } = {}): Pixels {
  let seed = 7
  const random = () => {
    seed = (seed * 16807) % 2147483647
    return seed / 2147483647 - 0.5
  }
  const data = new Uint8Array(width * height)
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const weave = Math.sin((2 * Math.PI * x) / across) * Math.cos((2 * Math.PI * y) / down)
      const lit = 1 - light * (x / width) * (y / height)
      data[i] = Math.max(0, Math.min(255, (150 + 60 * weave) * lit + noise * 2 * random()))
    }
  return { width, height, channels: 1, data }
}
/** How far a length is from the next whole number of pitches, px. */
const fromWhole = (length: number, pitch: number) => Math.abs(length - pitch * Math.round(length / pitch))

describe('a grain of a photograph', () => {
  it.each([
    [611, 407],
    [1301, 957],
  ])('is as long as what repeats in it, and closes without a visible seam, at %i × %i', (width, height) => {
    const photo = cloth(width, height)
    const { crop, tile } = grainFromPhoto(photo, usual)
    expect(fromWhole(crop.width, 37)).toBeLessThanOrEqual(1)
    expect(fromWhole(crop.height, 29)).toBeLessThanOrEqual(1)
    for (const side of [tile.width - crop.width, tile.height - crop.height])
      expect(Math.abs(side)).toBeLessThanOrEqual(1)
    expect(measureSeam(tile)).toMatchObject({ across: { isSeamless: true }, down: { isSeamless: true } })
    // cut anywhere and as it is wanted, it shows
    const naive: Pixels = { width: 150, height: 150, channels: 1, data: new Uint8Array(150 * 150) }
    for (let y = 0; y < 150; y++) naive.data.set(photo.data.subarray(y * width, y * width + 150), y * 150)
    expect(measureSeam(naive).across.isSeamless).toBe(false)
  })

  it('is evenly lit and uses the whole scale', () => {
    const { tile } = grainFromPhoto(cloth(611, 407, { light: 0.6 }), usual)
    const mean = (from: number, to: number) => {
      let sum = 0
      for (let y = 0; y < tile.height; y++) for (let x = from; x < to; x++) sum += tile.data[y * tile.width + x]
      return sum / ((to - from) * tile.height)
    }
    const third = Math.floor(tile.width / 3)
    expect(Math.abs(mean(0, third) - mean(tile.width - third, tile.width))).toBeLessThan(18)
    const sorted = tile.data.slice().sort()
    expect([sorted[Math.floor(sorted.length * 0.01)] < 8, sorted[Math.floor(sorted.length * 0.99)] > 247]).toEqual([
      true,
      true,
    ])
  })

  it('takes a part that is whole: what lies in one corner only is left out', () => {
    const photo = cloth(611, 407)
    for (let y = 0; y < 200; y++) photo.data.fill(20, y * 611, y * 611 + 260)
    const { crop } = grainFromPhoto(photo, usual)
    expect(crop.left >= 255 || crop.top >= 195).toBe(true)
  })

  it('of a photograph that is smaller than the tile is as large as it can be; of hardly any it is refused', () => {
    const { crop } = grainFromPhoto(cloth(140, 133), { ...usual, sidePx: 900 })
    expect(crop.width).toBeLessThan(140)
    expect(() => grainFromPhoto(cloth(15, 15), usual)).toThrow(FormatError)
  })
})
