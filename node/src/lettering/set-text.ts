import bidiFactory from 'bidi-js'
import { type Face, fontOf, type LetterFont, UNKNOWN_SIGN } from './fonts.ts'

/** Letters of one font in one direction, as they stand beside one another. */
export type Run = { of: LetterFont; text: string; widthEm: number }
/** A line of text, its runs from left to right. */
export type Line = { runs: Run[]; widthEm: number }

const bidi = bidiFactory()
const letters = new Intl.Segmenter('und', { granularity: 'grapheme' })
/** Signs between which a line may break without a space; common practice. */
const BREAKS_ANYWHERE =
  /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}\p{Script=Thai}\p{Script=Lao}\p{Script=Khmer}\p{Script=Myanmar}]/u

/** A letter with its marks: where it stands in the text, its font, whether it runs from right to left. */
type Letter = { at: number; text: string; of: LetterFont; level: number; isSpace: boolean }

/**
 * Sets a text in lines no wider than asked for. A word that is wider than a line is broken.
 *
 * @param widthEm The width of a line, in sizes of the letters; without one it is one line.
 */
export function setText(face: Face, text: string, widthEm = Number.POSITIVE_INFINITY): Line[] {
  return text.split('\n').flatMap((paragraph) => setParagraph(face, paragraph, widthEm))
}

function setParagraph(face: Face, text: string, widthEm: number): Line[] {
  const all = toLetters(face, text)
  if (all.length === 0) return [{ runs: [], widthEm: 0 }]
  const lines: Line[] = []
  let line: Letter[] = []
  let wide = 0
  const end = () => {
    while (line.at(-1)?.isSpace) line.pop()
    lines.push(toLine(line))
    line = []
    wide = 0
  }
  for (const word of toWords(all)) {
    const width = widthOf(word)
    if (line.length > 0 && wide + widthOf(trimmed(word)) > widthEm) end()
    if (width <= widthEm || word.length === 1) {
      if (line.length === 0 && word.every(({ isSpace }) => isSpace)) continue
      line.push(...word)
      wide += width
      continue
    }
    for (const letter of word) {
      const one = widthOf([letter])
      if (line.length > 0 && wide + one > widthEm) end()
      line.push(letter)
      wide += one
    }
  }
  end()
  return lines
}

const trimmed = (word: readonly Letter[]) => word.filter(({ isSpace }) => !isSpace)

function toLetters(face: Face, text: string): Letter[] {
  const { levels } = bidi.getEmbeddingLevels(text)
  const mirrored = bidi.getMirroredCharactersMap(text, levels)
  const unknown = fontOf(face, UNKNOWN_SIGN)
  let before: LetterFont | undefined
  return [...letters.segment(text)].flatMap(({ segment, index }): Letter[] => {
    const shown = mirrored.get(index) ?? segment
    const isSpace = /^\s+$/.test(segment)
    // a space goes with the word before it, whatever font that is in
    const of = (isSpace && before) || fontOf(face, shown)
    const level = levels[index] ?? 0
    if (of) before = of
    if (of) return [{ at: index, text: isSpace ? ' ' : shown, of, level, isSpace }]
    return unknown ? [{ at: index, text: UNKNOWN_SIGN, of: unknown, level, isSpace }] : []
  })
}

/** Words with the spaces behind them: between any two a line may end. */
function toWords(all: readonly Letter[]): Letter[][] {
  const words: Letter[][] = []
  for (const letter of all) {
    const word = words.at(-1)
    const last = word?.at(-1)
    const mayBreak =
      last && !letter.isSpace && (last.isSpace || BREAKS_ANYWHERE.test(last.text) || BREAKS_ANYWHERE.test(letter.text))
    if (!word || mayBreak) words.push([letter])
    else word.push(letter)
  }
  return words
}

/** Measured run by run: letters that follow one another may be set closer. */
const widthOf = (some: readonly Letter[]) => toRuns(some).reduce((sum, { widthEm }) => sum + widthEm, 0)

/** Letters that are set together: of one font and level, and of one word where they run from right to left. */
function toRuns(some: readonly Letter[]): (Run & { level: number })[] {
  const runs: (Run & { level: number; isSpace: boolean })[] = []
  for (const { text, of, level, isSpace } of some) {
    const run = runs.at(-1)
    const joins = run && run.of === of && run.level === level && (level % 2 === 0 || run.isSpace === isSpace)
    const isTurned = level % 2 === 1 && !of.turns
    if (joins) run.text = isTurned ? text + run.text : run.text + text
    else runs.push({ of, text, level, isSpace, widthEm: 0 })
  }
  return runs.map((run) => ({ ...run, widthEm: measure(run) }))
}

const measure = ({ of, text }: Pick<Run, 'of' | 'text'>) => of.font.layout(text).advanceWidth / of.font.unitsPerEm

/** Runs from left to right: those of a level and above are turned around, from the deepest level up (UAX #9, rule L2). */
function toLine(some: readonly Letter[]): Line {
  const runs = toRuns(some)
  const deepest = Math.max(0, ...runs.map(({ level }) => level))
  for (let level = deepest; level > 0; level--) {
    for (let from = 0; from < runs.length; from++) {
      let to = from
      while (to < runs.length && (runs[to]?.level ?? 0) >= level) to++
      if (to > from + 1) runs.splice(from, to - from, ...runs.slice(from, to).reverse())
      from = to
    }
  }
  return {
    runs: runs.map(({ of, text, widthEm }) => ({ of, text, widthEm })),
    widthEm: runs.reduce((sum, { widthEm }) => sum + widthEm, 0),
  }
}

/**
 * A line as the outline of its letters, for a picture.
 *
 * @param at Where its first letter stands on its base line, and its size, px.
 * @returns Paths in SVG.
 */
export function drawLine({ runs }: Line, { x, y, sizePx }: { x: number; y: number; sizePx: number }): string {
  let left = x
  return runs
    .flatMap(({ of, text }) => {
      const { glyphs, positions } = of.font.layout(text)
      const scale = sizePx / of.font.unitsPerEm
      return glyphs.map((glyph, i) => {
        const { xAdvance = 0, xOffset = 0, yOffset = 0 } = positions[i] ?? {}
        const place = `translate(${round(left + xOffset * scale)} ${round(y - yOffset * scale)}) scale(${scale} ${-scale})`
        left += xAdvance * scale
        return `<path transform="${place}" d="${glyph.path.toSVG()}"/>`
      })
    })
    .join('')
}

const round = (px: number) => Math.round(px * 100) / 100
