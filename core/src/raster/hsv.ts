import type { Rgb } from './srgb.ts'

/** A change of colour: hue in degrees, saturation and value in percentage points. */
export type ColourShift = { hueDeg: number; saturationPts: number; valuePts: number }

/** The colour after a shift in HSV (the hexcone model of A. R. Smith, SIGGRAPH 1978, from memory); not rounded. */
export function shiftRgb({ r, g, b }: Rgb, { hueDeg, saturationPts, valuePts }: ColourShift): Rgb {
  const max = Math.max(r, g, b)
  const chroma = max - Math.min(r, g, b)
  const saturation = clamp01((max === 0 ? 0 : chroma / max) + saturationPts / 100)
  const value = clamp01(max / 255 + valuePts / 100)
  const sixths = (hueSixths(r, g, b, max, chroma) + hueDeg / 60 + 12) % 6
  const at = (n: number) => {
    const k = (n + sixths) % 6
    return 255 * (value - value * saturation * Math.max(0, Math.min(k, 4 - k, 1)))
  }
  return { r: at(5), g: at(3), b: at(1) }
}

/** Hue in sixths of a turn, red 0, green 2, blue 4. */
function hueSixths(r: number, g: number, b: number, max: number, chroma: number): number {
  if (chroma === 0) return 0
  if (max === r) return ((g - b) / chroma + 6) % 6
  if (max === g) return (b - r) / chroma + 2
  return (r - g) / chroma + 4
}

const clamp01 = (x: number) => Math.min(1, Math.max(0, x))
