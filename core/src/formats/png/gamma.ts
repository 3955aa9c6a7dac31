import type { Pixels } from '../../raster/pixels.ts'

const USUAL_GAMMA = 1 / 2.2
const GAMMA_TOLERANCE = 0.02 // closer than this to the usual gamma nothing would be seen to change

/** Re-codes samples of another gamma as sRGB (IEC 61966-2-1), in place. Alpha stays. Returns whether it did. */
export function applyGamma(pixels: Pixels, gamma: number | undefined): boolean {
  if (!gamma || Math.abs(gamma - USUAL_GAMMA) < GAMMA_TOLERANCE) return false
  const table = Uint8Array.from({ length: 256 }, (_, value) => {
    const light = (value / 255) ** (1 / gamma)
    return Math.round(255 * (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055))
  })
  const { data, channels } = pixels
  for (let i = 0; i < data.length; i++) if (channels === 1 || (i & 3) !== 3) data[i] = table[data[i]]
  return true
}
