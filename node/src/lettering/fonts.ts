import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { create, type Font } from 'fontkit'
import { unpackWoff } from './woff.ts'

const resolve = createRequire(import.meta.url).resolve

/** What letters are set in: titles, names and headings, everything else. */
export type Face = 'title' | 'strong' | 'text'

const files = (family: string, weight: number, subsets: readonly string[]) =>
  subsets.map((subset) => `@fontsource/${family}/files/${family}-${subset}-${weight}-normal.woff`)
const EUROPE = ['latin', 'latin-ext', 'vietnamese']
/**
 * For what our own letters do not have: Arabic, whose letters join, and one font of all others. It draws every script of
 * Unicode's first plane, though not as its readers would set it: letters of Indic scripts stand beside one another.
 */
const OTHERS = [
  ...files('noto-sans-arabic', 400, ['arabic']),
  '@fontsource/unifont/files/unifont-latin-400-normal.woff',
]

/** The files of each face, in the order they are asked for a letter. */
const FACES: Record<Face, readonly string[]> = {
  title: [...files('fraunces', 600, EUROPE), ...OTHERS],
  strong: [...files('hanken-grotesk', 600, [...EUROPE, 'cyrillic-ext']), ...OTHERS],
  text: [...files('hanken-grotesk', 400, [...EUROPE, 'cyrillic-ext']), ...OTHERS],
}

/** A font of a file; `key` names it. `turns` says whether it sets what runs from right to left in that order by itself. */
export type LetterFont = { key: string; font: Font; turns: boolean }

const opened = new Map<string, LetterFont>()

/** Fonts are opened when they are first needed: the one of all scripts takes a tenth of a second. */
function openFont(file: string): LetterFont {
  const known = opened.get(file)
  if (known) return known
  const font = create(unpackWoff(readFileSync(resolve(file))))
  if (!('layout' in font)) throw new Error(`${file} holds several fonts`)
  const made = {
    key: /([^/]+)-normal\.woff$/.exec(file)?.[1] ?? file,
    font: font as Font,
    turns: turnsAround(font as Font),
  }
  opened.set(file, made)
  return made
}

/** Fonts with rules for setting letters turn them around; in others they stay in the order in which they are read. */
function turnsAround(font: Font): boolean {
  const two = RIGHT_TO_LEFT.find((letters) =>
    [...letters].every((letter) => font.hasGlyphForCodePoint(letter.charCodeAt(0))),
  )
  return two !== undefined && font.layout(two).glyphs[0]?.codePoints[0] === two.charCodeAt(1)
}
/** Two letters each, which do not join, of scripts that run from right to left. */
const RIGHT_TO_LEFT = ['\u05d0\u05d1', '\u062f\u0631']

/** What the fonts draw in the place of a sign that none of them has. */
export const UNKNOWN_SIGN = '\ufffd'

/** The font that has all signs of a letter with its marks; undefined where none has. */
export function fontOf(face: Face, letter: string): LetterFont | undefined {
  const points = [...letter].map((sign) => sign.codePointAt(0) ?? 0)
  for (const file of FACES[face]) {
    const found = openFont(file)
    if (points.every((point) => found.font.hasGlyphForCodePoint(point))) return found
  }
  return undefined
}
