import { readFile, writeFile } from 'node:fs/promises'
import { basename, extname } from 'node:path'
import {
  FRAME_RULES,
  type FrameRule,
  PAINT_READINGS,
  type PaintReading,
  SPACING_MAX_PCT,
  SPACING_MIN_PCT,
} from '@satchel/core/brush/recipe'
import { type OpenBrush, toGbrFile, toGihFile, toOneCanvas, toPngFile } from '@satchel/core/brush-file/open-brush'
import { FormatError } from '@satchel/core/errors'
import { writeApng, writePng } from '@satchel/core/formats/png/write'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import { readBrush } from './file-brush.ts'

export type ConvertOptions = { spacing?: string; name?: string; rule?: string; reading?: string }

/** Bad words on the command line. */
export class UsageError extends Error {}

/** Converts between PNG, APNG, GBR and GIH, as the extensions say. Says on stderr what is left behind. */
export async function convert(input: string, output: string, options: ConvertOptions): Promise<void> {
  const bytes = new Uint8Array(await readFile(input))
  const { brush, fromPng, warnings } = readBrush(bytes, basename(input, extname(input)))
  const changed = applyOptions(brush, options)
  const written = write(changed, extname(output).toLowerCase(), {
    keepPixels: fromPng && options.reading === undefined,
  })
  for (const warning of [...warnings, ...written.warnings]) console.error(warning)
  await writeFile(output, written.bytes)
}

function applyOptions(brush: OpenBrush, { spacing, name, rule, reading }: ConvertOptions): OpenBrush {
  const recipe = structuredClone(brush.recipe)
  if (spacing !== undefined) {
    const pct = Number(spacing)
    if (!(pct >= SPACING_MIN_PCT && pct <= SPACING_MAX_PCT))
      throw new UsageError(
        `--spacing takes a percentage from ${SPACING_MIN_PCT} to ${SPACING_MAX_PCT}, not "${spacing}".`,
      )
    recipe.path.spacingPct = pct
  }
  if (rule !== undefined)
    recipe.path.nextFrame = [{ rule: oneOf('--rule', rule, FRAME_RULES) as FrameRule, frames: brush.frames.length }]
  if (reading !== undefined) recipe.colour.reading = oneOf('--reading', reading, PAINT_READINGS) as PaintReading
  if (name !== undefined && (name.trim() === '' || [...name].length > NAME_MAX_CHARS))
    throw new UsageError(`--name takes 1 to ${NAME_MAX_CHARS} characters.`)
  return { ...brush, name: name ?? brush.name, recipe }
}

function oneOf(option: string, value: string, known: readonly string[]): string {
  if (!known.includes(value)) throw new UsageError(`${option} takes one of ${known.join(', ')}, not "${value}".`)
  return value
}

type Written = { bytes: Uint8Array; warnings: string[] }

function write(brush: OpenBrush, extension: string, { keepPixels }: { keepPixels: boolean }): Written {
  const count = brush.frames.length
  switch (extension) {
    case '.gbr':
      return {
        bytes: toGbrFile(brush),
        warnings:
          count > 1 ? [`GBR holds one picture: ${count - 1} frames were left behind. Write .gih to keep them.`] : [],
      }
    case '.gih':
      return { bytes: toGihFile(brush), warnings: [] }
    case '.png':
    case '.apng':
      return { bytes: keepPixels ? writePixels(brush, extension) : toPicture(brush, extension), warnings: [] }
    default:
      throw new FormatError('output name', 0, `an extension of png, apng, gbr or gih, found "${extension}"`)
  }
}

/** The pixels as they were read, since no reading was asked for. */
function writePixels({ frames, name }: OpenBrush, extension: string): Uint8Array {
  const options = { text: { Title: name } }
  const [first] = frames
  if (first && frames.length === 1 && extension === '.png') return writePng(first, options)
  return writeApng(toOneCanvas(frames), options)
}

function toPicture(brush: OpenBrush, extension: string): Uint8Array {
  return toPngFile(brush, { animated: extension === '.apng' })
}
