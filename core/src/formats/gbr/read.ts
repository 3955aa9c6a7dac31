import { FormatError } from '../../errors.ts'
import { checkPictureSize } from '../../limits.ts'
import { fromUtf8OrLatin1 } from '../text.ts'
import { DEFAULT_SPACING_PCT, FIXED_BYTES, GBR, type Gbr, MAGIC, NAME_MAX_BYTES, OFFSET } from './layout.ts'

/**
 * Reads a whole GBR file; bytes after the pixels are an error.
 * @throws {FormatError} If a field, the name or the pixels are not as the format says.
 * @throws {LimitError} If the picture is larger than is taken.
 */
export function readGbr(bytes: Uint8Array): Gbr {
  return readGbrFile(bytes).brush
}

/** What is read of a GBR: the brush, and plain sentences about oddities that were put right. */
export type GbrReading = { brush: Gbr; warnings: string[] }

/**
 * Reads a whole GBR file, and says what was odd about it and put right.
 * @throws {FormatError} If a field, the name or the pixels are not as the format says, or bytes follow them.
 * @throws {LimitError} If the picture is larger than is taken.
 */
export function readGbrFile(bytes: Uint8Array): GbrReading {
  const { brush, end, warnings } = readGbrAt(bytes, 0)
  if (end !== bytes.length) throw new FormatError(GBR, end, `the end, found ${bytes.length - end} more bytes`)
  return { brush, warnings }
}

/**
 * Reads the GBR that starts at `start`; used for the frames of an animated brush.
 * @returns The brush, what was odd about it, and the offset just behind it.
 * @throws {FormatError} If no brush begins there, or it ends too soon. @throws {LimitError} If it is too large.
 */
export function readGbrAt(bytes: Uint8Array, start: number): GbrReading & { end: number } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length - start < FIXED_BYTES[1]) {
    throw new FormatError(GBR, bytes.length, `a header of at least ${FIXED_BYTES[1]} bytes`)
  }
  const field = (offset: number) => view.getUint32(start + offset)
  const version = field(OFFSET.version)
  if (version !== 1 && version !== 2)
    throw new FormatError(GBR, start + OFFSET.version, `version 1 or 2, found ${version}`)
  const fixedBytes = FIXED_BYTES[version]
  if (bytes.length - start < fixedBytes)
    throw new FormatError(GBR, bytes.length, `a header of at least ${fixedBytes} bytes`)
  if (version === 2 && field(OFFSET.magic) !== MAGIC) {
    throw new FormatError(GBR, start + OFFSET.magic, 'the four letters that mark version 2')
  }
  const headerSize = field(OFFSET.headerSize)
  if (headerSize < fixedBytes || headerSize - fixedBytes > NAME_MAX_BYTES) {
    throw new FormatError(
      GBR,
      start,
      `a header of ${fixedBytes} to ${fixedBytes + NAME_MAX_BYTES} bytes, found ${headerSize}`,
    )
  }
  const width = field(OFFSET.width)
  const height = field(OFFSET.height)
  const channels = field(OFFSET.channels)
  if (width === 0 || height === 0) throw new FormatError(GBR, start + OFFSET.width, 'a width and height of at least 1')
  if (channels !== 1 && channels !== 4) {
    throw new FormatError(GBR, start + OFFSET.channels, `1 or 4 bytes per pixel, found ${channels}`)
  }
  checkPictureSize(width, height)
  const pixelStart = start + headerSize
  const end = pixelStart + width * height * channels
  if (end > bytes.length) {
    throw new FormatError(GBR, bytes.length, `${width * height * channels} pixel bytes from byte ${pixelStart} on`)
  }
  const warnings: string[] = []
  return {
    brush: {
      version,
      name: readName(bytes.subarray(start + fixedBytes, pixelStart), start + fixedBytes, warnings),
      spacingPct: version === 2 ? field(OFFSET.spacing) : DEFAULT_SPACING_PCT,
      width,
      height,
      channels,
      data: bytes.slice(pixelStart, end),
    },
    end,
    warnings,
  }
}

/** The name up to its NUL; some writers leave the NUL out when there is no name. */
function readName(bytes: Uint8Array, offset: number, warnings: string[]): string {
  if (bytes.length === 0) return ''
  const nul = bytes.indexOf(0)
  if (nul < 0) throw new FormatError(GBR, offset, 'a name that ends in NUL')
  // padding with more NULs is harmless; anything else there was part of a name once, or hides something
  if (bytes.subarray(nul + 1).some((byte) => byte !== 0))
    warnings.push(
      `Its name holds a NUL; what stands before it counts, and ${bytes.length - nul - 1} bytes were left out.`,
    )
  return fromUtf8OrLatin1(bytes.subarray(0, nul))
}
