import { cubeRoot, fifthRoot } from './roots.ts'

/** A colour in sRGB, each 0…255. */
export type Rgb = { r: number; g: number; b: number }

/**
 * Light of an sRGB value, both 0…1.
 * @see IEC 61966-2-1 (constants from memory): below 0.04045 linear, above ((v + 0.055) / 1.055)^2.4.
 */
export function srgbToLinear(value: number): number {
  if (value <= 0.04045) return value / 12.92
  const base = (value + 0.055) / 1.055
  const fifth = fifthRoot(base)
  return base * base * fifth * fifth // 2.4 = 2 + 2/5
}

/** The sRGB value of light, both 0…1. */
export function linearToSrgb(linear: number): number {
  if (linear <= 0.0031308) return linear * 12.92
  const root = cubeRoot(Math.sqrt(Math.sqrt(linear)))
  return 1.055 * root * root * root * root * root - 0.055 // 1 / 2.4 = 5 / 12
}
