import { cubeRoot } from './roots.ts'
import { linearToSrgb, type Rgb, srgbToLinear } from './srgb.ts'

/** Lightness 0…1, green to red, blue to yellow. */
export type Oklab = { L: number; a: number; b: number }

/** @see B. Ottosson, "A perceptual color space for image processing", 2020 (matrices of 2021-01-25, from memory). */
export function rgbToOklab({ r, g, b }: Rgb): Oklab {
  const red = srgbToLinear(r / 255)
  const green = srgbToLinear(g / 255)
  const blue = srgbToLinear(b / 255)
  const l = cubeRoot(0.4122214708 * red + 0.5363325363 * green + 0.0514459929 * blue)
  const m = cubeRoot(0.2119034982 * red + 0.6806995451 * green + 0.1073969566 * blue)
  const s = cubeRoot(0.0883024619 * red + 0.2817188376 * green + 0.6299787005 * blue)
  return {
    L: 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    a: 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    b: 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  }
}

/** Light of the three primaries, which may lie outside 0…1. */
function oklabToLinear({ L, a, b }: Oklab): [number, number, number] {
  const l = (L + 0.3963377774 * a + 0.2158037573 * b) ** 3
  const m = (L - 0.1055613458 * a - 0.0638541728 * b) ** 3
  const s = (L - 0.0894841775 * a - 1.291485548 * b) ** 3
  return [
    4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
    -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
    -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s,
  ]
}

const GAMUT_SLACK = 1e-6 // rounding; more would leave colour in what should be black
const BISECTIONS = 16

/**
 * The sRGB colour, not rounded, clipped into gamut by reducing chroma while lightness and hue stay.
 * Values are 0…255.
 */
export function oklabToRgb({ L, a, b }: Oklab): Rgb {
  const light = Math.min(1, Math.max(0, L))
  let inside = 0
  let share = 1
  if (!isInGamut(oklabToLinear({ L: light, a, b }))) {
    let outside = 1
    for (let i = 0; i < BISECTIONS; i++) {
      share = (inside + outside) / 2
      if (isInGamut(oklabToLinear({ L: light, a: a * share, b: b * share }))) inside = share
      else outside = share
    }
    share = inside
  }
  const [red, green, blue] = oklabToLinear({ L: light, a: a * share, b: b * share })
  return { r: toByteRange(red), g: toByteRange(green), b: toByteRange(blue) }
}

const isInGamut = (linear: readonly number[]) =>
  linear.every((value) => value >= -GAMUT_SLACK && value <= 1 + GAMUT_SLACK)

const toByteRange = (linear: number) => 255 * linearToSrgb(Math.min(1, Math.max(0, linear)))
