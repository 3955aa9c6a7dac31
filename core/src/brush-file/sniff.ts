import { hasBytesAt } from '../formats/bytes.ts'
import { MAGIC, OFFSET } from '../formats/gbr/layout.ts'
import { SIGNATURE as PNG_SIGNATURE } from '../formats/png/layout.ts'

/** What a file is by its content. `foreign` is everything this product has no business with. */
export type FileKind = 'png' | 'jpeg' | 'webp' | 'gbr' | 'gih' | 'zip' | 'foreign'

const ZIP_START = [0x50, 0x4b, 0x03, 0x04]
const ZIP_EMPTY = [0x50, 0x4b, 0x05, 0x06]
const JPEG_START = [0xff, 0xd8, 0xff]
const RIFF = [0x52, 0x49, 0x46, 0x46]
const WEBP = [0x57, 0x45, 0x42, 0x50]
const LINES_WITHIN_BYTES = 4096

/** Tells a file's kind from its first bytes, never from its name; `head` should hold at least 4 KiB where there are as many. */
export function sniffKind(head: Uint8Array): FileKind {
  if (hasBytesAt(head, 0, PNG_SIGNATURE)) return 'png'
  if (hasBytesAt(head, 0, JPEG_START)) return 'jpeg'
  if (hasBytesAt(head, 0, RIFF) && hasBytesAt(head, 8, WEBP)) return 'webp'
  if (hasBytesAt(head, 0, ZIP_START) || hasBytesAt(head, 0, ZIP_EMPTY)) return 'zip'
  if (looksLikeGbr(head, 0)) return 'gbr'
  if (looksLikeGih(head)) return 'gih'
  return 'foreign'
}

/** A plausible header size, version 1 or 2, and the magic for version 2 or a sane depth for version 1. */
function looksLikeGbr(head: Uint8Array, start: number): boolean {
  if (head.length < start + 20) return false
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength)
  const version = view.getUint32(start + OFFSET.version)
  if (version === 2) return head.length >= start + 28 && view.getUint32(start + OFFSET.magic) === MAGIC
  const channels = view.getUint32(start + OFFSET.channels)
  return version === 1 && view.getUint32(start) < LINES_WITHIN_BYTES + 20 && (channels === 1 || channels === 4)
}

/** A name line and a line that starts with a count, followed by pairs or a brush. */
function looksLikeGih(head: Uint8Array): boolean {
  const first = head.indexOf(10)
  if (first < 0 || first > LINES_WITHIN_BYTES) return false
  const second = head.indexOf(10, first + 1)
  if (second < 0) return false
  const line = String.fromCharCode(...head.subarray(first + 1, Math.min(second, first + 200)))
  return (
    /^\s*\d+(\s+[a-z0-9]+:\S|\s*\r?$)/.test(line) &&
    (/ncells:|dim:|rank0:/.test(line) || looksLikeGbr(head, second + 1))
  )
}
