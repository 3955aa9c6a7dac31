import { createWriteStream } from 'node:fs'
import { readFile, writeFile } from 'node:fs/promises'
import type { Recipe } from '@satchel/core/brush/recipe'
import type { Pixels } from '@satchel/core/raster/pixels'
import { toSheet } from '@satchel/core/sheet/contents'
import { renderPrintedStroke, renderPrintedTip } from '@satchel/core/sheet/pictures'
import type { BrushPictures } from '@satchel/core/stroke/prepare-brush'
import { PICTURE_STROKE, PRINTED } from '@satchel/node/sheet/paper'
import type { PrintedFiles, PrintedKind } from './results.ts'
import type { Tasks } from './tasks.ts'

/** The sizes in which brushes are painted for print, px. */
export const PRINTED_SIZES = { ...PRINTED, pictureStroke: PICTURE_STROKE } satisfies Record<PrintedKind, object>

export const renderPrinted = (pictures: BrushPictures, recipe: Recipe, what: PrintedKind): Pixels =>
  (what === 'tip' ? renderPrintedTip : renderPrintedStroke)(pictures, recipe, PRINTED_SIZES[what])

const fileOf = (files: PrintedFiles) => {
  const byId = new Map(files)
  return async (brushId: string): Promise<Uint8Array> => readFile(byId.get(brushId) ?? `no picture of ${brushId}`)
}

/** What sets letters and writes pages is loaded where a sheet is asked for: most processes never print. */
export const printSheet: Tasks['printSheet'] = async (input) => {
  const stroke = fileOf(input.strokes)
  const sheet = toSheet(input.manifest)
  if (input.on === 'picture') {
    const { writeSheetPng } = await import('@satchel/node/sheet/write-png')
    const chapter = sheet.chapters[0] ?? { name: sheet.title, brushes: [] }
    await writeFile(input.to, await writeSheetPng(chapter, sheet.facts.join(', '), stroke))
    return
  }
  const { writeSheetPdf } = await import('@satchel/node/sheet/write-pdf')
  await writeSheetPdf(createWriteStream(input.to), sheet, {
    paper: input.on,
    pictures: { stroke, tip: fileOf(input.tips), cover: input.cover },
  })
}
