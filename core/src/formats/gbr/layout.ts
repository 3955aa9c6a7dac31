// GBR, the open single brush: big-endian u32 fields, a NUL-terminated name, then raw pixels.

export const GBR = 'GBR brush'

/** Byte offsets of the header's fields. */
export const OFFSET = { headerSize: 0, version: 4, width: 8, height: 12, channels: 16, magic: 20, spacing: 24 } as const

/** Bytes before the name. */
export const FIXED_BYTES = { 1: 20, 2: 28 } as const

/** The four bytes that mark version 2. */
export const MAGIC = 0x47494d50

/** A name longer than this is not a name; from the limit on names, four UTF-8 bytes a character. */
export const NAME_MAX_BYTES = 4096

/** Spacing of a version 1 file, which holds none, percent. */
export const DEFAULT_SPACING_PCT = 10
export const SPACING_MAX_PCT = 10_000

/**
 * A single brush. One channel is a mask (255 full paint, 0 none), four are straight RGBA.
 * `spacingPct` counts in percent of the drawn width.
 */
export type Gbr = {
  version: 1 | 2
  name: string
  spacingPct: number
  width: number
  height: number
  channels: 1 | 4
  data: Uint8Array
}

/** Whether a GBR may begin at `start`: the magic of version 2, or a plausible header and a sane depth for version 1. */
export function looksLikeGbr(head: Uint8Array, start: number): boolean {
  if (head.length < start + FIXED_BYTES[1]) return false
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength)
  const version = view.getUint32(start + OFFSET.version)
  if (version === 2) return head.length >= start + FIXED_BYTES[2] && view.getUint32(start + OFFSET.magic) === MAGIC
  const channels = view.getUint32(start + OFFSET.channels)
  return version === 1 && view.getUint32(start) < NAME_MAX_BYTES + FIXED_BYTES[1] && (channels === 1 || channels === 4)
}
