import { deflateSync } from 'node:zlib'
import { headerData, writeChunk } from '@satchel/core/formats/png/chunk'
import { BEHIND_LAST_ROW } from '@satchel/core/formats/png/decode'
import { SIGNATURE } from '@satchel/core/formats/png/layout'
import { readPng } from '@satchel/core/formats/png/read'
import { writeApng, writeGrey16Png } from '@satchel/core/formats/png/write'
import fc from 'fast-check'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { decodePhoto } from './photograph.ts'
import { decodePng, encodePng, keepStillPng } from './png.ts'

const anyPixels = fc
  .record({
    width: fc.integer({ min: 1, max: 9 }),
    height: fc.integer({ min: 1, max: 9 }),
    channels: fc.constantFrom<1 | 4>(1, 4),
    seed: fc.integer(),
  })
  .map(({ width, height, channels, seed }) => ({
    width,
    height,
    channels,
    data: Uint8Array.from({ length: width * height * channels }, (_, i) => ((i + seed) * 2_654_435_761) >>> 24),
  }))

describe('the fast PNG codec', () => {
  it('reads back what it writes, and so does the readable one in core', async () => {
    await fc.assert(
      fc.asyncProperty(anyPixels, async (pixels) => {
        const png = encodePng(pixels, { Title: 'x' })
        expect((await decodePng(png)).frames[0]?.pixels).toEqual(pixels)
        expect(readPng(png).frames[0]?.pixels).toEqual(pixels)
      }),
      { numRuns: 60 },
    )
  })

  it.each([
    ['palette', { palette: true }],
    ['interlaced', { progressive: true }],
    ['palette of few colours', { palette: true, colours: 4 }],
  ])('agrees with core on a %s file that sharp wrote', async (_name, options) => {
    const data = Uint8Array.from({ length: 20 * 15 * 4 }, (_, i) => (i * 37 + (i >> 5)) & 255)
    const png = new Uint8Array(
      await sharp(data, { raw: { width: 20, height: 15, channels: 4 } })
        .png(options)
        .toBuffer(),
    )
    expect((await decodePng(png)).frames).toEqual(readPng(png).frames)
  })

  it.each([
    ['plain', {}],
    ['palette', { palette: true }],
    ['interlaced', { progressive: true }],
  ])('keeps the compressed pixels of a %s file as they came, and nothing else of it', async (_name, options) => {
    const data = Uint8Array.from({ length: 20 * 15 * 4 }, (_, i) => (i * 37 + (i >> 5)) & 255)
    const picture = sharp(data, { raw: { width: 20, height: 15, channels: 4 } }).png(options)
    const file = new Uint8Array(await picture.withExif({ IFD0: { Copyright: 'secret words' } }).toBuffer())
    expect(Buffer.from(file).includes('secret words')).toBe(true)
    const kept = keepStillPng(file) ?? new Uint8Array()
    expect((await decodePng(kept)).frames).toEqual((await decodePng(file)).frames)
    expect(Buffer.from(kept).includes('secret words')).toBe(false)
    expect(kept.length).toBeLessThan(file.length)
  })

  it('keeps no file whose pixels are recoded on the way in', async () => {
    const data = new Uint8Array(12 * 4).fill(90)
    const picture = sharp(data, { raw: { width: 4, height: 3, channels: 4 } })
    expect(keepStillPng(new Uint8Array(await picture.png().withIccProfile('p3').toBuffer()))).toBeUndefined()
    expect(keepStillPng(writeGrey16Png(3, 2, new Uint16Array(6)))).toBeUndefined()
    const moving = [0, 90].map((level) => ({
      width: 4,
      height: 3,
      channels: 1 as const,
      data: new Uint8Array(12).fill(level),
    }))
    expect(keepStillPng(writeApng(moving))).toBeUndefined()
  })

  it('agrees with core on 16 bits and on animations', async () => {
    const deep = writeGrey16Png(3, 2, Uint16Array.of(0, 300, 32_768, 40_000, 65_000, 65_535))
    expect((await decodePng(deep)).frames).toEqual(readPng(deep).frames)
    const moving = writeApng(
      [0, 90, 255].map((level) => ({ width: 4, height: 3, channels: 1, data: new Uint8Array(12).fill(level) })),
    )
    expect((await decodePng(moving)).frames).toEqual(readPng(moving).frames)
  })

  it.each([1, 300_000])('says that %i bytes lie behind the last row, as core does', async (bytes) => {
    const header = headerData(3, 2, 8, 0)
    const rows = Buffer.concat([Buffer.from([0, 1, 2, 3, 0, 4, 5, 6]), Buffer.alloc(bytes)])
    const file = (idat: Uint8Array) =>
      new Uint8Array(
        Buffer.concat([
          Uint8Array.from(SIGNATURE),
          writeChunk('IHDR', header),
          writeChunk('IDAT', idat),
          writeChunk('IEND', new Uint8Array()),
        ]),
      )
    for (const level of [0, 9]) {
      const reading = await decodePng(file(deflateSync(rows, { level })))
      expect(reading.warnings).toEqual([BEHIND_LAST_ROW])
      expect(reading.frames[0]?.pixels.data).toEqual(Uint8Array.of(1, 2, 3, 4, 5, 6))
    }
    expect((await decodePng(file(deflateSync(rows.subarray(0, 8))))).warnings).toEqual([])
  })

  it('refuses what core refuses, in the same words', async () => {
    const png = encodePng({ width: 8, height: 8, channels: 1, data: new Uint8Array(64) })
    const cut = png.subarray(0, png.length - 20)
    await expect(decodePng(cut)).rejects.toThrow('the file is cut short')
    expect(() => readPng(cut)).toThrow('the file is cut short')
  })

  it('reads JPEG and WebP, and refuses damaged ones', async () => {
    const data = new Uint8Array(16 * 16 * 3).fill(200)
    for (const [format, name] of [
      ['jpeg', 'JPEG picture'],
      ['webp', 'WebP picture'],
    ] as const) {
      const bytes = new Uint8Array(
        await sharp(data, { raw: { width: 16, height: 16, channels: 3 } })
          .toFormat(format)
          .toBuffer(),
      )
      const pixels = await decodePhoto(bytes, name)
      expect([pixels.width, pixels.height, pixels.channels]).toEqual([16, 16, 4])
      expect(Math.abs((pixels.data[0] ?? 0) - 200)).toBeLessThanOrEqual(3)
      await expect(decodePhoto(bytes.subarray(0, 40), name)).rejects.toThrow(`Not a readable ${name}`)
    }
  })
})
