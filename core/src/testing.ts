import fc from 'fast-check'
import type { Pixels } from './raster/pixels.ts'

/** Pictures of any small size, kind and content, for property tests. */
export const anyPixels = (maxSide = 12): fc.Arbitrary<Pixels> =>
  fc
    .record({
      width: fc.integer({ min: 1, max: maxSide }),
      height: fc.integer({ min: 1, max: maxSide }),
      channels: fc.constantFrom<1 | 4>(1, 4),
    })
    .chain(({ width, height, channels }) => {
      const length = width * height * channels
      return fc
        .uint8Array({ minLength: length, maxLength: length })
        .map((data) => ({ width, height, channels, data: new Uint8Array(data) }))
    })

/** A soft round mark, grey, light paints: full in the middle, none at the rim. */
export function roundTip(side: number): Pixels {
  const data = new Uint8Array(side * side)
  const middle = side / 2
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const distance = Math.sqrt((x + 0.5 - middle) ** 2 + (y + 0.5 - middle) ** 2) / middle
      data[y * side + x] = Math.round(255 * Math.max(0, 1 - distance))
    }
  }
  return { width: side, height: side, channels: 1, data }
}
