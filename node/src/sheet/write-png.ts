import type { Chapter } from '@satchel/core/sheet/contents'
import sharp from 'sharp'
import type { Face } from '../lettering/fonts.ts'
import { drawLine, setText } from '../lettering/set-text.ts'
import { PICTURE, PICTURE_STROKE } from './paper.ts'

const ROW_GAP = 36
const { widthPx: WIDTH, marginPx: MARGIN, gutterPx: GUTTER, columns: COLUMNS } = PICTURE
const COLUMN = PICTURE_STROKE.width

type Letters = { face: Face; sizePx: number; leadPx: number; fill: string }
const TITLE: Letters = { face: 'title', sizePx: 54, leadPx: 66, fill: '#1e1e1e' }
const FACT: Letters = { face: 'text', sizePx: 24, leadPx: 34, fill: '#4a4a4a' }
const NAME: Letters = { face: 'strong', sizePx: 24, leadPx: 32, fill: '#1e1e1e' }
const SMALL: Letters = { face: 'text', sizePx: 18, leadPx: 25, fill: '#4a4a4a' }

type Drawn = { svg: string; heightPx: number }

function draw(
  { face, sizePx, leadPx, fill }: Letters,
  text: string,
  at: { x: number; y: number; width: number },
): Drawn {
  const lines = setText(face, text, at.width / sizePx)
  const paths = lines.map((line, i) => drawLine(line, { x: at.x, y: at.y + i * leadPx + leadPx * BASE_LINE, sizePx }))
  return { svg: `<g fill="${fill}">${paths.join('')}</g>`, heightPx: lines.length * leadPx }
}
const BASE_LINE = 0.78

/**
 * One set as a picture: its name, and every stroke with what it is called.
 *
 * @param strokes Of each brush by its id, as PNG of `PICTURE_STROKE`.
 * @returns A PNG on white, 1600 px wide and as high as it has to be.
 */
export async function writeSheetPng(
  { name, brushes }: Chapter,
  facts: string,
  strokes: (brushId: string) => Promise<Uint8Array>,
): Promise<Uint8Array> {
  const svgs: string[] = []
  let top = MARGIN
  const put = (letters: Letters, text: string, at: { x: number; y: number; width: number }) => {
    const { svg, heightPx } = draw(letters, text, at)
    svgs.push(svg)
    return heightPx
  }
  const wide = WIDTH - 2 * MARGIN
  top += put(TITLE, name, { x: MARGIN, y: top, width: wide })
  top += put(FACT, facts, { x: MARGIN, y: top, width: wide }) + ROW_GAP
  const pictures: { input: Buffer; left: number; top: number }[] = []
  for (let from = 0; from < brushes.length; from += COLUMNS) {
    let deepest = 0
    for (const [column, brush] of brushes.slice(from, from + COLUMNS).entries()) {
      const x = MARGIN + column * (COLUMN + GUTTER)
      pictures.push({ input: Buffer.from(await strokes(brush.id)), left: x, top })
      let under = top + PICTURE_STROKE.height
      under += put(NAME, brush.name, { x, y: under, width: COLUMN })
      under += put(SMALL, brush.facts, { x, y: under, width: COLUMN })
      if (brush.note !== '') under += put(SMALL, brush.note, { x, y: under, width: COLUMN })
      deepest = Math.max(deepest, under)
    }
    top = deepest + ROW_GAP
  }
  const height = Math.ceil(top - ROW_GAP + MARGIN)
  const letters = `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${height}">${svgs.join('')}</svg>`
  return sharp({ create: { width: WIDTH, height, channels: 3, background: '#ffffff' } })
    .composite([...pictures, { input: Buffer.from(letters), left: 0, top: 0 }])
    .png({ compressionLevel: 6 })
    .toBuffer()
}
