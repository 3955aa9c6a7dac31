import { Unzlib } from 'fflate'
import { joinBytes } from '../bytes.ts'
import { fromLatin1, fromUtf8OrLatin1, toUtf8 } from '../text.ts'

const TEXT_MAX_BYTES = 65_536

/** The kinds of chunk that hold text (W3C PNG, section 11.3.3). */
export const TEXT_CHUNKS = ['tEXt', 'zTXt', 'iTXt'] as const
export type TextChunk = (typeof TEXT_CHUNKS)[number]

/** A text and what it is called; `text` is undefined where it could not be unpacked, or is too long for any text. */
type NamedText = { keyword: string; text: string | undefined }

/** Where the text of each kind begins behind the keyword's NUL, and how it is written. */
const READERS: Record<TextChunk, (rest: Uint8Array) => string | undefined> = {
  tEXt: (rest) => fromUtf8OrLatin1(rest), // Latin-1 by the specification; many writers put UTF-8 there
  // one byte says how it is packed
  zTXt: (rest) => {
    const text = unpackText(rest.subarray(1))
    return text && fromLatin1(text)
  },
  // whether it is packed, how, a language, the keyword in that language
  iTXt: (rest) => {
    const language = rest.indexOf(0, 2)
    const translated = language < 0 ? -1 : rest.indexOf(0, language + 1)
    if (translated < 0) return undefined
    const value = rest.subarray(translated + 1)
    const text = rest[0] === 1 ? unpackText(value) : value
    return text && fromUtf8OrLatin1(text)
  },
}

/** Bytes of a keyword (W3C PNG, section 11.3.3.2). */
const KEYWORD_MAX_BYTES = 79

/** Reads a chunk of text; undefined when it has no keyword. */
export function readText(type: TextChunk, data: Uint8Array): NamedText | undefined {
  const nul = data.subarray(0, KEYWORD_MAX_BYTES + 1).indexOf(0)
  if (nul < 1) return undefined
  if (data.length > TEXT_MAX_BYTES) return { keyword: fromUtf8OrLatin1(data.subarray(0, nul)), text: undefined }
  return { keyword: fromUtf8OrLatin1(data.subarray(0, nul)), text: READERS[type](data.subarray(nul + 1)) }
}

/** Packed bytes that are unpacked in one go: however well they are packed, what comes out of so few is soon looked at. */
const SLICE_BYTES = 256

/** Unpacks a text; undefined when it is damaged or unfolds to more than any text needs: no further is it unpacked. */
function unpackText(packed: Uint8Array): Uint8Array | undefined {
  const parts: Uint8Array[] = []
  let size = 0
  const unpacker = new Unzlib((part) => {
    parts.push(part)
    size += part.length
  })
  try {
    for (let at = 0; at < packed.length && size <= TEXT_MAX_BYTES; at += SLICE_BYTES)
      unpacker.push(packed.subarray(at, at + SLICE_BYTES), at + SLICE_BYTES >= packed.length)
  } catch (error) {
    // fflate marks what it finds wrong in its input by a numeric code
    if (error instanceof Error && 'code' in error) return undefined
    throw error
  }
  return size > TEXT_MAX_BYTES ? undefined : joinBytes(parts)
}

/** The content of an iTXt chunk: keyword, not packed, no language, UTF-8 text. */
export const textData = (keyword: string, text: string): Uint8Array =>
  joinBytes([toUtf8(keyword), new Uint8Array(5), toUtf8(text)])
