import { Unzlib } from 'fflate'
import { FormatError } from '../../errors.ts'
import { createPixels, type Pixels } from '../../raster/pixels.ts'
import { PNG, type PngFrameChunk, type PngParts } from './layout.ts'
import { channelsOf, createRowReader, SAMPLES } from './rows.ts'
import { unfilterRow } from './unfilter.ts'

/** The seven passes of an interlaced picture: where each begins and its steps, px (W3C PNG, section 8.2). */
const ADAM7 = [
  { x: 0, y: 0, dx: 8, dy: 8 },
  { x: 4, y: 0, dx: 8, dy: 8 },
  { x: 0, y: 4, dx: 4, dy: 8 },
  { x: 2, y: 0, dx: 4, dy: 4 },
  { x: 0, y: 2, dx: 2, dy: 4 },
  { x: 1, y: 0, dx: 2, dy: 2 },
  { x: 0, y: 1, dx: 1, dy: 2 },
]
const WHOLE = [{ x: 0, y: 0, dx: 1, dy: 1 }]

/** What may follow the last row: the end of its last block, and the checksum (RFC 1950). */
const TRAILER_BYTES = 16
export const BEHIND_LAST_ROW = 'There is more pixel data behind its last row; that was passed over.'

/** Compressed bytes unpacked in one go: however well they are packed, what comes out of so few stays small. */
const SLICE_BYTES = 16_384

/**
 * Decodes the pixels of a still picture or of one frame, row by row: besides the picture itself, memory holds two rows
 * and what a small slice of the file unpacks to. Data beyond the last row is not unpacked, and told in `parts.warnings`.
 *
 * @returns 8-bit grey, or straight RGBA; sixteen bits are rounded.
 * @throws {FormatError} If the data does not unpack, names a filter that there is not, or ends too soon.
 */
export function decodeFrame(parts: PngParts, frame: Pick<PngFrameChunk, 'width' | 'height' | 'data'>): Pixels {
  const rows = new RowCollector(parts, frame)
  const unpacker = new Unzlib((bytes) => rows.take(bytes))
  let left = frame.data.reduce((sum, { length }) => sum + length, 0)
  try {
    for (const data of frame.data) {
      for (let at = 0; at < data.length && !rows.isFull; at += SLICE_BYTES) {
        const slice = data.subarray(at, at + SLICE_BYTES)
        unpacker.push(slice)
        left -= slice.length
      }
    }
  } catch (cause) {
    if (cause instanceof FormatError) throw cause
    throw new FormatError(PNG, frame.data[0]?.byteOffset ?? 0, 'pixel data that unpacks; the file is damaged', {
      cause,
    })
  }
  if (!rows.isFull) throw new FormatError(PNG, 0, 'more pixel data; the file is damaged')
  if (rows.surplus > 0 || left > TRAILER_BYTES) parts.warnings.push(BEHIND_LAST_ROW)
  return rows.pixels
}

type Pass = { x: number; y: number; dx: number; dy: number; width: number; rowBytes: number }

/** The passes of a picture, each with what its rows take behind their filter bytes; one where it is not interlaced. */
function passesOf({ header }: PngParts, { width, height }: { width: number; height: number }): Pass[] {
  const bits = header.depth * SAMPLES[header.colourType]
  return (header.interlaced ? ADAM7 : WHOLE)
    .filter(({ x, y }) => x < width && y < height)
    .map(({ x, y, dx, dy }) => {
      const columns = Math.ceil((width - x) / dx)
      return { x, y, dx, dy, width: columns, rowBytes: 1 + Math.ceil((columns * bits) / 8) }
    })
}

/** How many bytes a frame's pixels unpack to, filter bytes counted. */
export const unpackedBytes = (parts: PngParts, frame: { width: number; height: number }): number =>
  passesOf(parts, frame).reduce((sum, { y, dy, rowBytes }) => sum + Math.ceil((frame.height - y) / dy) * rowBytes, 0)

/** Takes bytes as they unpack and lays each row, once whole, into the picture. */
class RowCollector {
  readonly pixels: Pixels
  /** Bytes that came behind the last row. */
  surplus = 0
  readonly #passes: Pass[]
  readonly #bytesPerPixel: number
  readonly #readRow: ReturnType<typeof createRowReader>
  #pass = 0
  #y = 0
  /** The row that is gathered, behind its filter byte, and the one above it in the same pass. */
  #row: Uint8Array
  #above: Uint8Array
  #filled = 0

  constructor(parts: PngParts, { width, height }: { width: number; height: number }) {
    const { depth, colourType } = parts.header
    this.pixels = createPixels(width, height, channelsOf(parts))
    this.#bytesPerPixel = Math.max(1, (depth * SAMPLES[colourType]) >> 3)
    this.#readRow = createRowReader(parts, width)
    this.#passes = passesOf(parts, { width, height })
    const longest = Math.max(...this.#passes.map(({ rowBytes }) => rowBytes))
    this.#row = new Uint8Array(longest)
    this.#above = new Uint8Array(longest)
    this.#y = this.#passes[0].y
  }

  get isFull(): boolean {
    return this.#pass >= this.#passes.length
  }

  take(bytes: Uint8Array): void {
    if (this.isFull) this.surplus += bytes.length
    for (let at = 0; at < bytes.length && !this.isFull; ) {
      const { rowBytes } = this.#passes[this.#pass]
      const part = bytes.subarray(at, at + rowBytes - this.#filled)
      this.#row.set(part, this.#filled)
      this.#filled += part.length
      at += part.length
      if (this.#filled === rowBytes) this.#finishRow()
      if (this.isFull) this.surplus += bytes.length - at
    }
  }

  #finishRow(): void {
    const { x, dx, dy, width, rowBytes } = this.#passes[this.#pass]
    const { width: pictureWidth, height, channels, data } = this.pixels
    unfilterRow(this.#row.subarray(0, rowBytes), this.#above.subarray(0, rowBytes), this.#bytesPerPixel)
    this.#readRow(this.#row.subarray(1), width, data, (this.#y * pictureWidth + x) * channels, dx * channels)
    ;[this.#row, this.#above] = [this.#above, this.#row]
    this.#filled = 0
    this.#y += dy
    if (this.#y < height) return
    this.#pass++
    this.#above.fill(0)
    if (!this.isFull) this.#y = this.#passes[this.#pass].y
  }
}
