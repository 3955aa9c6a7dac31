import fc from 'fast-check'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { drawLine, type Line, setText } from './set-text.ts'

const textOf = ({ runs }: Line) => runs.map(({ text }) => text).join('')
const fontsOf = ({ runs }: Line) => runs.map(({ of }) => of.key)

describe('setting a text', () => {
  it('breaks between words, and inside one that is wider than a line', () => {
    const lines = setText('text', 'A long stroke of a wide brush', 6)
    expect(lines.map(textOf).join(' ')).toBe('A long stroke of a wide brush')
    for (const { widthEm } of lines) expect(widthEm).toBeLessThanOrEqual(6)
    const one = setText('text', 'Saltmarshsaltmarshsaltmarsh', 4)
    expect(one.length).toBeGreaterThan(2)
    expect(one.map(textOf).join('')).toBe('Saltmarshsaltmarshsaltmarsh')
  })

  it('takes each letter from the first font that has it, with all its marks', () => {
    expect(fontsOf(setText('text', 'Ried')[0] as Line)).toEqual(['hanken-grotesk-latin-400'])
    expect(fontsOf(setText('title', 'Ried')[0] as Line)).toEqual(['fraunces-latin-600'])
    expect(fontsOf(setText('text', 'Schilf 葦')[0] as Line)).toEqual(['hanken-grotesk-latin-400', 'unifont-latin-400'])
    expect(fontsOf(setText('text', 'قصب')[0] as Line)).toEqual(['noto-sans-arabic-arabic-400'])
    // e with a stroke through it and two marks: one letter, one font
    expect((setText('text', 'q\u0308\u20dd')[0] as Line).runs).toHaveLength(1)
  })

  it('breaks between signs of a script that is written without spaces', () => {
    const lines = setText('text', '葦原の岸辺の砂', 3.2)
    expect(lines.map(textOf)).toEqual(['葦原の', '岸辺の', '砂'])
  })

  it('sets what runs from right to left from the right, numbers and Latin words within it from the left', () => {
    // UAX #9: in a paragraph from the left the Hebrew words change places, and so do their letters
    const turned = (word: string) => [...word].reverse().join('')
    expect(textOf(setText('text', 'Reed חול ים 12')[0] as Line)).toBe(`Reed 12 ${turned('ים')} ${turned('חול')}`)
    expect(textOf(setText('text', 'חול Reed ים')[0] as Line)).toBe(`${turned('ים')} Reed ${turned('חול')}`)
    expect(textOf(setText('text', 'חול (ים)')[0] as Line)).toBe(`(${turned('ים')}) ${turned('חול')}`)
    // a font with rules for its letters turns them itself: they are joined in the order in which they are read
    expect(textOf(setText('text', 'قصب')[0] as Line)).toBe('قصب')
  })

  it('shows a sign that no font has as one that is not known', () => {
    expect(textOf(setText('text', 'a\u{1f58c}b')[0] as Line)).toBe('a\ufffdb')
  })

  it('loses no letter, whatever is written', () => {
    fc.assert(
      fc.property(
        fc
          .array(fc.constantFrom('a', 'Reed', ' ', '葦', 'ים', 'قصب', '12', '(', ')', '\n', 'é', '-'))
          .map((a) => a.join('')),
        fc.integer({ min: 2, max: 12 }),
        (text, width) => {
          const letters = (of: string) => [...of.replace(/\s/g, '')].sort().join('')
          const lines = setText('text', text, width)
          // brackets change their side where they are read from the right
          expect(letters(lines.map(textOf).join('')).replace(/[()]/g, '')).toBe(letters(text).replace(/[()]/g, ''))
          for (const line of lines) if (line.runs.length > 1) expect(line.widthEm).toBeLessThanOrEqual(width + 1e-9)
        },
      ),
    )
  })

  it('draws a line as outlines as wide as it was measured', async () => {
    const [line] = setText('title', 'Saltmarsh')
    if (!line) throw new Error('no line')
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="800" height="200">${drawLine(line, { x: 100, y: 140, sizePx: 100 })}</svg>`
    const { info } = await sharp(Buffer.from(svg)).trim().toBuffer({ resolveWithObject: true })
    expect(info.width).toBeGreaterThan(line.widthEm * 100 - 12)
    expect(info.width).toBeLessThan(line.widthEm * 100 + 4)
    expect(-(info.trimOffsetLeft ?? 0)).toBeGreaterThanOrEqual(100)
  })
})
