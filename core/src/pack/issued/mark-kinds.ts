import * as v from 'valibot'
import { type Crc32, crc32 as plainCrc32 } from '../../formats/crc32.ts'
import { writeChunk } from '../../formats/png/chunk.ts'
import { readText, textData } from '../../formats/png/text.ts'
import { toUtf8 } from '../../formats/text.ts'
import { MANIFEST_PATH } from '../manifest.ts'
import { STEPS_PATH } from '../parts.ts'
import { HELP_PATH, README_PATH } from '../write.ts'
import { CopyMark, MARK_BEGINS, MARK_MAX_CHARS, markLines, readMarkLines } from './mark.ts'

/** Where a mark stands in a file, and what it says. */
export type FoundMark = { at: number; length: number; mark: CopyMark }

/** How files of a kind carry a mark: always at one place near their end, so that all before it stays as it is. */
type MarkKind = {
  isFor(path: string): boolean
  /** How many bytes stand behind the mark. */
  tailBytes: number
  write(mark: CopyMark, crc32: Crc32): Uint8Array
  find(bytes: Uint8Array): FoundMark | undefined
}

const utf8 = new TextDecoder()
const hasExtension = (extension: string) => (path: string) => path.toLowerCase().endsWith(extension)
/** Bytes of the longest mark with all that is around it: a sign has four at most, and may be written as six signs. */
const LONGEST = 8 * MARK_MAX_CHARS

/** The last place where some ASCII text begins, and all from there on; within reach of the end. */
function fromLast(bytes: Uint8Array, begin: string): { at: number; text: string } | undefined {
  const from = Math.max(0, bytes.length - LONGEST)
  const near = Array.from(bytes.subarray(from), (byte) => String.fromCharCode(byte)).join('')
  const at = near.lastIndexOf(begin)
  return at < 0 ? undefined : { at: from + at, text: utf8.decode(bytes.subarray(from + at)) }
}

/** A mark of lines with something before the first, between two, and behind the last. */
function asLines({
  open,
  close,
  begin = '',
  hide = (text) => text,
  show = (text) => text,
}: {
  open: string
  close: string
  /** What each line begins with. */
  begin?: string
  /** Writes a line so that nothing in it ends the comment it stands in, and reads it again. */
  hide?: (text: string) => string
  show?: (text: string) => string
}): Pick<MarkKind, 'tailBytes' | 'write' | 'find'> {
  const first = `${open}${begin}${MARK_BEGINS}`
  return {
    tailBytes: 0,
    write: (mark) =>
      toUtf8(
        `${open}${markLines(mark)
          .map((line) => `${begin}${hide(line)}\n`)
          .join('')}${close}`,
      ),
    find(bytes) {
      const found = fromLast(bytes, first)
      if (!found?.text.endsWith(`\n${close}`)) return undefined
      const lines = found.text.slice(open.length, -1 - close.length).split('\n')
      const mark = readMarkLines(lines.map((line) => show(line.slice(begin.length))))
      return mark && { at: found.at, length: bytes.length - found.at, mark }
    },
  }
}

const PNG_KEYWORD = 'Copy'
/** The chunk that ends a PNG: it has no content, so it is always the same 12 bytes. */
const PNG_END_BYTES = 12
const JSON_BEGINS = ',\n "issued": '
const JSON_END = '\n}\n'

/** One row a kind of file that a mark stands in. What is in none of them, like an open brush file, has no place for one. */
export const MARK_KINDS = {
  /** An iTXt chunk before the last one: names have letters of any script (W3C PNG, 11.3.3.4). */
  picture: {
    isFor: hasExtension('.png'),
    tailBytes: PNG_END_BYTES,
    write: (mark, crc32) => writeChunk('iTXt', textData(PNG_KEYWORD, markLines(mark).join('\n')), crc32),
    find(bytes) {
      const found = fromLast(bytes.subarray(0, Math.max(0, bytes.length - PNG_END_BYTES)), `iTXt${PNG_KEYWORD}\0`)
      if (!found) return undefined
      const at = found.at - 4
      const length = bytes.length - PNG_END_BYTES - at
      if (at < 0 || new DataView(bytes.buffer, bytes.byteOffset + at).getUint32(0) !== length - 12) return undefined
      const text = readText('iTXt', bytes.subarray(at + 8, at + length - 4))?.text
      const mark = text === undefined ? undefined : readMarkLines(text.split('\n'))
      return mark && { at, length, mark }
    },
  },
  /** The last member of the manifest. */
  manifest: {
    isFor: (path) => path === MANIFEST_PATH,
    tailBytes: JSON_END.length,
    write: (mark) => toUtf8(`${JSON_BEGINS}${JSON.stringify(mark)}`),
    find(bytes) {
      const found = fromLast(bytes, JSON_BEGINS)
      if (!found?.text.endsWith(JSON_END)) return undefined
      const said = found.text.slice(JSON_BEGINS.length, -JSON_END.length)
      try {
        const mark = v.safeParse(CopyMark, JSON.parse(said))
        const length = bytes.length - JSON_END.length - found.at
        return mark.success ? { at: found.at, length, mark: mark.output } : undefined
      } catch {
        return undefined
      }
    },
  },
  /** Lines at the end, for people. */
  text: {
    isFor: (path) => [README_PATH, STEPS_PATH].includes(path),
    ...asLines({ open: '\n', close: '' }),
  },
  /** A comment at the end (HTML, 13.1.6): two dashes may not stand in it. */
  page: {
    isFor: (path) => path === HELP_PATH || hasExtension('.html')(path),
    ...asLines({
      open: '<!--\n',
      close: '-->\n',
      hide: (text) => text.replaceAll('&', '&amp;').replaceAll('--', '-&#45;'),
      show: (text) => text.replaceAll('&#45;', '-').replaceAll('&amp;', '&'),
    }),
  },
  /** Comment lines behind the end of a PDF (ISO 32000-1, 7.2.3); readers look for that end from the back. */
  print: { isFor: hasExtension('.pdf'), ...asLines({ open: '% A copy\n', close: '', begin: '% ' }) },
} as const satisfies Record<string, MarkKind>
export type MarkKindName = keyof typeof MARK_KINDS
export const MARK_KIND_NAMES = Object.keys(MARK_KINDS) as MarkKindName[]

/** How a file carries a mark; nothing where it has no place for one. */
export const markKindOf = (path: string): MarkKindName | undefined =>
  MARK_KIND_NAMES.find((name) => MARK_KINDS[name].isFor(path))

/** A file with a mark put into it. */
export function putMark(path: string, bytes: Uint8Array, mark: CopyMark, crc32: Crc32 = plainCrc32): Uint8Array {
  const name = markKindOf(path)
  if (name === undefined) return bytes
  const { tailBytes, write } = MARK_KINDS[name]
  const said = write(mark, crc32)
  const out = new Uint8Array(bytes.length + said.length)
  const at = bytes.length - tailBytes
  out.set(bytes.subarray(0, at))
  out.set(said, at)
  out.set(bytes.subarray(at), at + said.length)
  return out
}

/** The mark in a file, and the file as it was without it. */
export function takeMark(path: string, bytes: Uint8Array): { mark: CopyMark; bytes: Uint8Array } | undefined {
  const name = markKindOf(path)
  const found = name && MARK_KINDS[name].find(bytes)
  if (!found) return undefined
  const { at, length, mark } = found
  const out = new Uint8Array(bytes.length - length)
  out.set(bytes.subarray(0, at))
  out.set(bytes.subarray(at + length), at)
  return { mark, bytes: out }
}
