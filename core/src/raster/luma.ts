// Rec. 709 luma weights (ITU-R BT.709) on coded values, in 256ths; they add up to 256 so white stays 255.
const RED = 54
const GREEN = 183
const BLUE = 19
const HALF = 128 // rounds instead of cutting

/** Coded luma of an sRGB pixel, 0…255. */
export function toLuma(red: number, green: number, blue: number): number {
  return (RED * red + GREEN * green + BLUE * blue + HALF) >> 8
}
