import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { zlibSync } from 'fflate'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { joinBytes } from '../bytes.ts'
import { headerData, writeChunk } from './chunk.ts'
import { COLOUR_TYPE, type ColourType, DEPTHS, SIGNATURE } from './layout.ts'
import { readPng } from './read.ts'
import { SAMPLES } from './rows.ts'

// An encoder of the test's own for files that python3-pil and sharp do not write: W3C PNG, third edition, sections 7 to 9
// and 11. Sizes that no pass divides evenly, and one smaller than the passes are wide.
const SIZES = [
  [13, 11],
  [3, 2],
  [1, 9],
] as const
const PASSES = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
]
const PALETTE = Uint8Array.from({ length: 3 * 16 }, (_, i) => (i * 53 + 17) & 255)

type Case = {
  colourType: ColourType
  depth: number
  interlaced: boolean
  clear: boolean
  width: number
  height: number
}

/** A sample that every decoder can tell from its neighbours, with enough equal ones for a transparent colour. */
const sample = ({ depth, colourType }: Case, x: number, y: number, c: number) =>
  (x * 31 + y * 17 + c * 7 + ((x * y) % 3) * 5) %
  (colourType === COLOUR_TYPE.palette ? Math.min(16, 2 ** depth) : 2 ** depth)

const clearSamples = (each: Case) => [0, 1, 2].slice(0, SAMPLES[each.colourType]).map((c) => sample(each, 2 % each.width, 1, c)) // biome-ignore format: one row

function encode(each: Case): Uint8Array {
  const { colourType, depth, interlaced, clear, width, height } = each
  const bits = SAMPLES[colourType] * depth
  const rows: Uint8Array[] = []
  for (const [x0, y0, dx, dy] of interlaced ? PASSES : [[0, 0, 1, 1]]) {
    let above: Uint8Array | undefined
    for (let y = y0; y < height && x0 < width; y += dy) {
      const row = new Uint8Array(Math.ceil((Math.ceil((width - x0) / dx) * bits) / 8))
      for (let x = x0, bit = 0; x < width; x += dx) {
        for (let c = 0; c < SAMPLES[colourType]; c++, bit += depth) {
          const value = sample(each, x, y, c)
          if (depth === 16) row.set([value >> 8, value & 255], bit >> 3)
          else row[bit >> 3] |= value << (8 - depth - (bit & 7))
        }
      }
      rows.push(filtered(row, above, (rows.length * 7) % 5, Math.max(1, bits >> 3)))
      above = row
    }
  }
  const words = (values: number[]) => Uint8Array.from(values.flatMap((value) => [value >> 8, value & 255]))
  const transparency = colourType === COLOUR_TYPE.palette ? Uint8Array.of(0, 90, 200) : words(clearSamples(each))
  return joinBytes([
    Uint8Array.from(SIGNATURE),
    writeChunk('IHDR', headerData(width, height, depth, colourType, interlaced)),
    ...(colourType === COLOUR_TYPE.palette
      ? [writeChunk('PLTE', PALETTE.subarray(0, 3 * Math.min(16, 2 ** depth)))]
      : []),
    ...(clear
      ? [writeChunk('tRNS', transparency.subarray(0, colourType === COLOUR_TYPE.palette ? Math.min(3, 2 ** depth) : 6))]
      : []),
    writeChunk('IDAT', zlibSync(joinBytes(rows))),
    writeChunk('IEND', new Uint8Array(0)),
  ])
}

/** A row with one of the five filters put on, behind the byte that names it. */
function filtered(row: Uint8Array, above: Uint8Array | undefined, filter: number, bpp: number): Uint8Array {
  const out = new Uint8Array(row.length + 1)
  out[0] = filter
  for (let i = 0; i < row.length; i++) {
    const a = row[i - bpp] ?? 0
    const b = above?.[i] ?? 0
    const c = (i >= bpp && above?.[i - bpp]) || 0
    const p = a + b - c
    const paeth = [a, b, c].reduce((best, value) => (Math.abs(p - value) < Math.abs(p - best) ? value : best))
    out[i + 1] = row[i] - [0, a, b, (a + b) >> 1, paeth][filter]
  }
  return out
}

const cases = Object.values(COLOUR_TYPE).flatMap((colourType) =>
  DEPTHS[colourType].flatMap((depth) =>
    [false, true].flatMap((interlaced) =>
      [false, true]
        .filter((clear) => !clear || colourType === 0 || colourType === 2 || colourType === 3)
        .flatMap((clear) =>
          SIZES.map(([width, height]): Case => ({ colourType, depth, interlaced, clear, width, height })),
        ),
    ),
  ),
)

/** What python3-pil sees in each file, as RGB hex; it cuts 16 bits to 8 where we round. */
function readByPil(files: Uint8Array[]): string[] {
  const folder = mkdtempSync(join(tmpdir(), 'matrix-'))
  for (const [i, bytes] of files.entries()) writeFileSync(join(folder, `${i}.png`), bytes)
  const script = `
import sys
from PIL import Image
for i in range(int(sys.argv[2])):
    im = Image.open(f'{sys.argv[1]}/{i}.png')
    im.load()
    if im.mode == 'I':
        im = Image.frombytes('L', im.size, bytes(v * 255 // 65535 for v in im.getdata()))
    im.info.pop('transparency', None)
    print(im.convert('RGB').tobytes().hex())`
  return execFileSync('/usr/bin/python3', ['-c', script, folder, String(files.length)], { encoding: 'utf8' })
    .trim()
    .split('\n')
}

describe(`PNG of every colour type, depth, interlace and transparent colour (${cases.length} files)`, () => {
  const files = cases.map(encode)

  it('shows the colours that python3-pil sees', () => {
    const wanted = readByPil(files)
    cases.forEach((each, i) => {
      const { pixels } = readPng(files[i]).frames[0]
      const expected = Buffer.from(wanted[i], 'hex')
      let worst = 0
      for (let p = 0; p < each.width * each.height; p++)
        for (let c = 0; c < 3; c++)
          worst = Math.max(worst, Math.abs(pixels.data[pixels.channels === 1 ? p : p * 4 + c] - expected[p * 3 + c]))
      expect(worst, JSON.stringify(each)).toBeLessThanOrEqual(each.depth === 16 ? 1 : 0)
    })
  })

  it('is clear exactly where its transparent colour or its palette says so, and where sharp sees it', async () => {
    for (const [i, each] of cases.entries()) {
      const { pixels } = readPng(files[i]).frames[0]
      if (!each.clear && each.colourType !== COLOUR_TYPE.greyAlpha && each.colourType !== COLOUR_TYPE.rgba) {
        const alphas = pixels.data.filter((_, k) => pixels.channels === 4 && k % 4 === 3)
        expect(
          alphas.every((alpha) => alpha === 255),
          JSON.stringify(each),
        ).toBe(true)
        continue
      }
      const seen = await sharp(files[i]).toColourspace('srgb').ensureAlpha().raw().toBuffer()
      for (let p = 0; p < each.width * each.height; p++) {
        const [x, y] = [p % each.width, Math.floor(p / each.width)]
        const isClear = clearSamples(each).every((value, c) => value === sample(each, x, y, c))
        const byFormula =
          each.colourType === 3
            ? ([0, 90, 200].slice(0, 2 ** each.depth)[sample(each, x, y, 0)] ?? 255)
            : isClear
              ? 0
              : 255
        const alpha = pixels.data[p * 4 + 3]
        if (each.clear) expect(alpha, `${JSON.stringify(each)} at ${x},${y}`).toBe(byFormula)
        // sharp compares the transparent colour of 16 bits after cutting it to 8: there the formula alone counts.
        if (!(each.clear && each.depth === 16))
          expect(Math.abs(alpha - seen[p * 4 + 3]), `${JSON.stringify(each)} at ${x},${y}`).toBeLessThanOrEqual(1)
      }
    }
  })

  it('is refused when its data ends a byte early, and takes no more memory than its size for data that goes on', () => {
    const bomb = joinBytes([
      Uint8Array.from(SIGNATURE),
      writeChunk('IHDR', headerData(2, 2, 8, 0)),
      writeChunk('IDAT', zlibSync(new Uint8Array(200 * 1024 * 1024))),
      writeChunk('IEND', new Uint8Array(0)),
    ])
    const before = process.memoryUsage().rss
    expect(readPng(bomb).frames[0].pixels.data.length).toBe(4)
    expect(process.memoryUsage().rss - before).toBeLessThan(100 * 1024 * 1024)
    const short = joinBytes([
      Uint8Array.from(SIGNATURE),
      writeChunk('IHDR', headerData(2, 2, 8, 0)),
      writeChunk('IDAT', zlibSync(new Uint8Array(5))),
      writeChunk('IEND', new Uint8Array(0)),
    ])
    expect(() => readPng(short)).toThrow('more pixel data; the file is damaged')
  })
})
