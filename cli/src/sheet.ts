import { createWriteStream } from 'node:fs'
import { rename, rm } from 'node:fs/promises'
import { writePng } from '@satchel/core/formats/png/write'
import type { PackBrush } from '@satchel/core/pack/manifest'
import type { OpenedPack } from '@satchel/core/pack/read'
import type { Pixels } from '@satchel/core/raster/pixels'
import { SHEET_BRUSHES_MAX, type Sheet, toSheet } from '@satchel/core/sheet/contents'
import { renderPrintedStroke, renderPrintedTip } from '@satchel/core/sheet/pictures'
import { nodePngOptions } from '@satchel/node/png'
import { PAPER_NAMES, type Paper, PICTURE_BRUSHES_MAX, PICTURE_STROKE, PRINTED } from '@satchel/node/sheet/paper'
import { writeSheetPdf } from '@satchel/node/sheet/write-pdf'
import { writeSheetPng } from '@satchel/node/sheet/write-png'
import { checkOutput, shownName, withSource, writeWhole } from './files.ts'
import { loadPictures, openAnyPack } from './pack-brush.ts'
import { EXIT, FileProblem, toFileProblem, UsageError } from './problems.ts'

export type SheetOptions = { out: string; paper: string; set?: string; force: boolean }

/** Prints the strokes of a pack as a PDF, or one of its sets as a picture. @returns The exit code. */
export async function printSheet(input: string, { out, paper, set, force }: SheetOptions): Promise<number> {
  if (!isPaper(paper)) throw new UsageError(`--paper takes ${PAPER_NAMES.join(' or ')}, not "${paper}".`)
  const isPicture = out.toLowerCase().endsWith('.png')
  checkOutput(out, [input], force)
  return withSource(input, async (source) => {
    const pack = await openAnyPack(source)
    const sheet = pickChapters(toSheet(pack.manifest), set)
    const lines = sheet.chapters.reduce((sum, { brushes }) => sum + brushes.length, 0)
    const most = isPicture ? PICTURE_BRUSHES_MAX : SHEET_BRUSHES_MAX
    if (lines > most)
      throw new FileProblem(
        shownName(input),
        `it has ${lines} brushes to print, and one ${isPicture ? 'picture' : 'sheet'} takes ${most}; print it set by set with --set.`,
      )
    const byId = new Map(pack.manifest.brushes.map((brush) => [brush.id, brush]))
    const painted = (brushId: string, make: (brush: PackBrush, pictures: Loaded) => Pixels) =>
      paint(pack, byId, brushId, make)
    if (isPicture) {
      const [chapter] = sheet.chapters
      if (!chapter || sheet.chapters.length > 1)
        throw new UsageError('A picture shows one set: choose it with --set, or print a PDF.')
      const stroke = (id: string) =>
        painted(id, ({ recipe }, pictures) => renderPrintedStroke(pictures, recipe, PICTURE_STROKE))
      const facts = [sheet.title, ...sheet.facts.slice(0, 2)].join(', ')
      await writeWhole(out, await writeSheetPng(chapter, facts, stroke), { inputs: [input], force })
      return EXIT.done
    }
    await writeWhilePrinting(out, (partial) =>
      writeSheetPdf(createWriteStream(partial), sheet, {
        paper,
        pictures: {
          stroke: (id) => painted(id, ({ recipe }, pictures) => renderPrintedStroke(pictures, recipe, PRINTED.stroke)),
          tip: (id) => painted(id, ({ recipe }, pictures) => renderPrintedTip(pictures, recipe, PRINTED.tip)),
        },
      }),
    )
    return EXIT.done
  })
}

type Loaded = Awaited<ReturnType<typeof loadPictures>>
const isPaper = (name: string): name is Paper => (PAPER_NAMES as readonly string[]).includes(name)

/** @throws {UsageError} If no set of the pack has that name. */
function pickChapters(sheet: Sheet, set: string | undefined): Sheet {
  if (set === undefined) return sheet
  const chapters = sheet.chapters.filter(({ name }) => name === set)
  const names = sheet.chapters.map(({ name }) => `"${name}"`)
  if (chapters.length === 0) throw new UsageError(`No set is called "${set}". There are ${names.join(', ')}.`)
  return { ...sheet, help: [], chapters: chapters.slice(0, 1) }
}

async function paint(
  pack: OpenedPack,
  byId: ReadonlyMap<string, PackBrush>,
  brushId: string,
  make: (brush: PackBrush, pictures: Loaded) => Pixels,
): Promise<Uint8Array> {
  const brush = byId.get(brushId)
  if (!brush) throw new Error(`${brushId} is not in the pack`)
  return writePng(make(brush, await loadPictures(pack, brush)), nodePngOptions)
}

/** Writes beside the file, which is there once it is whole. */
async function writeWhilePrinting(out: string, write: (partial: string) => Promise<void>): Promise<void> {
  const partial = `${out}.${process.pid}.partial`
  try {
    await write(partial)
    await rename(partial, out)
  } catch (error) {
    await rm(partial, { force: true }).catch(() => undefined)
    // what is wrong with the pack is told of the pack
    throw error instanceof Error && 'code' in error ? toFileProblem(out, error, 'written') : error
  }
}
