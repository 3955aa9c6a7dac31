import type { Writable } from 'node:stream'
import { finished } from 'node:stream/promises'
import type { Sheet } from '@satchel/core/sheet/contents'
import PDFDocument from 'pdfkit'
import { setText } from '../lettering/set-text.ts'
import { GAP, MARGIN, MM, PAPERS, type Paper, RULE_UP, STROKE, TIP, WORDS_LEFT } from './paper.ts'
import { type Block, type Item, type Plan, planPages } from './plan-pages.ts'

/** The pictures of a sheet as PNG, without transparency: of each brush by its id, and the cover where there is one. */
export type SheetPictures = {
  stroke(brushId: string): Promise<Uint8Array>
  tip(brushId: string): Promise<Uint8Array>
  cover?: Uint8Array | undefined
}

type Options = {
  paper: Paper
  pictures: SheetPictures
  signal?: AbortSignal | undefined
  /** Told after each brush how many are through. */
  onBrush?: (done: number) => void
}

type Doc = InstanceType<typeof PDFDocument>
type Struct = ReturnType<Doc['struct']>

/** The same sheet is the same file, whenever it is printed: it says the time that files in a pack have, too. */
const TIME = new Date('1980-01-01T00:00:00Z')
const COVER_RATIO = 900 / 1600
const LINE_GREY = 0.75
const NUMBER: Omit<Block, 'lines'> = { face: 'text', sizePt: 8, leadPt: 10, indentPt: 0, grey: 0.3 }
/** Where letters stand in their line, from its top. */
const BASE_LINE = 0.78

/**
 * Writes a sheet as a PDF, page after page as they are drawn: pictures are not held. It is tagged for what reads it aloud, has
 * bookmarks and links, and our own letters within it.
 *
 * Source: ISO 32000-1; of PDF/UA-1 (ISO 14289-1) what the library can: tags, language, title, words for pictures.
 */
export async function writeSheetPdf(out: Writable, sheet: Sheet, options: Options): Promise<void> {
  const { paper, pictures, signal, onBrush } = options
  const { width, height } = PAPERS[paper]
  const plan = planPages(sheet, paper)
  const doc = new PDFDocument({
    size: [width, height],
    margin: 0,
    autoFirstPage: false,
    font: '', // none but our own
    tagged: true,
    pdfVersion: '1.7',
    lang: 'en',
    displayTitle: true,
    info: { Title: sheet.title, Creator: 'Gentle Satchel', Producer: 'Gentle Satchel', CreationDate: TIME },
  })
  const written = finished(doc.pipe(out))
  written.catch(() => undefined) // heard below, also where drawing fails first
  const root = doc.struct('Document')
  doc.addStructure(root)
  doc.addPage()
  inSection(doc, root, (section) => drawCover(doc, section, { plan, cover: pictures.cover }))
  let section = root
  let chapter = 0
  let done = 0
  for (const [i, page] of plan.pages.entries()) {
    signal?.throwIfAborted()
    doc.addPage()
    if (i === 0 || page.some(({ what }) => what === 'chapter')) {
      if (section !== root) section.end()
      section = doc.struct('Sect')
      root.add(section)
    }
    for (const item of page) {
      if (item.what === 'brush') {
        signal?.throwIfAborted()
        await drawBrush(doc, section, { item, pictures, width })
        onBrush?.(++done)
      } else if (item.what === 'chapter') drawChapter(doc, section, { item, name: chapterName(chapter++) })
      else if (item.what === 'entry') drawEntry(doc, section, { item, width })
      else
        section.add(
          doc.struct(item.tag === 'LI' ? 'P' : item.tag, {}, () => drawBlock(doc, item.block, MARGIN, item.top)),
        )
    }
    drawNumber(doc, i + 1, { width, height })
  }
  if (section !== root) section.end()
  root.end()
  doc.end()
  await written
}

const chapterName = (i: number) => `chapter-${i + 1}`

function inSection(doc: Doc, root: Struct, draw: (section: Struct) => void): void {
  const section = doc.struct('Sect')
  root.add(section)
  draw(section)
  section.end()
}

/** Set lines, letter by letter where each font has them. */
function drawBlock(doc: Doc, { lines, sizePt, leadPt, indentPt, grey }: Block, left: number, top: number): void {
  doc.fillColor(greyOf(grey)).fontSize(sizePt)
  for (const [i, { runs }] of lines.entries()) {
    let x = left + indentPt
    for (const { of, text, widthEm } of runs) {
      // the font as it is open: the types of the library know only files
      doc.font(of.font as unknown as string)
      doc.text(text, x, top + (i + BASE_LINE) * leadPt, { lineBreak: false, baseline: 'alphabetic' })
      x += widthEm * sizePt
    }
  }
}

const greyOf = (share: number): [number, number, number] => {
  const level = Math.round(share * 255)
  return [level, level, level]
}
const heightOf = ({ lines, leadPt }: Block) => lines.length * leadPt

/** What means nothing when it is read aloud. */
function drawAside(doc: Doc, draw: () => void, kind: 'Layout' | 'Pagination' = 'Layout'): void {
  doc.markContent('Artifact', { type: kind })
  draw()
  doc.endMarkedContent()
}

function drawCover(doc: Doc, section: Struct, { plan, cover }: { plan: Plan; cover: Uint8Array | undefined }): void {
  const width = doc.page.width - 2 * MARGIN
  let top = MARGIN + 20 * MM
  if (cover) {
    section.add(
      doc.struct('Figure', { alt: 'Cover' }, () =>
        doc.image(Buffer.from(cover), MARGIN, MARGIN, { width, height: width * COVER_RATIO }),
      ),
    )
    top = MARGIN + width * COVER_RATIO + 14 * MM
  }
  section.add(doc.struct('H1', {}, () => drawBlock(doc, plan.title, MARGIN, top)))
  top += heightOf(plan.title) + 4 * MM
  drawAside(doc, () => {
    doc.lineWidth(1).strokeColor(greyOf(0)).dash(5, { space: 4 })
    doc
      .moveTo(MARGIN, top)
      .lineTo(MARGIN + width, top)
      .stroke()
      .undash()
  })
  top += 6 * MM
  for (const fact of plan.facts) {
    section.add(doc.struct('P', {}, () => drawBlock(doc, fact, MARGIN, top)))
    top += heightOf(fact)
  }
}

type Of<What extends Item['what']> = Extract<Item, { what: What }>

function drawChapter(doc: Doc, section: Struct, { item, name }: { item: Of<'chapter'>; name: string }): void {
  doc.addNamedDestination(name, 'XYZ', 0, item.top, null)
  doc.outline.addItem(item.name)
  section.add(doc.struct('H1', {}, () => drawBlock(doc, item.block, MARGIN, item.top)))
}

/** A line of the contents: a chapter, and the number of its page, both a link to it. */
function drawEntry(doc: Doc, section: Struct, { item, width }: { item: Of<'entry'>; width: number }): void {
  const number = { ...item.block, lines: setText('text', String(item.page)) }
  const right = width - MARGIN - (number.lines[0]?.widthEm ?? 0) * number.sizePt
  const link = doc.struct('Link', { alt: `Page ${item.page}` })
  section.add(link)
  link.add(() => {
    drawBlock(doc, item.block, MARGIN, item.top)
    drawBlock(doc, number, right, item.top)
  })
  doc.goTo(MARGIN, item.top, width - 2 * MARGIN, heightOf(item.block), chapterName(item.chapter), {
    structParent: link,
  } as object)
  link.end()
}

type BrushLine = { item: Of<'brush'>; pictures: SheetPictures; width: number }

async function drawBrush(doc: Doc, section: Struct, { item, pictures, width }: BrushLine): Promise<void> {
  const { brush, top, heightPt, blocks } = item
  const [tip, stroke] = await Promise.all([pictures.tip(brush.id), pictures.stroke(brush.id)])
  const part = doc.struct('Sect')
  section.add(part)
  const figure = (alt: string, png: Uint8Array, left: number, size: { width: number; height: number }) =>
    part.add(doc.struct('Figure', { alt }, () => doc.image(Buffer.from(png), left, top, size)))
  figure(`Tip of ${brush.name}`, tip, MARGIN, { width: TIP, height: TIP })
  figure(`Stroke of ${brush.name}`, stroke, MARGIN + TIP + GAP, STROKE)
  let under = top
  for (const [i, each] of blocks.entries()) {
    const at = under
    part.add(doc.struct(i === 0 ? 'H2' : 'P', {}, () => drawBlock(doc, each, WORDS_LEFT, at)))
    under += heightOf(each)
  }
  part.end()
  drawAside(doc, () => {
    const y = top + heightPt - RULE_UP
    doc
      .lineWidth(0.5)
      .strokeColor(greyOf(LINE_GREY))
      .moveTo(MARGIN, y)
      .lineTo(width - MARGIN, y)
      .stroke()
  })
}

function drawNumber(doc: Doc, page: number, { width, height }: { width: number; height: number }): void {
  const block = { ...NUMBER, lines: setText('text', String(page)) }
  const wide = (block.lines[0]?.widthEm ?? 0) * block.sizePt
  drawAside(doc, () => drawBlock(doc, block, (width - wide) / 2, height - MARGIN - NUMBER.leadPt), 'Pagination')
}
