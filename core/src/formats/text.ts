import { strFromU8, strToU8 } from 'fflate'
import { FormatError } from '../errors.ts'

/** UTF-8 bytes of a text. */
export const toUtf8 = (text: string): Uint8Array => strToU8(text)

/**
 * Text of UTF-8 bytes.
 * @throws {FormatError} If the bytes are not UTF-8: what was read, written again, differs.
 */
export function fromUtf8(bytes: Uint8Array, format: string, offset: number): string {
  let text: string
  try {
    text = strFromU8(bytes)
  } catch (cause) {
    throw new FormatError(format, offset, 'UTF-8 text', { cause })
  }
  const again = strToU8(text)
  if (again.length !== bytes.length || again.some((byte, i) => byte !== bytes[i])) {
    throw new FormatError(format, offset, 'UTF-8 text')
  }
  return text
}

/** Text of bytes that older tools wrote without saying how: UTF-8 where it is, else Latin-1. */
export function fromUtf8OrLatin1(bytes: Uint8Array): string {
  try {
    return fromUtf8(bytes, 'text', 0)
  } catch (error) {
    if (error instanceof FormatError) return strFromU8(bytes, true)
    throw error
  }
}

// biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are exactly what is taken out
const CONTROL = /[\u0000-\u001f\u007f]/g

/** A text on one line: control characters become spaces, ends trimmed, cut to `maxChars`. */
export function toOneLine(text: string, maxChars: number): string {
  return [...text.replace(CONTROL, ' ').replace(/\s+/g, ' ').trim()].slice(0, maxChars).join('')
}
