import { zlibSync } from 'fflate'
import { FormatError } from '../../errors.ts'
import { checkPictureSize } from '../../limits.ts'
import type { Pixels } from '../../raster/pixels.ts'
import { joinBytes } from '../bytes.ts'
import { type Crc32, crc32 as plainCrc32 } from '../crc32.ts'
import { headerData, writeChunk } from './chunk.ts'
import { COLOUR_TYPE, PNG, SIGNATURE } from './layout.ts'
import { textData } from './text.ts'

const UP = 2
const USUAL_DELAY_MS = 200
const DELAY_MAX_MS = 65_535
const LEVEL = 3 // with the Up filter about as small as level 6 with adaptive filters, in half the time

/** Compresses into a zlib stream; Node's own is faster than the portable default. */
export type Deflate = (bytes: Uint8Array) => Uint8Array
const plainDeflate: Deflate = (bytes) => zlibSync(bytes, { level: LEVEL })

export type PngWriteOptions = {
  /** Keyword (Title, Author, Copyright, Description …) and text, written as iTXt. */
  text?: Record<string, string> | undefined
  pixelsPerMetre?: number | undefined
  deflate?: Deflate | undefined
  crc32?: Crc32 | undefined
}

/**
 * Writes an 8-bit PNG. Grey stays grey; RGBA is written as RGB or grey-alpha where nothing is lost by it.
 * @throws {LimitError} If the picture is larger than is taken.
 */
export function writePng(pixels: Pixels, options: PngWriteOptions = {}): Uint8Array {
  checkPictureSize(pixels.width, pixels.height)
  const { colourType, channels, data } = toSmallest(pixels)
  return assemble(pixels, { depth: 8, colourType, ...options }, [
    ['IDAT', (options.deflate ?? plainDeflate)(filterUp(data, pixels.width * channels, pixels.height))],
  ])
}

/** Writes 16-bit grey; `data` holds width · height samples. */
export function writeGrey16Png(
  width: number,
  height: number,
  data: Uint16Array,
  options: PngWriteOptions = {},
): Uint8Array {
  checkPictureSize(width, height)
  const bytes = new Uint8Array(data.length * 2)
  for (let i = 0; i < data.length; i++) {
    bytes[2 * i] = data[i] >> 8
    bytes[2 * i + 1] = data[i] & 255
  }
  return assemble({ width, height }, { depth: 16, colourType: COLOUR_TYPE.grey, ...options }, [
    ['IDAT', (options.deflate ?? plainDeflate)(filterUp(bytes, width * 2, height))],
  ])
}

/**
 * Writes an animated PNG that plays for ever. Every frame covers the canvas, so any reader shows the first.
 * @param frames At least one, all of one size and channel count.
 * @param options.delaysMs How long each stays, 0 to 65535; 200 where it does not say.
 * @throws {FormatError} If the frames differ in size or channels.
 */
export function writeApng(
  frames: readonly Pixels[],
  options: PngWriteOptions & { delaysMs?: readonly number[] | undefined } = {},
): Uint8Array {
  const [first] = frames
  if (!first) throw new FormatError(PNG, 0, 'at least one frame')
  const same = frames.every(
    (f) => f.width === first.width && f.height === first.height && f.channels === first.channels,
  )
  if (!same) throw new FormatError(PNG, 0, 'frames of one size and channel count')
  checkPictureSize(first.width, first.height)
  const deflate = options.deflate ?? plainDeflate
  const chunks: [string, Uint8Array][] = [['acTL', numbers([frames.length, 0])]]
  let sequence = 0
  for (const [i, frame] of frames.entries()) {
    chunks.push(['fcTL', frameControl(sequence++, frame, options.delaysMs?.[i] ?? USUAL_DELAY_MS)])
    const data = deflate(filterUp(frame.data, frame.width * frame.channels, frame.height))
    if (i === 0) chunks.push(['IDAT', data])
    else chunks.push(['fdAT', joinBytes([numbers([sequence++]), data])])
  }
  const colourType = first.channels === 1 ? COLOUR_TYPE.grey : COLOUR_TYPE.rgba
  return assemble(first, { depth: 8, colourType, ...options }, chunks)
}

type Shape = { depth: number; colourType: number } & Pick<PngWriteOptions, 'text' | 'pixelsPerMetre' | 'crc32'>

function assemble(size: { width: number; height: number }, shape: Shape, chunks: [string, Uint8Array][]): Uint8Array {
  const { crc32 = plainCrc32 } = shape
  return joinBytes([
    Uint8Array.from(SIGNATURE),
    writeChunk('IHDR', headerData(size.width, size.height, shape.depth, shape.colourType), crc32),
    ...(shape.pixelsPerMetre ? [writeChunk('pHYs', physicalData(shape.pixelsPerMetre), crc32)] : []),
    ...Object.entries(shape.text ?? {}).map(([keyword, text]) => writeChunk('iTXt', textData(keyword, text), crc32)),
    ...chunks.map(([type, data]) => writeChunk(type, data, crc32)),
    writeChunk('IEND', new Uint8Array(0), crc32),
  ])
}

function toSmallest({ channels, data }: Pixels): { colourType: number; channels: number; data: Uint8Array } {
  if (channels === 1) return { colourType: COLOUR_TYPE.grey, channels: 1, data }
  let opaque = true
  let grey = true
  for (let i = 0; i < data.length && (opaque || grey); i += 4) {
    if (data[i + 3] !== 255) opaque = false
    if (data[i] !== data[i + 1] || data[i] !== data[i + 2]) grey = false
  }
  if (opaque) return { colourType: COLOUR_TYPE.rgb, channels: 3, data: pick(data, [0, 1, 2]) }
  if (grey) return { colourType: COLOUR_TYPE.greyAlpha, channels: 2, data: pick(data, [0, 3]) }
  return { colourType: COLOUR_TYPE.rgba, channels: 4, data }
}

function pick(data: Uint8Array, kept: readonly number[]): Uint8Array {
  const out = new Uint8Array((data.length / 4) * kept.length)
  for (let i = 0, o = 0; i < data.length; i += 4) for (const channel of kept) out[o++] = data[i + channel]
  return out
}

/** Each row as its difference from the row above, behind a byte that says so (section 9.2). */
function filterUp(data: Uint8Array, rowBytes: number, height: number): Uint8Array {
  const out = new Uint8Array((rowBytes + 1) * height)
  out.set(data.subarray(0, rowBytes), 1)
  const words = rowBytes % 4 === 0 && data.byteOffset % 4 === 0
  const differences = new Uint8Array(words ? rowBytes : 0)
  for (let y = 1, i = rowBytes, o = rowBytes + 1; y < height; y++, i += rowBytes, o += rowBytes + 1) {
    out[o] = UP
    if (words) {
      subtractRow(data, i, rowBytes, differences)
      out.set(differences, o + 1)
    } else for (let x = 0; x < rowBytes; x++) out[o + 1 + x] = data[i + x] - data[i + x - rowBytes]
  }
  return out
}

const HIGH_BITS = 0x80808080 | 0
const LOW_BITS = 0x7f7f7f7f

/**
 * Subtracts the row above from the row at `start`, four bytes at a time: the high bit of each byte is set aside so that
 * no byte borrows from its neighbour, and put right afterwards.
 */
function subtractRow(data: Uint8Array, start: number, rowBytes: number, out: Uint8Array): void {
  const row = new Int32Array(data.buffer, data.byteOffset + start, rowBytes >> 2)
  const above = new Int32Array(data.buffer, data.byteOffset + start - rowBytes, rowBytes >> 2)
  const to = new Int32Array(out.buffer, out.byteOffset, rowBytes >> 2)
  for (let k = 0; k < to.length; k++) {
    const a = row[k]
    const b = above[k]
    to[k] = ((a | HIGH_BITS) - (b & LOW_BITS)) ^ ((a ^ ~b) & HIGH_BITS)
  }
}

function numbers(values: number[]): Uint8Array {
  const data = new Uint8Array(values.length * 4)
  const view = new DataView(data.buffer)
  values.forEach((value, i) => {
    view.setUint32(i * 4, value)
  })
  return data
}

function frameControl(sequence: number, { width, height }: Pixels, delayMs: number): Uint8Array {
  const data = joinBytes([numbers([sequence, width, height, 0, 0]), new Uint8Array(6)])
  const view = new DataView(data.buffer)
  view.setUint16(20, Math.max(0, Math.min(DELAY_MAX_MS, Math.round(delayMs))))
  view.setUint16(22, 1000)
  return data
}

/** So many pixels a metre on both axes. */
function physicalData(pixelsPerMetre: number): Uint8Array {
  return joinBytes([numbers([pixelsPerMetre, pixelsPerMetre]), Uint8Array.of(1)])
}
