import { converter, blend as culoriBlend } from 'culori'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { MATRIX_ONE } from '../stroke/kernel/kernel.ts'
import { writeColourMatrix } from '../stroke/stamp/colour-matrix.ts'
import { BLEND_MODES, type BlendMode, createBlend } from './blend.ts'
import { shiftRgb } from './hsv.ts'
import { oklabToRgb, rgbToOklab } from './oklab.ts'
import { cubeRoot, fifthRoot } from './roots.ts'
import { linearToSrgb, type Rgb, srgbToLinear } from './srgb.ts'

const anyRgb: fc.Arbitrary<Rgb> = fc.record({
  r: fc.integer({ min: 0, max: 255 }),
  g: fc.integer({ min: 0, max: 255 }),
  b: fc.integer({ min: 0, max: 255 }),
})
const unit = fc.double({ min: 0, max: 1, noNaN: true })
const toOutside = ({ r, g, b }: Rgb) => ({ mode: 'rgb' as const, r: r / 255, g: g / 255, b: b / 255 })

describe('roots', () => {
  it('are those of the platform, to 14 digits', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-9, max: 1e3, noNaN: true }), (x) => {
        expect(Math.abs(cubeRoot(x) / Math.cbrt(x) - 1)).toBeLessThan(1e-14)
        expect(Math.abs(fifthRoot(x) / x ** 0.2 - 1)).toBeLessThan(1e-14)
        expect(cubeRoot(-x)).toBe(-cubeRoot(x))
      }),
    )
  })
})

describe('colour', () => {
  it('goes to light and back by IEC 61966-2-1, as the package culori has it', () => {
    const toLinear = converter('lrgb')
    for (let value = 0; value <= 255; value++) {
      expect(srgbToLinear(value / 255)).toBeCloseTo(toLinear(toOutside({ r: value, g: 0, b: 0 })).r, 12)
      expect(linearToSrgb(srgbToLinear(value / 255))).toBeCloseTo(value / 255, 12)
    }
  })

  it('has the OKLab of the published pairs (Ottosson 2020, XYZ to Lab, to three digits)', () => {
    // XYZ to linear sRGB by IEC 61966-2-1 (from memory)
    const fromXyz = (x: number, y: number, z: number): Rgb => ({
      r: 255 * linearToSrgb(3.2404542 * x - 1.5371385 * y - 0.4985314 * z),
      g: 255 * linearToSrgb(-0.969266 * x + 1.8760108 * y + 0.041556 * z),
      b: 255 * linearToSrgb(0.0556434 * x - 0.2040259 * y + 1.0572252 * z),
    })
    const pairs: [number[], number[]][] = [
      [[0.95, 1, 1.089], [1, 0, 0]],
      [[1, 0, 0], [0.45, 1.236, -0.019]],
      [[0, 1, 0], [0.922, -0.671, 0.263]],
      [[0, 0, 1], [0.153, -1.415, -0.449]],
    ] // biome-ignore format: a table
    for (const [[x, y, z], [L, a, b]] of pairs) {
      const lab = rgbToOklab(fromXyz(x, y, z))
      expect(Math.abs(lab.L - L)).toBeLessThan(0.0011)
      expect(Math.abs(lab.a - a)).toBeLessThan(0.0016)
      expect(Math.abs(lab.b - b)).toBeLessThan(0.0011)
    }
  })

  it('has the OKLab of the package culori for every colour, and comes back from it', () => {
    const toLab = converter('oklab')
    fc.assert(
      fc.property(anyRgb, (rgb) => {
        const ours = rgbToOklab(rgb)
        const theirs = toLab(toOutside(rgb))
        expect(ours.L).toBeCloseTo(theirs.l, 6)
        expect(ours.a).toBeCloseTo(theirs.a, 6)
        expect(ours.b).toBeCloseTo(theirs.b, 6)
        const back = oklabToRgb(ours)
        for (const c of ['r', 'g', 'b'] as const) expect(Math.abs(back[c] - rgb[c])).toBeLessThan(0.3)
      }),
    )
  })

  it('is brought into gamut by less chroma: lightness and hue stay', () => {
    const far = oklabToRgb({ L: 0.7, a: 0.3, b: 0.1 })
    const lab = rgbToOklab(far)
    expect(lab.L).toBeCloseTo(0.7, 2)
    expect(Math.atan2(lab.b, lab.a)).toBeCloseTo(Math.atan2(0.1, 0.3), 2)
    for (const value of Object.values(far)) expect(value >= 0 && value <= 255).toBe(true)
  })

  it('is shifted in HSV as the package culori has it', () => {
    const toHsv = converter('hsv')
    const toRgb = converter('rgb')
    fc.assert(
      fc.property(
        anyRgb,
        fc.integer({ min: -180, max: 180 }),
        fc.integer({ min: -100, max: 100 }),
        fc.integer({ min: -100, max: 100 }),
        (rgb, hueDeg, saturationPts, valuePts) => {
          const hsv = toHsv(toOutside(rgb))
          const clamp = (x: number) => Math.min(1, Math.max(0, x))
          const theirs = toRgb({
            mode: 'hsv',
            h: ((hsv.h ?? 0) + hueDeg + 360) % 360,
            s: clamp(hsv.s + saturationPts / 100),
            v: clamp(hsv.v + valuePts / 100),
          })
          const ours = shiftRgb(rgb, { hueDeg, saturationPts, valuePts })
          for (const c of ['r', 'g', 'b'] as const) expect(ours[c] / 255).toBeCloseTo(theirs[c], 9)
        },
      ),
    )
  })
})

describe('the colour matrix of a stamp', () => {
  const apply = (rgb: number[], shift: Parameters<typeof writeColourMatrix>[0]) => {
    const m = new Int16Array(12)
    writeColourMatrix(shift, m)
    return [0, 1, 2].map((row) =>
      rgb.reduce((sum, value, c) => sum + (m[row * 4 + c] * value) / MATRIX_ONE, m[row * 4 + 3] / MATRIX_ONE),
    )
  }

  it('leaves greys to value alone: exactly so many points', () => {
    for (const grey of [0.2, 0.5, 0.8]) {
      const [r, g, b] = apply([grey, grey, grey], { hueDeg: 77, saturationPts: 40, valuePts: -13 })
      for (const value of [r, g, b]) expect(value).toBeCloseTo(grey - 0.13, 3)
    }
  })

  it('swaps the primaries at 120 degrees, as a hue in HSV does', () => {
    for (const [from, to] of [
      [
        [1, 0, 0],
        [0, 1, 0],
      ],
      [
        [0, 1, 0],
        [0, 0, 1],
      ],
      [
        [0, 0, 1],
        [1, 0, 0],
      ],
    ]) {
      // biome-ignore format: pairs
      for (const [c, value] of apply(from, { hueDeg: 120, saturationPts: 0, valuePts: 0 }).entries())
        expect(value).toBeCloseTo(to[c], 3)
    }
  })

  it('takes all colour away at −100 points of saturation', () => {
    const grey = apply([0.9, 0.3, 0.0], { hueDeg: 0, saturationPts: -100, valuePts: 0 })
    for (const value of grey) expect(value).toBeCloseTo(0.4, 3)
  })
})

describe('blend modes', () => {
  const mix = (mode: BlendMode, below: number[], paint: number[]) => {
    const out: [number, number, number] = [0, 0, 0]
    createBlend(mode)(below as typeof out, paint as typeof out, out)
    return out
  }
  // What culori knows under the same names, but for overlay and hard-light: there it gives 0 for a backdrop of 128/255
  // under 1/255, where the formula of the specification gives 2/255.
  const KNOWN = [
    'multiply',
    'screen',
    'darken',
    'lighten',
    'color-dodge',
    'color-burn',
    'soft-light',
    'difference',
    'exclusion',
  ] as const

  it.each(KNOWN)('%s is that of the package culori (W3C Compositing and Blending Level 1, 10.1)', (mode) => {
    fc.assert(
      fc.property(anyRgb, anyRgb, (below, paint) => {
        const theirs = culoriBlend([toOutside(below), toOutside(paint)], mode, 'rgb')
        const ours = mix(
          mode,
          Object.values(toOutside(below)).slice(1) as number[],
          Object.values(toOutside(paint)).slice(1) as number[],
        )
        for (const [c, key] of (['r', 'g', 'b'] as const).entries()) expect(ours[c]).toBeCloseTo(theirs[key], 9)
      }),
    )
  })

  it('keep the lightness that the specification says (10.2), where nothing is clipped away', () => {
    const lum = ([r, g, b]: number[]) => 0.3 * r + 0.59 * g + 0.11 * b
    const triple = fc.tuple(unit, unit, unit)
    fc.assert(
      fc.property(triple, triple, (below, paint) => {
        for (const mode of ['hue', 'saturation', 'color'] as const) expect(lum(mix(mode, below, paint))).toBeCloseTo(lum(below), 9)
        expect(lum(mix('luminosity', below, paint))).toBeCloseTo(lum(paint), 9)
      }),
    )
  }) // biome-ignore format: laws

  it('hard-light multiplies or screens by the paint, overlay by what is below (10.1, worked by hand)', () => {
    expect(mix('hard-light', [0.25, 0.25, 0.5], [0.25, 0.75, 1])).toEqual([0.125, 0.625, 1])
    expect(mix('overlay', [0.25, 0.75, 1], [0.25, 0.25, 0.5])).toEqual([0.125, 0.625, 1])
  })

  it('of a worked example: hue of a pure red onto a mid blue keeps saturation and lightness of the blue', () => {
    const out = mix('hue', [0.2, 0.3, 0.6], [1, 0, 0])
    expect(Math.max(...out) - Math.min(...out)).toBeCloseTo(0.4, 9) // Sat(Cb), 10.2
    expect(out[0]).toBeGreaterThan(out[1])
    expect(out[1]).toBeCloseTo(out[2], 9)
  })

  it('stay within 0…1 and know every name', () => {
    for (const mode of BLEND_MODES) {
      fc.assert(
        fc.property(fc.tuple(unit, unit, unit), fc.tuple(unit, unit, unit), (below, paint) => {
          for (const value of mix(mode, below, paint)) expect(value > -1e-9 && value < 1 + 1e-9).toBe(true)
        }),
      )
    }
  })
})
