import type { Mark } from './mark.ts'
import { standardizeTone } from './mark.ts'

/** The grid on which marks are kept; what looks alike there is compared again on a finer one. */
export const KEPT_SIDE = 24

const SIZES = ['widthPx', 'heightPx', 'canvasWidthPx', 'canvasHeightPx', 'faintest', 'strongest'] as const
const HEAD_BYTES = 4 * SIZES.length
const AREA = KEPT_SIDE ** 2
/** The chroma that a byte reaches, both ways: beyond that of any sRGB colour (0.32). */
const CHROMA = 0.4

/** A mark on a grid of KEPT_SIDE as bytes: six 32-bit floats, the shape, and for own colours L, a and b. */
export function encodeMark(mark: Mark): Uint8Array {
  const bytes = new Uint8Array(HEAD_BYTES + (mark.colour ? 4 : 1) * AREA)
  const view = new DataView(bytes.buffer)
  for (const [i, size] of SIZES.entries()) view.setFloat32(4 * i, mark[size], true)
  const put = (layer: Float32Array, at: number, toByte: (value: number) => number) => {
    for (let i = 0; i < AREA; i++)
      bytes[HEAD_BYTES + at * AREA + i] = Math.round(Math.min(1, Math.max(0, toByte(layer[i]))) * 255)
  }
  put(mark.shape, 0, (value) => value)
  if (mark.colour) {
    put(mark.colour.L, 1, (value) => value)
    put(mark.colour.a, 2, (value) => 0.5 + value / (2 * CHROMA))
    put(mark.colour.b, 3, (value) => 0.5 + value / (2 * CHROMA))
  }
  return bytes
}

/** What of a kept mark tells its size. */
export const MARK_SIZE_BYTES = 8

/** The area of a kept mark, px², from its first MARK_SIZE_BYTES; 0 for one that paints nothing. */
export function markArea(bytes: Uint8Array): number {
  if (bytes.length < MARK_SIZE_BYTES) return 0
  const view = new DataView(bytes.buffer, bytes.byteOffset)
  return view.getFloat32(0, true) * view.getFloat32(4, true)
}

/** @throws {RangeError} If there are not as many bytes as a mark has. */
export function decodeMark(bytes: Uint8Array): Mark {
  if (bytes.length !== HEAD_BYTES + AREA && bytes.length !== HEAD_BYTES + 4 * AREA)
    throw new RangeError(`a mark of ${bytes.length} bytes: expected ${HEAD_BYTES + AREA} or ${HEAD_BYTES + 4 * AREA}`)
  const view = new DataView(bytes.buffer, bytes.byteOffset)
  const [widthPx, heightPx, canvasWidthPx, canvasHeightPx, faintest, strongest] = SIZES.map((_, i) =>
    view.getFloat32(4 * i, true),
  ) as [number, number, number, number, number, number]
  const take = (at: number, toValue: (share: number) => number) =>
    Float32Array.from({ length: AREA }, (_, i) => toValue(bytes[HEAD_BYTES + at * AREA + i] / 255))
  const shape = take(0, (share) => share)
  const chroma = (share: number) => (share - 0.5) * 2 * CHROMA
  const colour =
    bytes.length > HEAD_BYTES + AREA
      ? { L: take(1, (share) => share), a: take(2, chroma), b: take(3, chroma) }
      : undefined
  return {
    side: KEPT_SIDE,
    widthPx,
    heightPx,
    canvasWidthPx,
    canvasHeightPx,
    faintest,
    strongest,
    shape,
    colour,
    tone: colour && standardizeTone(colour.L, shape),
  }
}
