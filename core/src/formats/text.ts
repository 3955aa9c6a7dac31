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

/** Text of Latin-1 bytes. */
export const fromLatin1 = (bytes: Uint8Array): string => strFromU8(bytes, true)

/**
 * What no name may hold: control characters, line and paragraph ends, marks that turn the direction of writing about, and
 * characters without any width (Unicode's categories Cc, Zl, Zp and the bidi and zero-width ones of Cf).
 */
const UNSEEN = String.raw`\u0000-\u001f\u007f-\u009f\u00ad\u200b\u200e\u200f\u2028-\u202e\u2060-\u2064\u2066-\u206f\ufeff`
const UNSEEN_ANY = new RegExp(`[${UNSEEN}]`)
const UNSEEN_ALL = new RegExp(`[${UNSEEN}]`, 'g')

/** Whether a text holds characters that nobody sees, or that change how the others are shown. */
export const hasUnseen = (text: string): boolean => UNSEEN_ANY.test(text)

/** A text with a question mark in the place of what nobody would see; to be shown in messages. */
export const showUnseen = (text: string): string => text.replace(UNSEEN_ALL, '?')

/** A text on one line: what nobody sees becomes a space, ends trimmed, cut to `maxChars` characters. */
export function toOneLine(text: string, maxChars: number): string {
  return [...text.replace(UNSEEN_ALL, ' ').replace(/\s+/g, ' ').trim()].slice(0, maxChars).join('')
}

/** A text without the given signs at its ends, however many there are; in one pass from each end. */
export function trimSigns(text: string, signs: string, ends: 'both' | 'last' = 'both'): string {
  let [from, to] = [0, text.length]
  while (ends === 'both' && from < to && signs.includes(text[from])) from++
  while (to > from && signs.includes(text[to - 1])) to--
  return text.slice(from, to)
}

/** A file's name without what stands behind its last dot. */
export const withoutExtension = (name: string): string =>
  name.includes('.') ? name.slice(0, name.lastIndexOf('.')) : name

/** What two names must not share if they are to lie in one folder on any system: case and Unicode form do not count. */
export const toNameKey = (name: string): string => name.normalize('NFC').toLowerCase().normalize('NFC')

const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' }

/** A text as it stands in XML 1.0 and HTML, also within an attribute; what XML has no way to say is left out. */
export const toMarkup = (text: string): string =>
  text.replace(/[\p{Cc}\ufffe\uffff]/gu, '').replace(/[&<>"]/g, (sign) => ENTITIES[sign] ?? '')
