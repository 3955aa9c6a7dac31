import type { HelpNode, HelpTag } from '@satchel/core/help/help-page'
import { wordsOf } from '@satchel/core/help/help-page'
import type { Sheet, SheetBrush } from '@satchel/core/sheet/contents'
import type { Face } from '../lettering/fonts.ts'
import { type Line, setText } from '../lettering/set-text.ts'
import { LINE, MARGIN, MM, PAPERS, type Paper, wordsWidth } from './paper.ts'

/** Letters of one size, in lines. */
export type Block = { face: Face; sizePt: number; leadPt: number; indentPt: number; lines: Line[]; grey: number }

/** What stands on a page, with how far its top is from that of the page, in points. */
export type Item =
  | { what: 'chapter'; top: number; name: string; block: Block }
  | { what: 'brush'; top: number; heightPt: number; brush: SheetBrush; blocks: Block[] }
  | { what: 'words'; top: number; tag: 'H1' | 'H2' | 'P' | 'LI'; block: Block }
  | { what: 'entry'; top: number; chapter: number; block: Block; page: number }
export type Page = Item[]

/** A sheet laid out: its cover has no number and is none of these. */
export type Plan = {
  title: Block
  facts: Block[]
  pages: Page[]
  /** The page of each chapter, counted from 1, the cover not counted. */
  chapterPages: number[]
}

const TITLE = { face: 'title', sizePt: 30, leadPt: 36, indentPt: 0, grey: 0 } as const
const FACT = { face: 'text', sizePt: 11, leadPt: 16, indentPt: 0, grey: 0.2 } as const
const CHAPTER = { face: 'title', sizePt: 17, leadPt: 24, indentPt: 0, grey: 0 } as const
const ENTRY = { face: 'text', sizePt: 10.5, leadPt: 18, indentPt: 0, grey: 0 } as const
const NAME = { face: 'strong', sizePt: 9.5, leadPt: 12, indentPt: 0, grey: 0 } as const
const SMALL = { face: 'text', sizePt: 7.5, leadPt: 9.5, indentPt: 0, grey: 0.3 } as const
const NOTE = { face: 'text', sizePt: 8, leadPt: 10, indentPt: 0, grey: 0 } as const
const P = { face: 'text', sizePt: 10.5, leadPt: 15, indentPt: 0, grey: 0 } as const

type Letters = Omit<Block, 'lines'>
const block = (letters: Letters, text: string, widthPt: number): Block => ({
  ...letters,
  lines: setText(letters.face, text, (widthPt - letters.indentPt) / letters.sizePt),
})
const heightOf = ({ lines, leadPt }: Block) => lines.length * leadPt

/** Room at the foot of a page for its number. */
const FOOT = 10 * MM
const GAP = 3 * MM
/** The part of a page that a chapter's heading leaves for its first brush. */
const AFTER_CHAPTER = 4 * MM

/** Lays a sheet out on pages, by measures alone: nothing is drawn, so that what stands where is known before. */
export function planPages(sheet: Sheet, paper: Paper): Plan {
  const { width, height } = PAPERS[paper]
  const widthPt = width - 2 * MARGIN
  const bottom = height - MARGIN - FOOT
  const pages: Page[] = []
  let top = bottom
  const newPage = () => {
    pages.push([])
    top = MARGIN
  }
  const place = (heightPt: number, make: (top: number) => Item) => {
    if (top + heightPt > bottom) newPage()
    pages.at(-1)?.push(make(top))
    top += heightPt
  }

  const words = sheet.help.flatMap((node) => toWords(node, widthPt))
  if (words.length > 0) newPage()
  // a paragraph may be longer than a page: its lines go on over the next
  for (const { tag, block: whole } of words) {
    for (const line of whole.lines)
      place(whole.leadPt, (at) => ({ what: 'words', top: at, tag, block: { ...whole, lines: [line] } }))
    top += GAP
  }

  const chapterPages: number[] = []
  for (const { name, brushes } of sheet.chapters) {
    newPage()
    const heading = block(CHAPTER, name, widthPt)
    chapterPages.push(pages.length)
    place(heightOf(heading) + AFTER_CHAPTER, (at) => ({ what: 'chapter', top: at, name, block: heading }))
    for (const brush of brushes) {
      const blocks = toBlocks(brush, wordsWidth(paper))
      const heightPt = Math.max(LINE, blocks.reduce((sum, each) => sum + heightOf(each), 0) + GAP)
      place(heightPt, (at) => ({ what: 'brush', top: at, heightPt, brush, blocks }))
    }
  }

  // the contents come first, and how many pages they take is known without their numbers
  const entries = sheet.chapters.map(({ name }) => block(ENTRY, name, widthPt - 20 * MM))
  const contents = toContents(entries, { widthPt, bottom })
  const before = contents.length
  const numbered = chapterPages.map((page) => page + before)
  return {
    title: block(TITLE, sheet.title, widthPt),
    facts: sheet.facts.map((fact) => block(FACT, fact, widthPt)),
    pages: [
      ...contents.map((page) =>
        page.map((item) => (item.what === 'entry' ? { ...item, page: numbered[item.chapter] ?? 0 } : item)),
      ),
      ...pages,
    ],
    chapterPages: numbered,
  }
}

const toBlocks = ({ name, facts, note }: SheetBrush, widthPt: number): Block[] => [
  block(NAME, name, widthPt),
  block(SMALL, facts, widthPt),
  ...(note === '' ? [] : [block(NOTE, note, widthPt)]),
]

function toContents(entries: readonly Block[], { widthPt, bottom }: { widthPt: number; bottom: number }): Page[] {
  const pages: Page[] = [[]]
  const heading = block(CHAPTER, 'Contents', widthPt)
  pages[0]?.push({ what: 'words', top: MARGIN, tag: 'H1', block: heading })
  let top = MARGIN + heightOf(heading) + AFTER_CHAPTER
  for (const [chapter, entry] of entries.entries()) {
    if (top + heightOf(entry) > bottom) {
      pages.push([])
      top = MARGIN
    }
    pages.at(-1)?.push({ what: 'entry', top, chapter, block: entry, page: 0 })
    top += heightOf(entry)
  }
  return pages
}

type Words = { tag: 'H1' | 'H2' | 'P' | 'LI'; block: Block }
const INDENT = 6 * MM
/** What a heading of a help text is set like. */
const HEADINGS: Partial<Record<HelpTag, { tag: 'H1' | 'H2'; letters: Letters }>> = {
  h1: { tag: 'H1', letters: { ...CHAPTER, sizePt: 15, leadPt: 22 } },
  h2: { tag: 'H2', letters: { ...CHAPTER, sizePt: 13, leadPt: 20 } },
}
const OTHER_HEADING = { tag: 'H2', letters: { ...P, face: 'strong' } } as const

/** A help text's element as paragraphs. Letters within one are all alike: what is set apart keeps its words. */
function toWords(node: HelpNode, widthPt: number, indentPt = 0, mark = ''): Words[] {
  if (typeof node === 'string') {
    const text = node.trim()
    return text === '' ? [] : [{ tag: 'P', block: block({ ...P, indentPt }, mark + text, widthPt) }]
  }
  const { tag, children } = node
  const letters = { ...P, indentPt }
  if (/^h[1-6]$/.test(tag)) {
    const { tag: rank, letters: look } = HEADINGS[tag] ?? OTHER_HEADING
    return [{ tag: rank, block: block(look, wordsOf(children), widthPt) }]
  }
  if (tag === 'ul' || tag === 'ol') {
    const items = children.filter((child) => typeof child !== 'string')
    const first = node.start ?? 1
    return items.flatMap((item, i) => {
      const own = tag === 'ul' ? '\u2022 ' : `${first + i}. `
      return typeof item === 'string' ? [] : toItem(item.children, widthPt, indentPt + INDENT, own)
    })
  }
  if (tag === 'blockquote') return children.flatMap((child) => toWords(child, widthPt, indentPt + INDENT))
  if (tag === 'hr') return []
  const words = tag === 'pre' ? wordsOf(children) : wordsWithBreaks(children)
  return [{ tag: 'P', block: block(letters, mark + words.trim(), widthPt) }]
}

/** What a list's item holds: its words with its mark, and below them what is laid out by itself. */
function toItem(children: readonly HelpNode[], widthPt: number, indentPt: number, mark: string): Words[] {
  const isBlock = (child: HelpNode) =>
    typeof child !== 'string' && /^(?:p|ul|ol|pre|blockquote|h[1-6])$/.test(child.tag)
  const said = children.filter((child) => !isBlock(child))
  const blocks = children.filter(isBlock)
  const own = wordsWithBreaks(said).trim()
  const [first, ...others] = own === '' ? blocks : [{ tag: 'p', children: said } as HelpNode, ...blocks]
  return [
    ...(first === undefined ? [] : toWords(first, widthPt, indentPt, mark)),
    ...others.flatMap((child) => toWords(child, widthPt, indentPt)),
  ].map((words) => ({ ...words, tag: 'LI' }))
}

/** A line that was broken while it was written goes on; one that was ended is. */
const wordsWithBreaks = (nodes: readonly HelpNode[]): string =>
  nodes
    .map((node) =>
      typeof node === 'string' ? node.replaceAll('\n', ' ') : node.tag === 'br' ? '\n' : wordsWithBreaks(node.children),
    )
    .join('')
