import { toLuma } from './luma.ts'
import type { Pixels } from './pixels.ts'

/** Greys 0…255 of a picture lying on white paper; those of a grey picture are its own data. */
export function toGreyOnPaper({ channels, data }: Pixels): Uint8Array {
  if (channels === 1) return data
  const out = new Uint8Array(data.length / 4)
  for (let o = 0; o < out.length; o++) out[o] = colourOnPaper(data, 4 * o)
  return out
}

/** The grey at one place of a picture lying on white paper. */
export const greyAt = ({ channels, data }: Pixels, i: number): number =>
  channels === 1 ? data[i] : colourOnPaper(data, 4 * i)

/** Most of a picture is opaque or clear: both go without a division. */
function colourOnPaper(data: Uint8Array, i: number): number {
  const alpha = data[i + 3]
  if (alpha === 0) return 255
  const luma = toLuma(data[i], data[i + 1], data[i + 2])
  return alpha === 255 ? luma : Math.round((luma * alpha + 255 * (255 - alpha)) / 255)
}
