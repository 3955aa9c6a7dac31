import { execFileSync } from 'node:child_process'
import { createWriteStream, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Writable } from 'node:stream'
import { defaultRecipe } from '@satchel/core/brush/recipe'
import { PACK_VERSION, type PackManifest } from '@satchel/core/pack/manifest'
import { type Sheet, toSheet } from '@satchel/core/sheet/contents'
import { renderPrintedStroke, renderPrintedTip } from '@satchel/core/sheet/pictures'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { encodePng } from '../png.ts'
import { PAPER_NAMES, PICTURE, PICTURE_STROKE, PRINTED } from './paper.ts'
import { planPages } from './plan-pages.ts'
import { writeSheetPdf } from './write-pdf.ts'
import { writeSheetPng } from './write-png.ts'

const folder = mkdtempSync(join(tmpdir(), 'sheet-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** A round spot, and what it paints. */
const spot = { width: 40, height: 40, channels: 1 as const, data: new Uint8Array(1600) }
for (let i = 0; i < 1600; i++) spot.data[i] = Math.hypot((i % 40) - 20, Math.floor(i / 40) - 20) < 18 ? 0 : 255
const recipe = defaultRecipe()
const painted = {
  stroke: encodePng(renderPrintedStroke({ frames: [spot], grain: undefined }, recipe, PRINTED.stroke)),
  tip: encodePng(renderPrintedTip({ frames: [spot], grain: undefined }, recipe, PRINTED.tip)),
  picture: encodePng(renderPrintedStroke({ frames: [spot], grain: undefined }, recipe, PICTURE_STROKE)),
}
const pictures = { stroke: async () => painted.stroke, tip: async () => painted.tip }

const NAMES = [
  'Reed (left)',
  'Schilf & Ried',
  'Žabník',
  'Тростник',
  '葦の筆',
  'قصب ناعم',
  'קנה סוף',
  'नरकट',
  '갈대 붓',
  'ไม้อ้อ',
]
const brush = (id: string, name: string, note = ''): PackManifest['brushes'][number] => ({
  ...{ id, name, note, maker: '', licence: '', tags: [], recipe, frames: ['a' as never], frameNames: [], keys: [] },
  thumbnail: { from: 'stroke' },
})
const erases = structuredClone(recipe)
erases.colour.behaviour = 'erase'
const manifest: PackManifest = {
  ...{ format: 'satchel-pack', version: PACK_VERSION, title: 'Marsh & Shore', maker: 'Ida', licence: 'CC0-1.0' },
  help: '# Begin\n\nHold it *flat*.\n\n- one\n- two\n  1. deep\n',
  release: '1.2.0',
  brushes: [
    ...NAMES.map((name, i) => brush(`n${i}`, name, i === 0 ? 'Draw **in one go**.' : '')),
    { ...brush('x', 'Wash'), recipe: erases },
  ],
  ...{ grains: [], strips: [], pockets: [], destinations: [] },
  single: ['x'],
  sets: [{ name: 'Reeds', brushes: NAMES.map((_, i) => `n${i}`) }],
} as PackManifest

const poppler = (tool: string, ...args: string[]) => execFileSync(tool, args, { encoding: 'utf8', maxBuffer: 1 << 26 })

/** The way a sheet for each paper is looked at from outside. */
describe.each(PAPER_NAMES)('a sheet on %s', (paper) => {
  const file = join(folder, `${paper}.pdf`)
  beforeAll(() => writeSheetPdf(createWriteStream(file), toSheet(manifest), { paper, pictures }))

  it('is a sound PDF of that size, tagged, with its title and language', () => {
    expect(poppler('qpdf', '--check', file)).toContain('No syntax or stream encoding errors')
    const info = poppler('pdfinfo', file)
    expect(info).toMatch(/Title: +Marsh & Shore/)
    expect(info).toMatch(/Tagged: +yes/)
    expect(info).toMatch(paper === 'a4' ? /Page size: .*\(A4\)/ : /Page size: +612 x 792 pts \(letter\)/)
    expect(info).toMatch(/CreationDate: +Tue Jan +1 00:00:00 1980/)
    expect(poppler('qpdf', '--qdf', '--object-streams=disable', file, '-')).toContain('/Lang (en)')
  })

  it('says all names in their letters, notes, and what each is; in an order to be read aloud', () => {
    const text = poppler('pdftotext', file, '-').normalize('NFC')
    for (const name of NAMES.slice(0, 5)) expect(text).toContain(name)
    for (const name of NAMES)
      for (const word of name.split(' '))
        if (!/[\u0900-\u0e7f]/.test(word)) expect(text.replace(/[\u200e\u200f\u202a-\u202e]/g, '')).toContain(word)
    expect(text).toContain('Draw in one go.')
    expect(text).toContain('erases')
    expect(text).toContain('• one')
    const tree = poppler('pdfinfo', '-struct-text', file)
    const places = ['Marsh & Shore', 'Contents', 'Begin', 'Single brushes', 'Wash', 'Reeds', 'Reed (left)'].map(
      (word) => tree.lastIndexOf(`"${word}`),
    )
    expect(places.every((place) => place > 0)).toBe(true)
    expect(places).toEqual([...places].sort((a, b) => a - b))
    expect(tree).toMatch(/Figure/)
  })

  it('has every letter in it, and no font from elsewhere', () => {
    const [, , ...fonts] = poppler('pdffonts', file).trim().split('\n')
    expect(fonts.length).toBeGreaterThan(4)
    for (const line of fonts) expect(line).toMatch(/CID TrueType +Identity-H +yes yes yes/)
  })

  it('has a bookmark and a link for each chapter, to the page it is on', () => {
    const json = JSON.parse(poppler('qpdf', '--json', '--json-key=outlines', '--json-key=pages', file))
    expect(json.outlines.map(({ title }: { title: string }) => title)).toEqual(['Single brushes', 'Reeds'])
    const text = poppler('pdftotext', '-layout', file, '-').split('\f')
    const contents = text[1] ?? ''
    for (const [i, name] of ['Single brushes', 'Reeds'].entries()) {
      const [, page] = new RegExp(`${name}\\s+(\\d+)`).exec(contents) ?? []
      expect(text[Number(page)]).toContain(name)
      expect(json.outlines[i].destpageposfrom1).toBe(Number(page) + 1)
    }
    expect(poppler('qpdf', '--qdf', '--object-streams=disable', file, '-').match(/\/Subtype \/Link/g)).toHaveLength(2)
  })

  it('has strokes at 300 dots an inch, unchanged', () => {
    const lines = poppler('pdfimages', '-list', file).trim().split('\n').slice(2)
    expect(lines).toHaveLength(2 * manifest.brushes.length)
    for (const line of lines) {
      const [, , , width, height, colour, , , , , , , xDpi, yDpi] = line.trim().split(/\s+/)
      expect([
        `${PRINTED.stroke.width}x${PRINTED.stroke.height}`,
        `${PRINTED.tip.width}x${PRINTED.tip.height}`,
      ]).toContain(`${width}x${height}`)
      expect(colour).toBe('gray')
      for (const dpi of [xDpi, yDpi]) expect(Math.abs(Number(dpi) - 300)).toBeLessThanOrEqual(2)
    }
  })

  it('is the same file each time', async () => {
    const again = join(folder, `${paper}-again.pdf`)
    await writeSheetPdf(createWriteStream(again), toSheet(manifest), { paper, pictures })
    expect(readFileSync(again).equals(readFileSync(file))).toBe(true)
  })

  it('shows its strokes where they are said to be', async () => {
    execFileSync('pdftoppm', ['-r', '50', '-f', '4', '-l', '4', '-png', '-singlefile', file, join(folder, paper)])
    const { data, info } = await sharp(join(folder, `${paper}.png`))
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true })
    const at = (mm: number) => Math.round((mm / 25.4) * 50)
    // the only line of the first chapter: its stroke begins 38 mm from the left and 18 + 8.5 mm + 4 mm from above
    let dark = 0
    for (let y = at(30); y < at(50); y++)
      for (let x = at(40); x < at(126); x++) if ((data[y * info.width + x] ?? 255) < 128) dark++
    expect(dark).toBeGreaterThan(300)
  })
})

describe('pages', () => {
  const many = (count: number): Sheet => ({
    title: 'Many',
    facts: [],
    help: [],
    chapters: [
      {
        name: 'All',
        brushes: Array.from({ length: count }, (_, i) => ({
          id: `${i}`,
          name: `Brush ${i}`,
          note: 'n'.repeat(i % 400),
          facts: '',
        })),
      },
    ],
  })

  it('hold every brush once, in order, and none reaches beyond its page', () => {
    const { pages, chapterPages } = planPages(many(500), 'a4')
    const brushes = pages.flatMap((page) => page.flatMap((item) => (item.what === 'brush' ? [item] : [])))
    expect(brushes.map(({ brush: { id } }) => id)).toEqual(Array.from({ length: 500 }, (_, i) => `${i}`))
    for (const { top, heightPt, blocks } of brushes) {
      expect(top + heightPt).toBeLessThanOrEqual(842 - 28 - 51)
      expect(blocks.reduce((sum, { lines, leadPt }) => sum + lines.length * leadPt, 0)).toBeLessThan(heightPt)
    }
    expect(chapterPages).toEqual([2])
  })

  it('are numbered right where the contents take several', () => {
    const chapters = Array.from({ length: 120 }, (_, i) => ({ name: `Set ${i}`, brushes: [] }))
    const { pages, chapterPages } = planPages({ title: 'Sets', facts: [], help: [], chapters }, 'letter')
    for (const [i, page] of chapterPages.entries())
      expect(pages[page - 1]?.[0]).toMatchObject({ what: 'chapter', name: `Set ${i}` })
  })
})

describe('printing', () => {
  it('ends when it is told to, and leaves the file unended', async () => {
    const stop = new AbortController()
    const sink = new Writable({ write: (_chunk, _encoding, done) => done() })
    const stroke = async () => {
      stop.abort()
      return painted.stroke
    }
    const slow = { ...pictures, stroke }
    await expect(
      writeSheetPdf(sink, toSheet(manifest), { paper: 'a4', pictures: slow, signal: stop.signal }),
    ).rejects.toThrow('aborted')
  })

  it('fails with what its file cannot take', async () => {
    const full = new Writable({
      write: (_chunk, _encoding, done) => done(Object.assign(new Error('full'), { code: 'ENOSPC' })),
    })
    await expect(writeSheetPdf(full, toSheet(manifest), { paper: 'a4', pictures })).rejects.toThrow('full')
  })
})

it('one set as a picture has every stroke, and all that is said', async () => {
  const [, reeds] = toSheet(manifest).chapters
  if (!reeds) throw new Error('no set')
  const png = await writeSheetPng(reeds, 'Marsh, Ida', async () => painted.picture)
  const { data, info } = await sharp(png).greyscale().raw().toBuffer({ resolveWithObject: true })
  expect(info.width).toBe(PICTURE.widthPx)
  const darkIn = (left: number, top: number, width: number, height: number) => {
    let dark = 0
    for (let y = top; y < top + height; y++)
      for (let x = left; x < left + width; x++) if ((data[y * info.width + x] ?? 255) < 100) dark++
    return dark
  }
  expect(darkIn(60, 60, 600, 66)).toBeGreaterThan(500) // its name
  for (const left of [60, 820])
    expect(darkIn(left, 196, PICTURE_STROKE.width, PICTURE_STROKE.height)).toBeGreaterThan(3000)
  expect((await writeSheetPng(reeds, 'Marsh, Ida', async () => painted.picture)).length).toBe(png.length)
})
