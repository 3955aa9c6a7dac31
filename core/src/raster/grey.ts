import { toLuma } from './luma.ts'
import type { Pixels } from './pixels.ts'

/** Greys 0…255 of a picture lying on white paper; those of a grey picture are its own data. */
export function toGreyOnPaper({ channels, data }: Pixels): Uint8Array {
  if (channels === 1) return data
  const out = new Uint8Array(data.length / 4)
  for (let i = 0, o = 0; i < data.length; i += 4, o++) {
    const alpha = data[i + 3]
    out[o] = Math.round((toLuma(data[i], data[i + 1], data[i + 2]) * alpha + 255 * (255 - alpha)) / 255)
  }
  return out
}
