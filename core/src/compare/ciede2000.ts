import { type Rgb, srgbToLinear } from '../raster/srgb.ts'

/** CIE L*a*b* under D65. */
export type Lab = { L: number; a: number; b: number }

const LINEAR = Float64Array.from({ length: 256 }, (_, value) => srgbToLinear(value / 255))
/** The white of D65, CIE 15, two-degree observer. */
const WHITE = { x: 0.95047, y: 1, z: 1.08883 }
const LINEAR_BELOW = (6 / 29) ** 3

/** L*a*b* of an 8-bit sRGB colour. @see IEC 61966-2-1 for the matrix, CIE 15 for L*a*b* (constants from memory). */
export function rgbToLab({ r, g, b }: Rgb): Lab {
  const [red, green, blue] = [LINEAR[Math.round(r)], LINEAR[Math.round(g)], LINEAR[Math.round(b)]]
  const x = root((0.4124564 * red + 0.3575761 * green + 0.1804375 * blue) / WHITE.x)
  const y = root((0.2126729 * red + 0.7151522 * green + 0.072175 * blue) / WHITE.y)
  const z = root((0.0193339 * red + 0.119192 * green + 0.9503041 * blue) / WHITE.z)
  return { L: 116 * y - 16, a: 500 * (x - y), b: 200 * (y - z) }
}

const root = (t: number) => (t > LINEAR_BELOW ? Math.cbrt(t) : t / (3 * (6 / 29) ** 2) + 4 / 29)

const RADIANS = Math.PI / 180
const FAR = 25 ** 7

/**
 * The colour difference CIEDE2000 with all weights 1.
 * @see Sharma, Wu and Dalal, "The CIEDE2000 color-difference formula", 2005.
 */
export function ciede2000(one: Lab, other: Lab): number {
  const chroma7 = seventh((length(one.a, one.b) + length(other.a, other.b)) / 2)
  const stretch = 1 + 0.5 * (1 - Math.sqrt(chroma7 / (chroma7 + FAR)))
  const [a1, a2] = [one.a * stretch, other.a * stretch]
  const [c1, c2] = [length(a1, one.b), length(a2, other.b)]
  const [h1, h2] = [hueOf(a1, one.b), hueOf(a2, other.b)]
  const isGrey = c1 * c2 === 0
  const turn = isGrey ? 0 : wrapped(h2 - h1)
  const dL = other.L - one.L
  const dC = c2 - c1
  const dH = 2 * Math.sqrt(c1 * c2) * Math.sin((turn / 2) * RADIANS)
  const L = (one.L + other.L) / 2
  const C = (c1 + c2) / 2
  const h = isGrey ? h1 + h2 : middleHue(h1, h2)
  const t =
    1 -
    0.17 * Math.cos((h - 30) * RADIANS) +
    0.24 * Math.cos(2 * h * RADIANS) +
    0.32 * Math.cos((3 * h + 6) * RADIANS) -
    0.2 * Math.cos((4 * h - 63) * RADIANS)
  const lightness = 1 + (0.015 * (L - 50) ** 2) / Math.sqrt(20 + (L - 50) ** 2)
  const chroma = 1 + 0.045 * C
  const hue = 1 + 0.015 * C * t
  const C7 = seventh(C)
  const rotation = -2 * Math.sqrt(C7 / (C7 + FAR)) * Math.sin(60 * Math.exp(-(((h - 275) / 25) ** 2)) * RADIANS)
  const [l, c, k] = [dL / lightness, dC / chroma, dH / hue]
  return Math.sqrt(l * l + c * c + k * k + rotation * c * k)
}

// plain arithmetic: the standard functions for these take several times as long, and this runs for every pixel
const length = (a: number, b: number) => Math.sqrt(a * a + b * b)
const seventh = (value: number) => {
  const cube = value * value * value
  return cube * cube * value
}

/** Degrees, 0…360; 0 of a grey. */
const hueOf = (a: number, b: number) => (a === 0 && b === 0 ? 0 : (Math.atan2(b, a) / RADIANS + 360) % 360)

/** The shorter way round. */
const wrapped = (degrees: number) => (degrees > 180 ? degrees - 360 : degrees < -180 ? degrees + 360 : degrees)

const middleHue = (h1: number, h2: number) => {
  if (Math.abs(h1 - h2) <= 180) return (h1 + h2) / 2
  return h1 + h2 < 360 ? (h1 + h2 + 360) / 2 : (h1 + h2 - 360) / 2
}
