import { createSurface } from '@satchel/core/raster/surface'
import { expect, it } from 'vitest'
import { cut, layOver, paste } from './cut-paste.ts'

const numbered = () => {
  const surface = createSurface(5, 4)
  surface.data.forEach((_, i) => {
    surface.data[i] = i
  })
  return surface
}
const area = { left: 1, top: 1, right: 4, bottom: 3 }

it('cuts a part out and puts it back where it was', () => {
  const surface = numbered()
  const part = cut(surface, area)
  expect([...part.subarray(0, 4)]).toEqual([24, 25, 26, 27]) // the pixel at 1, 1
  expect(part.length).toBe(3 * 2 * 4)
  const blank = createSurface(5, 4)
  paste(blank, area, part)
  expect([...cut(blank, area)]).toEqual([...part])
  expect(blank.data[0]).toBe(0)
})

it('lets the backdrop show through where a part is clear, and only there', () => {
  const backdrop = createSurface(5, 4, { r: 200, g: 100, b: 50 })
  const data = new Uint8ClampedArray([9, 9, 9, 255, 0, 0, 0, 0, 10, 20, 30, 128])
  layOver({ left: 2, top: 1, width: 3, height: 1, data }, backdrop)
  expect([...data.subarray(0, 8)]).toEqual([9, 9, 9, 255, 200, 100, 50, 255])
  const half = [10 + 200 * (127 / 255), 20 + 100 * (127 / 255), 30 + 50 * (127 / 255)]
  for (const [c, value] of half.entries()) expect(Math.abs((data[8 + c] ?? 0) - value)).toBeLessThanOrEqual(0.5)
  expect(data[11]).toBe(255)
})
