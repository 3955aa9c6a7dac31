import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { checkSvg } from '../formats/svg/check.ts'
import { toOutlineSvg } from './outline.ts'

const [width, height] = [97, 71]
/** A ring, softened by a pixel, and a box beside it. */
const shape = Uint8Array.from({ length: width * height }, (_, i) => {
  const [x, y] = [(i % width) + 0.5, Math.floor(i / width) + 0.5]
  const d = Math.hypot(x - 35.3, y - 34.7)
  const ring = Math.min(28 - d, d - 11)
  const box = Math.min(x - 75.25, 93.5 - x, y - 10, 60.75 - y)
  return 255 * Math.min(1, Math.max(0, Math.max(ring, box) + 0.5))
})

describe('an outline', () => {
  it('is a plain drawing that covers, drawn by librsvg, what the picture covered', async () => {
    const svg = toOutlineSvg(shape, width, height)
    checkSvg(new TextEncoder().encode(svg))
    const { data, info } = await sharp(Buffer.from(svg))
      .extractChannel('alpha')
      .raw()
      .toBuffer({ resolveWithObject: true })
    expect([info.width, info.height]).toEqual([width, height])
    let [both, either] = [0, 0]
    for (let i = 0; i < shape.length; i++) {
      both += Math.min(shape[i], data[i])
      either += Math.max(shape[i], data[i])
    }
    expect(both / either).toBeGreaterThan(0.985)
  })

  it('has no path where nothing paints', () => {
    expect(toOutlineSvg(new Uint8Array(12), 4, 3)).not.toContain('path')
  })
})
