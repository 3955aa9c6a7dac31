import { readFile, writeFile } from 'node:fs/promises'
import { basename, extname } from 'node:path'
import type { Recipe } from '@satchel/core/brush/recipe'
import { FormatError, LimitError } from '@satchel/core/errors'
import { writePng } from '@satchel/core/formats/png/write'
import { PICTURE_SIDE_MAX_PX } from '@satchel/core/limits'
import type { Rgb } from '@satchel/core/raster/srgb'
import { createSurface, toStraightRgba } from '@satchel/core/raster/surface'
import { GAUGE_SEED, INK, paintStroke, renderGauge } from '@satchel/core/render/render'
import { SAMPLE_STRIDE, type Samples } from '@satchel/core/stroke/path/samples'
import { type BrushPictures, prepareBrush } from '@satchel/core/stroke/prepare-brush'
import * as v from 'valibot'
import { UsageError } from './convert.ts'
import { readBrush } from './file-brush.ts'
import { readPackBrush } from './pack-brush.ts'

export type StrokeOptions = {
  brush?: string
  out?: string
  seed?: string
  path?: string
  colour?: string
  ground?: string
  size?: string
}

const DEFAULT_SIZE = '1200x800'
const SAMPLES_MAX = 200_000

/** Paints the gauge strokes of a brush, or a path of one's own, into a PNG. The same words give the same pixels. */
export async function paintStrokeFile(input: string, options: StrokeOptions): Promise<void> {
  if (options.out === undefined) throw new UsageError('stroke needs --out: the PNG to write.')
  const { width, height } = parseSize(options.size ?? DEFAULT_SIZE)
  const seed = options.seed === undefined ? GAUGE_SEED : parseSeed(options.seed)
  const colour = options.colour === undefined ? INK : parseColour('--colour', options.colour)
  const ground = options.ground === undefined ? undefined : parseColour('--ground', options.ground)
  const { pictures, recipe } = await loadBrush(input, options.brush)
  const brush = prepareBrush(pictures, recipe, colour)
  let surface = createSurface(width, height, ground)
  if (options.path === undefined) surface = renderGauge(brush, recipe, { width, height, colour, ground, seed })
  else {
    const samples = await readPath(options.path)
    if (paintStroke(surface, samples, { brush, recipe, seed, colour }))
      console.error('The stroke asks for more than is drawn: its end is missing. Widen the spacing or lower the count.')
  }
  await writeFile(options.out, writePng(toStraightRgba(surface)))
}

async function loadBrush(
  input: string,
  name: string | undefined,
): Promise<{ pictures: BrushPictures; recipe: Recipe }> {
  const bytes = new Uint8Array(await readFile(input))
  const packed = await readPackBrush(bytes, name)
  if (packed) return packed
  const { brush } = readBrush(bytes, basename(input, extname(input)))
  return { pictures: { frames: brush.frames }, recipe: brush.recipe }
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

async function readPath(file: string): Promise<Samples> {
  const result = v.safeParse(v.pipe(v.string(), v.parseJson(), Path), await readFile(file, 'utf8'))
  if (!result.success) {
    const [issue] = result.issues
    throw new FormatError(
      file,
      0,
      `${v.getDotPath(issue) ?? 'it'} to be ${issue.expected ?? 'a path'}, found ${issue.received}`,
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
  const most = PICTURE_SIDE_MAX_PX
  if (width > most || height > most)
    throw new LimitError('the side of the picture in px', Math.max(width, height), most)
  return { width, height }
}
