import { describe, expect, it } from 'vitest'
import { isBlank } from './blank.ts'
import { createPixels } from './pixels.ts'

const evenly = (value: number, channels: 1 | 4 = 4) => {
  const pixels = createPixels(40, 40, channels)
  pixels.data.fill(value)
  return pixels
}

describe('a blank picture', () => {
  it('is one colour all over, whatever the colour', () => {
    for (const value of [0, 128, 255]) {
      expect(isBlank(evenly(value))).toBe(true)
      expect(isBlank(evenly(value, 1))).toBe(true)
    }
  })

  it('stays blank with differences no one sees, and with a speck of dust', () => {
    const pixels = evenly(200)
    for (let i = 0; i < pixels.data.length; i++) pixels.data[i] += i % 9
    expect(isBlank(pixels)).toBe(true)
    const dusty = evenly(200)
    dusty.data[4000] = 0
    expect(isBlank(dusty)).toBe(true)
  })

  it('is no longer blank with a mark, in any one channel, also when the first pixel is part of it', () => {
    for (const c of [0, 1, 2, 3]) {
      const marked = evenly(200)
      for (let i = 0; i < 4; i++) marked.data[400 + i * 4 + c] = 120
      expect(isBlank(marked)).toBe(false)
      const corner = evenly(200)
      for (let i = 0; i < 4; i++) corner.data[i * 4 + c] = 120
      expect(isBlank(corner)).toBe(false)
    }
  })
})
