import { FormatError } from '../../errors.ts'
import { checkPictureSize, NAME_MAX_CHARS } from '../../limits.ts'
import { toOneLine, toUtf8 } from '../text.ts'
import { FIXED_BYTES, GBR, type Gbr, MAGIC, OFFSET, SPACING_MAX_PCT } from './layout.ts'

/**
 * Writes a GBR file. The name is put on one line and cut to the limit; spacing is rounded to whole percent.
 * Version 1 holds no spacing.
 * @throws {FormatError} If the pixel data does not fit the size.
 */
export function writeGbr(brush: Gbr): Uint8Array {
  const { version, width, height, channels, data } = brush
  checkPictureSize(width, height)
  if (width < 1 || height < 1 || data.length !== width * height * channels) {
    throw new FormatError(GBR, 0, `${width * height * channels} pixel bytes, got ${data.length}`)
  }
  const name = toUtf8(toOneLine(brush.name, NAME_MAX_CHARS))
  const headerSize = FIXED_BYTES[version] + name.length + 1
  const bytes = new Uint8Array(headerSize + data.length)
  const view = new DataView(bytes.buffer)
  view.setUint32(OFFSET.headerSize, headerSize)
  view.setUint32(OFFSET.version, version)
  view.setUint32(OFFSET.width, width)
  view.setUint32(OFFSET.height, height)
  view.setUint32(OFFSET.channels, channels)
  if (version === 2) {
    view.setUint32(OFFSET.magic, MAGIC)
    view.setUint32(OFFSET.spacing, Math.max(1, Math.min(SPACING_MAX_PCT, Math.round(brush.spacingPct))))
  }
  bytes.set(name, FIXED_BYTES[version])
  bytes.set(data, headerSize)
  return bytes
}
