import { createWriteStream } from 'node:fs'
import { readFile, writeFile } from 'node:fs/promises'
import type { Recipe } from '@satchel/core/brush/recipe'
import type { Pixels } from '@satchel/core/raster/pixels'
import { renderPrintedStroke, renderPrintedTip } from '@satchel/core/sheet/pictures'
import type { BrushPictures } from '@satchel/core/stroke/prepare-brush'
import { PICTURE_STROKE, PRINTED } from '@satchel/node/sheet/paper'
import type { PrintedFiles, PrintedKind, Tasks } from './tasks.ts'

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
  if (input.on === 'picture') {
    const { writeSheetPng } = await import('@satchel/node/sheet/write-png')
    await writeFile(input.to, await writeSheetPng(input.chapter, input.facts, stroke))
    return
  }
  const { writeSheetPdf } = await import('@satchel/node/sheet/write-pdf')
  await writeSheetPdf(createWriteStream(input.to), input.sheet, {
    paper: input.on,
    pictures: { stroke, tip: fileOf(input.tips), cover: input.cover },
  })
}
