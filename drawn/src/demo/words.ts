import { createRequire } from 'node:module'
import { toUtf8 } from '@satchel/core/formats/text'
import type { Written } from '@satchel/core/make/written'
import type { Pixels } from '@satchel/core/raster/pixels'
import { decodeDrawing } from '@satchel/node/photograph'
import * as fontkit from 'fontkit'

const FONT_FILE = '@fontsource-variable/fraunces/files/fraunces-latin-wght-normal.woff2'
/** Room around the words, and the height of their line, in heights of the letters. */
const MARGIN = 0.25
const LINE_HEIGHT = 1.25

/** The letters as the file has them: with feet, and as heavy as they go. */
export const DEMO_LETTERS = { letters: 'serif', weight: 900, spacing: 0 } as const satisfies Omit<Written, 'words'>

/** One line of words as the page writes it: black on nothing. */
export async function drawWords(words: string): Promise<Pixels> {
  const font = await fontkit.open(createRequire(import.meta.url).resolve(FONT_FILE))
  if (!('layout' in font)) throw new Error(`${FONT_FILE} holds several fonts`)
  const { glyphs, positions, advanceWidth } = font.layout(words)
  const unit = font.unitsPerEm
  let x = MARGIN * unit
  const paths = glyphs.map((glyph, i) => {
    const at = x
    x += positions[i]?.xAdvance ?? 0
    return `<path transform="translate(${at} ${(MARGIN + 1) * unit}) scale(1 -1)" d="${glyph.path.toSVG()}"/>`
  })
  const size = `viewBox="0 0 ${advanceWidth + 2 * MARGIN * unit} ${(LINE_HEIGHT + 2 * MARGIN) * unit}"`
  return decodeDrawing(toUtf8(`<svg xmlns="http://www.w3.org/2000/svg" ${size}>${paths.join('')}</svg>`))
}
