import { extname } from 'node:path'
import {
  FRAME_RULES,
  type FrameRule,
  PAINT_READINGS,
  type PaintReading,
  SPACING_MAX_PCT,
  SPACING_MIN_PCT,
} from '@satchel/core/brush/recipe'
import { readBrushFile } from '@satchel/core/brush-file/kinds'
import { type OpenBrush, toOpenBrush } from '@satchel/core/brush-file/open-brush'
import { TARGETS, type TargetKind, writeBrushFile } from '@satchel/core/brush-file/write'
import { readPng } from '@satchel/core/formats/png/read'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import type { Pixels } from '@satchel/core/raster/pixels'
import { bareName, checkOutput, PIPE, readWhole, shownName, writeWhole } from './files.ts'
import { EXIT, toFileProblem, UsageError } from './problems.ts'
import { warn } from './say.ts'

export type ConvertOptions = {
  spacing?: string
  name?: string
  rule?: string
  reading?: string
  /** The kind to write, where no extension tells it. */
  to?: string
  frame?: string
  force?: boolean
}

/** Greys read as dark paints and colours as own colours, so that both can be turned back without loss. */
export const plainGuess = ([first]: readonly Pixels[]): PaintReading => (first?.channels === 1 ? 'dark' : 'own')

/** Converts between PNG, APNG, GBR and GIH. Says on stderr what is left behind or changed. @returns The exit code. */
export async function convert(input: string, output: string, options: ConvertOptions): Promise<number> {
  const kind = targetOf(output, options.to)
  const wish = parseWish(options)
  checkOutput(output, [input], options.force ?? false)
  const { brush, isPicture, warnings } = await load(input, wish.reading)
  const changed = applyWish(brush, wish)
  const keepPixels = isPicture && wish.reading === undefined
  const written = writeBrushFile(kind, changed, { keepPixels })
  await writeWhole(output, written.bytes, { inputs: [input], force: options.force ?? false })
  for (const warning of warnings) warn(`${shownName(input)}: ${warning}`)
  const shownOutput = output === PIPE ? 'standard output' : output
  for (const change of written.changes) warn(`${shownOutput}: ${change}`)
  const [first, ...others] = written.left
  const left = others.length > 0 ? `${[first, ...others.slice(0, -1)].join(', ')} and ${others.at(-1)}` : first
  if (left) warn(`${shownOutput}: ${kind.toUpperCase()} leaves behind ${left}.`)
  return EXIT.done
}

function targetOf(output: string, to: string | undefined): TargetKind {
  const wanted = to ?? extname(output).slice(1).toLowerCase()
  if (wanted in TARGETS) return wanted as TargetKind
  const known = Object.keys(TARGETS).join(', ')
  throw new UsageError(
    output === PIPE || to !== undefined
      ? `--to takes one of ${known}${to === undefined ? '; it is needed where the output is no file' : `, not "${to}"`}.`
      : `${output}: its extension tells what to write, one of ${known}; found "${wanted}".`,
  )
}

type Wish = { spacingPct?: number; name?: string; rule?: FrameRule; reading?: PaintReading; frame?: number }

function parseWish({ spacing, name, rule, reading, frame }: ConvertOptions): Wish {
  const spacingPct = Number(spacing)
  if (spacing !== undefined && !(spacingPct >= SPACING_MIN_PCT && spacingPct <= SPACING_MAX_PCT))
    throw new UsageError(
      `--spacing takes a percentage from ${SPACING_MIN_PCT} to ${SPACING_MAX_PCT}, not "${spacing}".`,
    )
  if (name !== undefined && (name.trim() === '' || [...name].length > NAME_MAX_CHARS))
    throw new UsageError(`--name takes 1 to ${NAME_MAX_CHARS} characters.`)
  if (frame !== undefined && !/^[1-9]\d{0,3}$/.test(frame))
    throw new UsageError(`--frame takes the number of a frame, counted from 1, not "${frame}".`)
  return {
    ...(spacing === undefined ? {} : { spacingPct }),
    ...(name === undefined ? {} : { name }),
    ...(rule === undefined ? {} : { rule: oneOf('--rule', rule, FRAME_RULES) }),
    ...(reading === undefined ? {} : { reading: oneOf('--reading', reading, PAINT_READINGS) }),
    ...(frame === undefined ? {} : { frame: Number(frame) }),
  }
}

export function oneOf<Value extends string>(option: string, value: string, known: readonly Value[]): Value {
  const found = known.find((each) => each === value)
  if (!found) throw new UsageError(`${option} takes one of ${known.join(', ')}, not "${value}".`)
  return found
}

async function load(input: string, reading: PaintReading | undefined) {
  const bytes = await readWhole(input)
  try {
    const file = await readBrushFile(bytes, { png: readPng })
    const { brush, warnings } = toOpenBrush(file, { name: bareName(input), guess: plainGuess, reading })
    return { brush, warnings, isPicture: file.kind === 'png' }
  } catch (error) {
    throw toFileProblem(shownName(input), error)
  }
}

function applyWish(brush: OpenBrush, { spacingPct, name, rule, reading, frame }: Wish): OpenBrush {
  const all = brush.frames.length
  if (frame !== undefined && frame > all) throw new UsageError(`--frame ${frame} is not there: it has ${all} frames.`)
  const frames = frame === undefined ? brush.frames : brush.frames.slice(frame - 1, frame)
  const recipe = structuredClone(brush.recipe)
  if (spacingPct !== undefined) recipe.path.spacingPct = spacingPct
  if (rule !== undefined || frames.length !== all)
    recipe.path.nextFrame = [{ rule: rule ?? 'inOrder', frames: frames.length }]
  if (reading !== undefined) recipe.colour.reading = reading
  const details = frame === undefined ? brush.details : { ...brush.details, frameNames: [], delaysMs: undefined }
  return { ...brush, name: name ?? brush.name, frames, recipe, details }
}
