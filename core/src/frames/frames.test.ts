import { describe, expect, it } from 'vitest'
import { toCoverage } from '../brush/coverage.ts'
import type { PaintReading } from '../brush/recipe.ts'
import { rgbToOklab } from '../raster/oklab.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { describeAlike, findAlikeFrames } from './alike-frames.ts'
import { editFrame, NO_EDIT } from './edit-frame.ts'
import { type EvenOut, evenOut } from './even-out.ts'
import { compareFrames, describeFrames, measureFrame } from './measure-frames.ts'
import { blackenShadow, findGreyShadow } from './shadow.ts'

/** A disc of a grey with a darker half, dark on white. */
const disc = (side: number, radius: number, { grey = 40, other = 80, x = side / 2, y = side / 2 } = {}): Pixels => ({
  width: side,
  height: side,
  channels: 1,
  data: Uint8Array.from({ length: side * side }, (_, i) => {
    const [dx, dy] = [(i % side) + 0.5 - x, Math.floor(i / side) + 0.5 - y]
    return Math.hypot(dx, dy) > radius ? 255 : dx < 0 ? grey : other
  }),
})
const usual = [disc(101, 40), disc(101, 41), disc(101, 39), disc(101, 40, { grey: 44 })]
const words = (frames: Pixels[], reading: PaintReading = 'dark') =>
  describeFrames(compareFrames(frames.map((frame) => measureFrame(frame, reading))))
const ALL: EvenOut = { size: true, align: 'centres', tone: true }

describe('frames', () => {
  it('are measured as they paint', () => {
    const { size, area, tone, contrast, hueDeg } = measureFrame(disc(101, 40), 'dark')
    expect(size).toBe(81)
    expect(area).toBeCloseTo(Math.PI * 1600 * (1 - 60 / 255), -2)
    expect(tone).toBeCloseTo(60 / 255, 2)
    expect(contrast).toBeCloseTo(20 / 255, 2)
    expect(hueDeg).toBeUndefined()
  })

  it.each([
    [[200, 20, 20], 0],
    [[20, 200, 20], 120],
    [[30, 30, 220], 240],
  ] as const)('have the hue of their colour: %j', (colour, hueDeg) => {
    const frame = createPixels(8, 8, 4)
    for (let i = 0; i < 256; i += 4) frame.data.set([...colour, 255], i)
    expect(Math.round(measureFrame(frame, 'own').hueDeg ?? -1) % 360).toBe(hueDeg)
  })

  it('that belong together are not named', () => {
    expect(words(usual)).toEqual([])
  })

  it('that stand out are named, by what and by how much', () => {
    expect(words([...usual, disc(101, 24)])).toEqual(['frame 5 is 40 % smaller', 'frame 5 is painted over 64 % less'])
    expect(words([usual[0], disc(101, 40, { grey: 150, other: 190 }), usual[1], usual[2]])[0]).toMatch(
      /^frame 2 is painted over|^frame 2 is 4\d points lighter/,
    )
    expect(words([...usual, disc(101, 40, { grey: 10, other: 230 })]).join()).toContain('harsher')
  })

  it('are not judged where there are fewer than three', () => {
    expect(words([disc(101, 40), disc(101, 10)])).toEqual([])
  })

  it('that paint nothing are measured without fault', () => {
    expect(measureFrame(createPixels(5, 5, 4), 'own')).toMatchObject({
      size: 0,
      area: 0,
      tone: 0,
      contrast: 0,
      box: undefined,
    })
  })
})

describe('evening out', () => {
  const uneven = [...usual, disc(101, 22, { x: 30, y: 70 }), disc(140, 66), disc(101, 40, { grey: 120, other: 180 })]

  it('brings every frame inside the band', () => {
    expect(words(uneven).length).toBeGreaterThan(3)
    const even = evenOut(uneven, 'dark', ALL)
    expect(words(even)).toEqual([])
    expect(new Set(even.map(({ width, height }) => `${width} ${height}`)).size).toBe(1)
  })

  it.each(['light', 'alpha', 'own', 'tone'] as const)('does so for a reading of %s, too', (reading) => {
    const as = ({ width, height, data }: Pixels): Pixels => {
      if (reading === 'light') return { width, height, channels: 1, data: data.map((level) => 255 - level) }
      const out = createPixels(width, height, 4)
      for (let i = 0; i < data.length; i++) {
        const alpha = reading === 'alpha' ? 255 - data[i] : data[i] === 255 ? 0 : 255
        out.data.set(reading === 'alpha' ? [0, 0, 0, alpha] : [data[i], data[i], data[i], alpha], 4 * i)
      }
      return out
    }
    expect(words(evenOut(uneven.map(as), reading, ALL), reading)).toEqual([])
  })

  it('does only what was asked for', () => {
    const { size, tone } = measureFrame(evenOut(uneven, 'dark', { size: false, align: 'no', tone: true })[4], 'dark')
    expect(size).toBe(44)
    expect(tone).toBeCloseTo(measureFrame(usual[0], 'dark').tone, 1)
    const moved = evenOut(uneven, 'dark', { size: false, align: 'base lines', tone: false })
    for (const [i, frame] of moved.entries()) {
      const facts = measureFrame(frame, 'dark')
      expect(frame.height - (facts.box?.bottom ?? 0)).toBe(1)
      expect(facts.size).toBe(measureFrame(uneven[i], 'dark').size)
    }
  })
})

describe('a shadow', () => {
  /** A brown thing, opaque, over a soft grey shadow at high alpha. */
  const withShadow = (grey: number, alpha: number): Pixels => {
    const frame = createPixels(90, 70, 4)
    for (let y = 0, i = 0; y < 70; y++)
      for (let x = 0; x < 90; x++, i += 4) {
        if (Math.hypot(x - 40, y - 30) < 20) frame.data.set([120, 80, 40, 255], i)
        else if (Math.hypot((x - 48) / 1.4, y - 44) < 18) frame.data.set([grey, grey, grey, alpha], i)
      }
    return frame
  }
  const onWhite = ({ data }: Pixels) =>
    Array.from({ length: data.length }, (_, i) => ((i & 3) === 3 ? 255 : 255 + ((data[i] - 255) * data[i | 3]) / 255))

  it('of grey is found, and only that', () => {
    const shadow = findGreyShadow(withShadow(130, 200))
    expect(shadow?.[44 * 90 + 60]).toBe(1)
    expect(shadow?.[30 * 90 + 40]).toBe(0)
    expect(findGreyShadow(withShadow(0, 90))).toBeUndefined()
    expect(findGreyShadow(disc(50, 20))).toBeUndefined()
  })

  it.each([
    [130, 200],
    [60, 140],
    [200, 251],
    [21, 8],
  ])('of grey %i at alpha %i becomes black and looks the same on white, within one level', (grey, alpha) => {
    const frame = withShadow(grey, alpha)
    const shadow = findGreyShadow(frame)
    if (!shadow) throw new Error('no shadow')
    const black = blackenShadow(frame, shadow)
    const [before, after] = [onWhite(frame), onWhite(black)]
    expect(Math.max(...before.map((level, i) => Math.abs(level - after[i])))).toBeLessThanOrEqual(1)
    const at = 4 * (44 * 90 + 60)
    expect([...black.data.subarray(at, at + 3)]).toEqual([0, 0, 0])
    expect(black.data[at + 3]).toBeLessThan(alpha)
    expect(findGreyShadow(black)).toBeUndefined()
  })
})

describe('frames that look the same', () => {
  it('are found, also moved and scaled; others are not', () => {
    const bar = (across: boolean): Pixels => ({
      width: 64,
      height: 64,
      channels: 1,
      data: Uint8Array.from({ length: 64 * 64 }, (_, i) => {
        const [x, y] = across ? [i % 64, Math.floor(i / 64)] : [Math.floor(i / 64), i % 64]
        return x > 4 && x < 60 && y > 20 && y < 20 + x / 2 ? 30 : 255
      }),
    })
    const frames = [
      disc(101, 40),
      bar(true),
      disc(120, 36, { x: 50, y: 70 }),
      bar(false),
      disc(101, 40, { grey: 90, other: 150 }),
    ]
    expect(findAlikeFrames(frames, 'dark')).toEqual([[0, 2]])
    expect(describeAlike([[0, 2]])).toEqual(['frames 1 and 3 look the same in a stroke'])
    expect(findAlikeFrames([createPixels(9, 9, 4), createPixels(9, 9, 4)], 'own')).toEqual([])
  })
})

describe('a frame changed by itself', () => {
  const alone = { ...NO_EDIT }
  it('is scaled about its middle on its own canvas, or on a larger one where it would not fit', () => {
    const half = editFrame(disc(60, 20), 'dark', { ...alone, scale: 0.5 })
    expect([half.width, half.height]).toEqual([60, 60])
    const { box, size } = measureFrame(half, 'dark')
    expect(Math.abs(size - 20)).toBeLessThanOrEqual(1)
    expect(Math.abs((box?.left ?? 0) + (box?.right ?? 0) - 60)).toBeLessThanOrEqual(1)
    const large = editFrame(disc(60, 20), 'dark', { ...alone, scale: 3 })
    expect(large.width).toBe(180)
    expect(Math.abs(measureFrame(large, 'dark').size - 120)).toBeLessThanOrEqual(3)
  })

  it.each(['dark', 'light', 'alpha'] as const)('paints less where %s paints', (reading) => {
    const frame: Pixels =
      reading === 'alpha'
        ? { width: 2, height: 1, channels: 4, data: Uint8Array.of(9, 9, 9, 200, 0, 0, 0, 0) }
        : {
            width: 2,
            height: 1,
            channels: 1,
            data: Uint8Array.of(reading === 'dark' ? 55 : 200, reading === 'dark' ? 255 : 0),
          }
    const paint = (pixels: Pixels) => [...toCoverage(pixels, reading).data]
    expect(paint(frame)).toEqual([200, 0])
    expect(paint(editFrame(frame, reading, { ...alone, strength: 0.5 }))).toEqual([100, 0])
    expect(paint(editFrame(frame, reading, { ...alone, strength: 4 }))).toEqual([255, 0])
  })

  it('paints more where opaque colours are read by their darkness', () => {
    const opaque: Pixels = {
      width: 2,
      height: 1,
      channels: 4,
      data: Uint8Array.of(155, 155, 155, 255, 255, 255, 255, 255),
    }
    const paint = (pixels: Pixels) => [...toCoverage(pixels, 'dark').data]
    expect(paint(opaque)).toEqual([100, 0])
    expect(paint(editFrame(opaque, 'dark', { ...alone, strength: 2 }))).toEqual([200, 0])
  })

  it('turns hues and leaves lightness: red by 120 degrees is a green as light to the eye, and back is red again', () => {
    const red: Pixels = { width: 1, height: 1, channels: 4, data: Uint8Array.of(180, 70, 60, 255) }
    const green = editFrame(red, 'own', { ...alone, hueDeg: 120 })
    const [r, g, b] = green.data
    expect(g).toBeGreaterThan(Math.max(r, b))
    const light = (at: Pixels) => rgbToOklab({ r: at.data[0], g: at.data[1], b: at.data[2] }).L
    expect(light(green)).toBeCloseTo(light(red), 2)
    const again = editFrame(green, 'own', { ...alone, hueDeg: -120 })
    for (let c = 0; c < 3; c++) expect(Math.abs(again.data[c] - red.data[c])).toBeLessThanOrEqual(2)
    expect(editFrame(disc(20, 5), 'dark', { ...alone, hueDeg: 90 })).toEqual(disc(20, 5))
  })
})
