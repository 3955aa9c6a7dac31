import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { sniffKind } from '../../brush-file/kinds.ts'
import { FormatError, LimitError } from '../../errors.ts'
import { anyPixels, roundTip } from '../../testing.ts'
import { readGbr } from './read.ts'
import { writeGbr } from './write.ts'

const brush = { version: 2, name: 'Down soft', spacingPct: 17, ...roundTip(9) } as const

describe('GBR', () => {
  it('reads back what it wrote: any size, kind, name and spacing', () => {
    fc.assert(
      fc.property(
        anyPixels(),
        fc.string({ unit: 'grapheme', maxLength: 40 }),
        fc.integer({ min: 1, max: 1000 }),
        fc.constantFrom(1, 2),
        (pixels, name, spacingPct, version) => {
          const back = readGbr(writeGbr({ version: version as 1 | 2, name, spacingPct, ...pixels }))
          expect(back.data).toEqual(pixels.data)
          expect([back.width, back.height, back.channels]).toEqual([pixels.width, pixels.height, pixels.channels])
          expect(back.spacingPct).toBe(version === 2 ? spacingPct : 10)
          expect(readGbr(writeGbr(back))).toEqual(back)
        },
      ),
    )
  })

  it('lays the header out byte for byte as the format says', () => {
    const bytes = writeGbr({
      version: 2,
      name: 'ab',
      spacingPct: 20,
      width: 2,
      height: 1,
      channels: 1,
      data: Uint8Array.of(7, 8),
    })
    expect([...bytes]).toEqual([
      0, 0, 0, 31, 0, 0, 0, 2, 0, 0, 0, 2, 0, 0, 0, 1, 0, 0, 0, 1, 0x47, 0x49, 0x4d, 0x50, 0, 0, 0, 20, 97, 98, 0, 7, 8,
    ])
  })

  it('refuses every truncation of a valid file', () => {
    const bytes = writeGbr(brush)
    for (let length = 0; length < bytes.length; length++) {
      expect(() => readGbr(bytes.subarray(0, length)), `${length} bytes`).toThrow(FormatError)
    }
  })

  it('never throws anything but its own two errors on damaged bytes', () => {
    const bytes = writeGbr(brush)
    fc.assert(
      fc.property(fc.nat(bytes.length - 1), fc.nat(255), (at, value) => {
        const damaged = bytes.slice()
        damaged[at] = value
        try {
          readGbr(damaged)
        } catch (error) {
          expect(error instanceof FormatError || error instanceof LimitError).toBe(true)
        }
      }),
      { numRuns: 500 },
    )
  })

  it('says what is wrong in words', () => {
    const wrongVersion = writeGbr(brush)
    wrongVersion[7] = 9
    expect(() => readGbr(wrongVersion)).toThrow('Not a readable GBR brush: at byte 4 expected version 1 or 2, found 9')
    const wrongDepth = writeGbr(brush)
    wrongDepth[19] = 3
    expect(() => readGbr(wrongDepth)).toThrow('expected 1 or 4 bytes per pixel, found 3')
    const huge = writeGbr(brush)
    huge[9] = 1
    expect(() => readGbr(huge)).toThrow('Too large: the longer side in px is 65,545, at most 16,384 is taken')
  })

  it('is read by python3-pil, the outside reference: same size and mask', () => {
    const folder = mkdtempSync(join(tmpdir(), 'gbr-'))
    const path = join(folder, 'tip.gbr')
    writeFileSync(path, writeGbr(brush))
    const script =
      'import sys\nfrom PIL import Image\nim=Image.open(sys.argv[1])\nprint(im.format,im.size,im.mode,im.tobytes().hex())'
    const out = execFileSync('/usr/bin/python3', ['-c', script, path], { encoding: 'utf8' }).trim()
    expect(out).toBe(`GBR (9, 9) L ${Buffer.from(brush.data).toString('hex')}`)
  })

  it('is recognised by its content', () => {
    expect(sniffKind(writeGbr(brush))).toBe('gbr')
    expect(sniffKind(writeGbr({ ...brush, version: 1 }))).toBe('gbr')
    expect(sniffKind(new Uint8Array(64))).toBe('foreign')
  })
})
