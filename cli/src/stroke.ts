import { LimitError } from '@satchel/core/errors'
import { writePng } from '@satchel/core/formats/png/write'
import { checkPictureSize } from '@satchel/core/limits'
import type { Rgb } from '@satchel/core/raster/srgb'
import { createSurface, toStraightRgba } from '@satchel/core/raster/surface'
import { GAUGE_SEED, INK, paintStroke, renderGauge } from '@satchel/core/render/render'
import { SAMPLE_STRIDE, type Samples } from '@satchel/core/stroke/path/samples'
import { prepareBrush } from '@satchel/core/stroke/prepare-brush'
import * as v from 'valibot'
import { loadBrush } from './any-brush.ts'
import { checkOutput, PIPE, parseText, shownName, writeWhole } from './files.ts'
import { EXIT, FileProblem, UsageError } from './problems.ts'
import { loadRecipe, setFields } from './recipe-options.ts'
import { warn } from './say.ts'

export type StrokeOptions = {
  out: string
  size: string
  brush?: string
  seed?: string
  path?: string
  colour?: string
  ground?: string
  recipe?: string
  set?: string[]
  force?: boolean
}

export const DEFAULT_SIZE = '1200x800'
const SAMPLES_MAX = 200_000

/** Paints the gauge strokes of a brush, or a path of one's own, into a PNG. The same words give the same pixels. @returns The exit code. */
export async function paintStrokeFile(input: string, options: StrokeOptions): Promise<number> {
  const { width, height } = parseSize(options.size)
  const seed = options.seed === undefined ? GAUGE_SEED : parseSeed(options.seed)
  const colour = options.colour === undefined ? INK : parseColour('--colour', options.colour)
  const backdrop = options.ground === undefined ? undefined : parseColour('--ground', options.ground)
  checkOutput(options.out, [input, options.path ?? '', options.recipe ?? ''], options.force ?? false)
  const samples = options.path === undefined ? undefined : await loadPath(options.path)
  const loaded = await loadBrush(input, options.brush)
  const base = options.recipe === undefined ? loaded.recipe : await loadRecipe(options.recipe)
  const recipe = setFields(base, options.set ?? [])
  const brush = prepareBrush(loaded.pictures, recipe, colour)
  const painted = samples
    ? { ...createSurface(width, height, backdrop), isCutShort: false }
    : renderGauge(brush, recipe, { width, height, colour, backdrop, seed })
  if (samples) painted.isCutShort = paintStroke(painted, samples, { brush, recipe, seed, colour }).isCutShort
  const write = { inputs: [input], force: options.force ?? false }
  await writeWhole(options.out, writePng(toStraightRgba(painted)), write)
  if (!painted.isCutShort) return EXIT.done
  const name = options.out === PIPE ? 'standard output' : options.out
  warn(`${name}: a stroke asks for more than is drawn and its end is missing; widen the spacing or lower the count.`)
  return EXIT.bad
}

const Coordinate = v.pipe(v.number(), v.finite())
const Path = v.pipe(
  v.array(
    v.object({
      x: Coordinate,
      y: Coordinate,
      pressure: v.optional(v.pipe(v.number(), v.minValue(0), v.maxValue(1)), 1),
      tiltX: v.optional(v.pipe(v.number(), v.minValue(-90), v.maxValue(90)), 0),
      tiltY: v.optional(v.pipe(v.number(), v.minValue(-90), v.maxValue(90)), 0),
      ms: v.optional(Coordinate, 0),
    }),
  ),
  v.minLength(1),
  v.maxLength(SAMPLES_MAX),
)

async function loadPath(file: string): Promise<Samples> {
  const result = v.safeParse(Path, await parseText(file, (value) => value))
  if (!result.success) {
    const [issue] = result.issues
    const where = v.getDotPath(issue)
    throw new FileProblem(
      shownName(file),
      `not a readable path: expected ${where ?? 'it'} to be ${issue.expected ?? 'a list of points'}, found ${issue.received}.`,
    )
  }
  const samples = new Float64Array(result.output.length * SAMPLE_STRIDE)
  for (const [i, { x, y, pressure, tiltX, tiltY, ms }] of result.output.entries())
    samples.set([x, y, pressure, tiltX, tiltY, ms], i * SAMPLE_STRIDE)
  return samples
}

function parseColour(option: string, text: string): Rgb {
  const match = /^#?([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i.exec(text)
  if (!match) throw new UsageError(`${option} takes a colour like #26415c, not "${text}".`)
  const [r = 0, g = 0, b = 0] = match.slice(1).map((pair) => Number.parseInt(pair, 16))
  return { r, g, b }
}

function parseSeed(text: string): number {
  if (!/^\d{1,9}$/.test(text)) throw new UsageError(`--seed takes a whole number, not "${text}".`)
  return Number(text)
}

function parseSize(text: string): { width: number; height: number } {
  const match = /^(\d{1,6})x(\d{1,6})$/.exec(text)
  const [width = 0, height = 0] = match?.slice(1).map(Number) ?? []
  if (width < 1 || height < 1)
    throw new UsageError(`--size takes a width and a height like ${DEFAULT_SIZE}, not "${text}".`)
  try {
    checkPictureSize(width, height)
  } catch (error) {
    if (error instanceof LimitError) throw new UsageError(`--size ${text}: ${error.message}.`)
    throw error
  }
  return { width, height }
}
