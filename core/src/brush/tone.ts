import { oklabToRgb, rgbToOklab } from '../raster/oklab.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import type { Rgb } from '../raster/srgb.ts'

/** Steps of lightness that colours are worked out for; finer than 8-bit greys can tell. */
const STEPS = 1024

/** The OKLab lightness 0…1 of each 8-bit grey. */
export const GREY_LIGHTNESS: Readonly<Float64Array> = Float64Array.from(
  { length: 256 },
  (_, grey) => rgbToOklab({ r: grey, g: grey, b: grey }).L,
)

/**
 * The colour that a lightness of the tip gives: the anchor gives exactly the chosen colour, darker ones darken it to
 * black, lighter ones lighten it to white; hue stays, chroma is reduced where the colour would leave the gamut.
 */
export function toneColour(lightness: number, anchor: number, chosen: Rgb): Rgb {
  if (lightness === anchor) return chosen
  const { L, a, b } = rgbToOklab(chosen)
  const shaded = lightness < anchor ? (lightness / anchor) * L : L + ((lightness - anchor) / (1 - anchor)) * (1 - L)
  return oklabToRgb({ L: shaded, a, b })
}

/** A tip's tones in shades of the chosen colour: straight RGBA, alpha as it was. */
export function shadeByTone(pixels: Pixels, anchor: number, chosen: Rgb): Pixels {
  const { width, height, data } = pixels
  const greys = Array.from(GREY_LIGHTNESS, (lightness) => toBytes(toneColour(lightness, anchor, chosen)))
  let steps: Uint8Array[] | undefined
  const out = createPixels(width, height, 4)
  for (let i = 0; i < data.length; i += 4) {
    let shade: Uint8Array
    if (data[i] === data[i + 1] && data[i] === data[i + 2]) shade = greys[data[i]]
    else {
      steps ??= Array.from({ length: STEPS }, (_, k) => toBytes(toneColour(k / (STEPS - 1), anchor, chosen)))
      const { L } = rgbToOklab({ r: data[i], g: data[i + 1], b: data[i + 2] })
      shade = steps[Math.round(L * (STEPS - 1))]
    }
    out.data.set(shade, i)
    out.data[i + 3] = data[i + 3]
  }
  return out
}

const toBytes = ({ r, g, b }: Rgb) => Uint8Array.of(Math.round(r), Math.round(g), Math.round(b))

/** How a tip's tones lie: mean lightness, and the shares of paint darker and lighter than an anchor, weighed by alpha. */
export type ToneMeasure = { mean: number; darker: number; lighter: number }

/** Measures all frames together. @returns Undefined where there is no paint at all. */
export function measureTone(frames: readonly Pixels[], anchor: number): ToneMeasure | undefined {
  let [weight, sum, darker, lighter] = [0, 0, 0, 0]
  for (const { channels, data } of frames) {
    for (let i = 0; i < data.length; i += channels) {
      const alpha = channels === 4 ? data[i + 3] : 255
      if (alpha === 0) continue
      const grey = channels === 1 || (data[i] === data[i + 1] && data[i] === data[i + 2])
      const lightness = grey ? GREY_LIGHTNESS[data[i]] : rgbToOklab({ r: data[i], g: data[i + 1], b: data[i + 2] }).L
      weight += alpha
      sum += lightness * alpha
      if (lightness < anchor) darker += alpha
      if (lightness > anchor) lighter += alpha
    }
  }
  return weight === 0 ? undefined : { mean: sum / weight, darker: darker / weight, lighter: lighter / weight }
}

/** A share of the tones to one side of the anchor beyond which the other side has next to nothing to shade with. */
export const TONE_CROWDED_SHARE = 0.9
