import { createPixels, type Pixels } from './pixels.ts'

/**
 * The part of a one-channel picture that holds anything, or undefined when nothing does.
 * @param from The lowest level that counts, 1…255.
 */
export function trimToMark({ width, height, data }: Pixels, from: number): Pixels | undefined {
  let left = width
  let right = -1
  let top = -1
  let bottom = -1
  for (let y = 0; y < height; y++) {
    for (let x = 0, i = y * width; x < width; x++, i++) {
      if (data[i] < from) continue
      if (top < 0) top = y
      bottom = y
      if (x < left) left = x
      if (x > right) right = x
    }
  }
  if (top < 0) return undefined
  const out = createPixels(right - left + 1, bottom - top + 1, 1)
  for (let y = top, o = 0; y <= bottom; y++, o += out.width) {
    out.data.set(data.subarray(y * width + left, y * width + right + 1), o)
  }
  return out
}
