import { describe, expect, it } from 'vitest'
import { rgbToOklab } from '../raster/oklab.ts'
import type { Pixels } from '../raster/pixels.ts'
import { GREY_LIGHTNESS, measureTone, shadeByTone, toneColour } from './tone.ts'

const SEA = { r: 38, g: 92, b: 122 }
const greys = (...values: number[]): Pixels => ({
  width: values.length,
  height: 1,
  channels: 4,
  data: Uint8Array.from(values.flatMap((grey) => [grey, grey, grey, 255])),
})

describe('tone', () => {
  it('gives exactly the chosen colour where the grey is the anchor', () => {
    for (const grey of [40, 119, 200]) {
      const out = shadeByTone(greys(grey), GREY_LIGHTNESS[grey], SEA)
      expect([...out.data]).toEqual([38, 92, 122, 255])
    }
  })

  it('runs from black through the colour to white, in lightness as defined, hue kept', () => {
    const C = rgbToOklab(SEA)
    for (const [lightness, wanted] of [
      [0.25, (0.25 / 0.5) * C.L],
      [0.75, C.L + 0.5 * (1 - C.L)],
    ]) {
      const lab = rgbToOklab(toneColour(lightness, 0.5, SEA))
      expect(lab.L).toBeCloseTo(wanted, 3)
      expect(Math.atan2(lab.b, lab.a)).toBeCloseTo(Math.atan2(C.b, C.a), 2)
    }
    expect([...shadeByTone(greys(0, 255), 0.5, SEA).data]).toEqual([0, 0, 0, 255, 255, 255, 255, 255])
  })

  it('gets steadily lighter with the grey', () => {
    const out = shadeByTone(greys(...Array.from({ length: 256 }, (_, grey) => grey)), 0.4, SEA)
    let last = -1
    for (let i = 0; i < out.data.length; i += 4) {
      const { L } = rgbToOklab({ r: out.data[i], g: out.data[i + 1], b: out.data[i + 2] })
      expect(L).toBeGreaterThan(last - 0.004) // one 8-bit step of a channel
      last = L
    }
  })

  it('is measured over paint alone, weighed by alpha; colours count by their lightness', () => {
    const half = Uint8Array.of(0, 0, 0, 51, 255, 255, 255, 204, 90, 90, 90, 0)
    const frame: Pixels = { width: 3, height: 1, channels: 4, data: half }
    expect(measureTone([frame], 0.5)).toEqual({ mean: expect.closeTo(0.8, 6), darker: 0.2, lighter: 0.8 })
    for (const [r, g, b] of [[200, 30, 40], [120, 120, 20], [20, 120, 120], [120, 20, 120]]) {
      const { L } = rgbToOklab({ r, g, b })
      const one: Pixels = { width: 1, height: 1, channels: 4, data: Uint8Array.of(r, g, b, 255) }
      expect(measureTone([one], L)?.mean).toBeCloseTo(L, 12)
      // on the anchor itself it is neither darker nor lighter
      expect(measureTone([one], L)).toMatchObject({ darker: 0, lighter: 0 })
      expect(measureTone([one], L + 1e-6)).toMatchObject({ darker: 1, lighter: 0 })
      expect(measureTone([one], L - 1e-6)).toMatchObject({ darker: 0, lighter: 1 })
      const shade = toneColour(L, 0.5, SEA)
      expect([...shadeByTone(one, 0.5, SEA).data.subarray(0, 3)].every((value, i) => Math.abs(value - [shade.r, shade.g, shade.b][i]) <= 1)).toBe(true)
    } // biome-ignore format: one colour a line
    const greyTip: Pixels = { width: 2, height: 1, channels: 1, data: Uint8Array.of(0, 255) }
    expect(measureTone([greyTip], 0.5)).toEqual({ mean: expect.closeTo(0.5, 6), darker: 0.5, lighter: 0.5 })
    expect(measureTone([{ ...frame, data: new Uint8Array(12) }], 0.5)).toBeUndefined()
  })

  it('keeps alpha, and shades a coloured tip by its lightness alone', () => {
    const red: Pixels = { width: 1, height: 1, channels: 4, data: Uint8Array.of(200, 30, 40, 77) }
    const { L } = rgbToOklab({ r: 200, g: 30, b: 40 })
    const shade = toneColour(L, 0.5, SEA)
    const out = shadeByTone(red, 0.5, SEA).data
    expect(out[3]).toBe(77)
    for (const [c, value] of [shade.r, shade.g, shade.b].entries()) expect(Math.abs(out[c] - value)).toBeLessThan(1.5)
  })

  it('measures the mean and both sides of the anchor, weighed by alpha', () => {
    const tip = greys(0, 0, 0, 255)
    tip.data[15] = 85 // the white one counts a third
    const measure = measureTone([tip], 0.5)
    expect(measure?.mean).toBeCloseTo(0.1, 6) // a third of a pixel out of three and a third
    expect(measure?.darker).toBeCloseTo(0.9, 6)
    expect(measure?.lighter).toBeCloseTo(0.1, 6)
    expect(measureTone([{ ...greys(1), data: new Uint8Array(4) }], 0.5)).toBeUndefined()
  })
})
