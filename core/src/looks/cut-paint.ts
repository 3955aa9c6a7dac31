import { createPixels, type Pixels, toRgba } from '../raster/pixels.ts'

/** Alpha from which a border is ground, and what a ground's own noise may differ by. */
const OPAQUE_FROM = 250
const NOISE = 0.03
/** How much room a channel must have beyond the ground's value so that going there says anything. */
const LEAST_ROOM = 48

/**
 * What is painted on a picture, as straight RGBA on nothing. Where its border is opaque that is ground, and whatever has another
 * colour is paint, more the further it is from it; what is light on a dark ground becomes its negative, so that it lies on
 * white. Where the border is clear, the picture is what is painted.
 */
export function cutPaint(pixels: Pixels): Pixels {
  const { width, height, data } = toRgba(pixels)
  const border: number[] = []
  for (let x = 0; x < width; x++) border.push(4 * x, 4 * ((height - 1) * width + x))
  for (let y = 1; y < height - 1; y++) border.push(4 * y * width, 4 * (y * width + width - 1))
  const middle = (channel: number) => medianOf(border.map((i) => data[i + channel]))
  if (middle(3) < OPAQUE_FROM) return { width, height, channels: 4, data }
  const ground = [0, 1, 2].map(middle)
  const isDark = ground[0] + ground[1] + ground[2] < (3 * 255) / 2
  const cut = createPixels(width, height, 4)
  for (let i = 0; i < data.length; i += 4) {
    const cover = distanceFrom(ground, data, i)
    if (cover === 0) continue
    for (let c = 0; c < 3; c++) {
      // the paint's own colour, once the ground that shines through it is taken off
      const own = (data[i + c] - ground[c] * (1 - cover)) / cover
      const seen = Math.min(255, Math.max(0, own))
      cut.data[i + c] = Math.round(isDark ? 255 - seen : seen)
    }
    cut.data[i + 3] = Math.round(255 * cover)
  }
  return cut
}

/** How far a colour is from a ground, as a share of how far any can be from that, in the channel where it is farthest. */
function distanceFrom(ground: readonly number[], data: Uint8Array, at: number): number {
  let most = 0
  for (let c = 0; c < 3; c++) {
    const off = data[at + c] - ground[c]
    const room = off > 0 ? 255 - ground[c] : ground[c]
    if (room >= LEAST_ROOM) most = Math.max(most, Math.abs(off) / room)
  }
  return most > NOISE ? (most - NOISE) / (1 - NOISE) : 0
}

const medianOf = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1] ?? 0
