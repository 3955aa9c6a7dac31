import { execFileSync } from 'node:child_process'
import { rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { deflateSync } from 'node:zlib'
import sharp from 'sharp'
import { joinBytes } from '../../core/src/formats/bytes.ts'
import { writeGbr } from '../../core/src/formats/gbr/write.ts'
import { writeGih } from '../../core/src/formats/gih/write.ts'
import { writeOpenRaster } from '../../core/src/formats/openraster/write.ts'
import { headerData, writeChunk } from '../../core/src/formats/png/chunk.ts'
import { SIGNATURE } from '../../core/src/formats/png/layout.ts'
import { writeApng, writePng } from '../../core/src/formats/png/write.ts'
import { toUtf8 } from '../../core/src/formats/text.ts'
import {
  ANIMATION_PIXELS_MAX,
  ENTRY_MEMORY_MAX_BYTES,
  FRAMES_MAX,
  READER_MEMORY_MAX_BYTES,
} from '../../core/src/limits.ts'
import { sphere, toBinaryStl, toObj } from '../../core/src/mesh/testing.ts'
import type { BenchOptions } from './options.ts'
import type { Row } from './rows.ts'

const MIB = 1024 * 1024
const SIDE = 8000 // its square is the most pixels that a picture may have
const [GREY, INDEXED, RGBA] = [0, 3, 6]

/** Bytes that do not pack, up to what a file may have; zeros after them. */
function noise(bytes: number): Uint8Array<ArrayBuffer> {
  const data = new Uint8Array(bytes)
  const loud = Math.min(bytes, ENTRY_MEMORY_MAX_BYTES - MIB)
  for (let i = 0, state = 1; i < loud; i++) {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
    data[i] = state >>> 24
  }
  return data
}

function png(depth: number, colourType: number, bytesPerRow: number, { interlaced = false, loud = false } = {}) {
  const head = headerData(SIDE, SIDE, depth, colourType)
  if (interlaced) head[12] = 1
  const raw = loud
    ? noise(SIDE * (1 + bytesPerRow))
    : new Uint8Array(SIDE * (1 + bytesPerRow) + (interlaced ? SIDE : 0))
  if (loud) for (let y = 0; y < SIDE; y++) raw[y * (1 + bytesPerRow)] = 0
  return joinBytes([
    Uint8Array.from(SIGNATURE),
    writeChunk('IHDR', head),
    ...(colourType === INDEXED ? [writeChunk('PLTE', new Uint8Array(6))] : []),
    writeChunk('IDAT', deflateSync(raw, { level: 1 })),
    writeChunk('IEND', new Uint8Array()),
  ])
}
const square = (pixels: number) => {
  const side = Math.floor(Math.sqrt(pixels))
  return { width: side, height: side, channels: 4 as const, data: noise(side * side * 4) }
}
const frame = (pixels: number) => ({ version: 2 as const, name: '', spacingPct: 10, ...square(pixels) })
const LARGEST_RGBA = ENTRY_MEMORY_MAX_BYTES / 4 - 64 * 1024

const DRAWN_SIDE = 4000 // canvases of layers and drawings

/** Layers that fill their canvas, one over the other, in a group of groups. */
function drawing(): Uint8Array {
  const { width, height, data } = { width: DRAWN_SIDE, height: DRAWN_SIDE, data: noise(4 * DRAWN_SIDE ** 2) }
  const one = { name: '', op: 'normal' as const, opacity: 0.5, isHidden: false, left: 0, top: 0 }
  const layers = Array.from({ length: 4 }, () => ({
    kind: 'layer' as const,
    ...one,
    pixels: { width, height, channels: 4 as const, data },
  }))
  return writeOpenRaster(
    { width, height, layers },
    { encode: (pixels) => writePng(pixels, { deflate: (bytes) => deflateSync(bytes, { level: 1 }) }) },
  )
}

const toTiff = (side: number) =>
  sharp({ create: { width: side, height: side, channels: 4, background: '#8048a0' } }).tiff({ compression: 'none' })

/** The file of each kind that takes the most memory within the limits. */
const WORST: [what: string, make: () => Uint8Array | Promise<Uint8Array>][] = [
  [`an OpenRaster of four layers of ${DRAWN_SIDE}²`, drawing],
  ['a TIFF of 47 million pixels, RGBA as they are', () => toTiff(6900).toBuffer()],
  [
    'an SVG of 99,000 paths',
    () =>
      toUtf8(
        `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 999 999">${'<path d="M0 0L9 9"/>'.repeat(99_000)}</svg>`,
      ),
  ],
  ['an OBJ of 2 million triangles', () => toObj(sphere(1414, 708))],
  ['an STL of 2 million triangles', () => toBinaryStl(sphere(1414, 708))],
  ['a grey PNG of 64 million pixels', () => png(8, GREY, SIDE)],
  ['an RGBA PNG of as many, 191 MiB long', () => png(8, RGBA, 4 * SIDE, { loud: true })],
  ['a PNG of 16-bit RGBA of as many', () => png(16, RGBA, 8 * SIDE)],
  ['the same interlaced', () => png(16, RGBA, 8 * SIDE, { interlaced: true })],
  ['a PNG of two indexed colours of as many', () => png(1, INDEXED, SIDE / 8)],
  [
    `an animated PNG of ${FRAMES_MAX} frames`,
    () => {
      const one = square(ANIMATION_PIXELS_MAX / FRAMES_MAX)
      return writeApng(
        Array.from({ length: FRAMES_MAX }, (_, n) => ({ ...one, data: one.data.map((value) => value & n) })),
        { deflate: (bytes) => deflateSync(bytes, { level: 1 }) },
      )
    },
  ],
  ['a GBR of 192 MiB', () => writeGbr(frame(LARGEST_RGBA))],
  [
    'a GIH of 192 MiB in four frames',
    () =>
      writeGih({
        name: '',
        spacingPct: 10,
        extra: [],
        dimensions: [{ rank: 4, rule: 'random' as const }],
        frames: Array.from({ length: 4 }, () => frame(LARGEST_RGBA / 4)),
      }),
  ],
]

/** The most memory that reading a file takes, above what the reader has before it. */
export async function readerRows({ folder, readOne }: BenchOptions): Promise<Row[]> {
  const run = (...args: string[]) =>
    JSON.parse(execFileSync(process.execPath, [readOne, ...args], { encoding: 'utf8' })) as {
      outcome: string
      peakKib: number
    }
  const idle = run().peakKib
  const rows: Row[] = []
  for (const [what, make] of WORST) {
    const path = join(folder, 'worst')
    writeFileSync(path, await make())
    const { outcome, peakKib } = run(path)
    rmSync(path)
    const peak = (peakKib - idle) * 1024
    rows.push({
      what: `memory to read ${what} (${outcome === 'tip' ? 'taken' : outcome})`,
      ours: `${Math.round(peak / MIB)} MiB`,
      reference: `${READER_MEMORY_MAX_BYTES / MIB} MiB`,
      ratio: peak / READER_MEMORY_MAX_BYTES,
      wanted: '≤ 1',
      met: peak <= READER_MEMORY_MAX_BYTES,
    })
  }
  return rows
}
