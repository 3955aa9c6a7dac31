/** How a stroke meets the canvas: the names of W3C Compositing and Blending Level 1. */
export const BLEND_MODES = [
  'normal', 'multiply', 'screen', 'overlay', 'darken', 'lighten', 'color-dodge', 'color-burn',
  'hard-light', 'soft-light', 'difference', 'exclusion', 'hue', 'saturation', 'color', 'luminosity',
] as const // biome-ignore format: the order of the specification

export type BlendMode = (typeof BLEND_MODES)[number]

/**
 * How a paint colour meets what is beneath, per channel, both 0…1.
 * @see W3C Compositing and Blending Level 1, section 10.1 (separable modes).
 */
const SEPARABLE: Partial<Record<BlendMode, (below: number, paint: number) => number>> = {
  normal: (_, s) => s,
  multiply: (b, s) => b * s,
  screen: (b, s) => b + s - b * s,
  overlay: (b, s) => hardLight(s, b),
  darken: Math.min,
  lighten: Math.max,
  'color-dodge': (b, s) => (b === 0 ? 0 : s === 1 ? 1 : Math.min(1, b / (1 - s))),
  'color-burn': (b, s) => (b === 1 ? 1 : s === 0 ? 0 : 1 - Math.min(1, (1 - b) / s)),
  'hard-light': hardLight,
  'soft-light': (b, s) => {
    if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b)
    const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b)
    return b + (2 * s - 1) * (d - b)
  },
  difference: (b, s) => Math.abs(b - s),
  exclusion: (b, s) => b + s - 2 * b * s,
}

function hardLight(b: number, s: number): number {
  return s <= 0.5 ? 2 * s * b : b + (2 * s - 1) - b * (2 * s - 1)
}

type Triple = [number, number, number]

/** @see the same, section 10.2 (non-separable modes). */
const NON_SEPARABLE: Partial<Record<BlendMode, (below: Triple, paint: Triple) => Triple>> = {
  hue: (b, s) => setLum(setSat(s, sat(b)), lum(b)),
  saturation: (b, s) => setLum(setSat(b, sat(s)), lum(b)),
  color: (b, s) => setLum(s, lum(b)),
  luminosity: (b, s) => setLum(b, lum(s)),
}

const lum = ([r, g, b]: Triple) => 0.3 * r + 0.59 * g + 0.11 * b
const sat = (c: Triple) => Math.max(...c) - Math.min(...c)

function setLum(c: Triple, l: number): Triple {
  const d = l - lum(c)
  return clipColour([c[0] + d, c[1] + d, c[2] + d])
}

function clipColour(c: Triple): Triple {
  const l = lum(c)
  const n = Math.min(...c)
  const x = Math.max(...c)
  let out = c
  if (n < 0) out = out.map((v) => l + ((v - l) * l) / (l - n)) as Triple
  if (x > 1) out = out.map((v) => l + ((v - l) * (1 - l)) / (x - l)) as Triple
  return out
}

function setSat(c: Triple, s: number): Triple {
  const min = Math.min(...c)
  const range = Math.max(...c) - min
  return range === 0 ? [0, 0, 0] : (c.map((v) => ((v - min) * s) / range) as Triple)
}

/** A blend as one function: writes the mixed colour of `below` and `paint`, all 0…1, to `out`. */
export type Blend = (below: Triple, paint: Triple, out: Triple) => void

/** The blend of a mode. @throws {RangeError} If there is none of that name. @see W3C Compositing and Blending Level 1. */
export function createBlend(mode: BlendMode): Blend {
  const each = SEPARABLE[mode]
  if (each) {
    return (below, paint, out) => {
      for (let c = 0; c < 3; c++) out[c] = each(below[c], paint[c])
    }
  }
  const whole = NON_SEPARABLE[mode]
  if (!whole) throw new RangeError(`no blend mode ${mode}`)
  return (below, paint, out) => {
    const mixed = whole(below, paint)
    for (let c = 0; c < 3; c++) out[c] = mixed[c]
  }
}
