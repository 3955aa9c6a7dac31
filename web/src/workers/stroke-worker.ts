import type { Recipe } from '@satchel/core/brush/recipe'
import { readPng } from '@satchel/core/formats/png/read'
import type { Pixels } from '@satchel/core/raster/pixels'
import { createStroke } from '@satchel/core/stroke/create-stroke'
import { gaugeStrokes } from '@satchel/core/stroke/gauge'
import { framesKey, prepareFrames } from '@satchel/core/stroke/prepare-brush'
import { GAUGE_SEED, paintStroke } from '@satchel/core/stroke/render'
import type { Samples } from '@satchel/core/stroke/samples'
import type { PreparedBrush, Stroke } from '@satchel/core/stroke/stroke'
import { createSurface, type Rect, type Surface } from '@satchel/core/stroke/surface'
import type { GroundName, Rgb, StrokeAnswer, StrokeRequest } from './protocol.ts'

const FREE_STROKES_MAX = 40
const CHECKER_PX = 12
const GROUND: Record<Exclude<GroundName, 'checker'>, Rgb> = {
  paper: { r: 250, g: 250, b: 250 },
  mid: { r: 128, g: 128, b: 128 },
  black: { r: 12, g: 12, b: 12 },
}

type FreeStroke = { seed: number; samples: number[] }

let pictures: Pixels[] = []
let brush: PreparedBrush = { frames: [] }
let preparedFor = ''
let look: { recipe: Recipe; colour: Rgb; ground: GroundName } | undefined
let size = { width: 0, height: 0 }
let free: FreeStroke[] = []
/** Everything but the stroke that is being drawn. */
let base: Surface | undefined
let current: { painting: Stroke; stroke: FreeStroke } | undefined
let stale = false

const answer = (message: StrokeAnswer, transfer: Transferable[] = []) => postMessage(message, { transfer })

self.addEventListener('message', ({ data }: MessageEvent<StrokeRequest>) => {
  try {
    take(data)
  } catch (error) {
    answer({ type: 'problem', message: error instanceof Error ? error.message : String(error) })
  }
})

function take(request: StrokeRequest): void {
  switch (request.type) {
    case 'tip':
      pictures = request.frames.flatMap(({ png }) =>
        readPng(new Uint8Array(png))
          .frames.slice(0, 1)
          .map((frame) => frame.pixels),
      )
      preparedFor = ''
      paintSoon()
      break
    case 'size':
      size = { width: request.width, height: request.height }
      paintSoon()
      break
    case 'look':
      look = request
      paintSoon()
      break
    case 'begin':
      begin(request.seed)
      break
    case 'more':
      more(request.samples)
      break
    case 'end':
      end()
      break
    case 'clear':
      free = []
      paintSoon()
      break
  }
}

/** Many changes in one go, for example while a slider moves, are painted once. */
function paintSoon(): void {
  if (stale) return
  stale = true
  setTimeout(() => {
    stale = false
    paintAll()
  })
}

function paintAll(): void {
  if (!look || pictures.length === 0 || size.width === 0) return
  const started = performance.now()
  const key = framesKey(look.recipe, look.colour)
  if (preparedFor !== key) {
    brush = { frames: prepareFrames(pictures, look.recipe, look.colour) }
    preparedFor = key
  }
  const surface = createGround()
  const margin = Math.min(look.recipe.mark.sizePx / 2 + 8, size.width / 5)
  const gauge = gaugeStrokes(size.width, size.height, margin)
  const strokes: [Samples, number][] = [
    ...[gauge.level, gauge.curve, gauge.zigzag, ...gauge.stamps].map((samples, i): [Samples, number] => [
      samples,
      GAUGE_SEED + i,
    ]),
    ...free.map(({ samples, seed }): [Samples, number] => [Float64Array.from(samples), seed]),
  ]
  for (const [samples, seed] of strokes) {
    paintStroke(surface, samples, { brush, recipe: look.recipe, seed, colour: look.colour })
  }
  base = surface
  send({ left: 0, top: 0, right: size.width, bottom: size.height }, surface, {
    whole: true,
    ms: performance.now() - started,
  })
}

function createGround(): Surface {
  const { width, height } = size
  const ground = look?.ground ?? 'paper'
  if (ground !== 'checker') return createSurface(width, height, GROUND[ground])
  const surface = createSurface(width, height, { r: 255, g: 255, b: 255 })
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 4) {
      if ((Math.floor(x / CHECKER_PX) + Math.floor(y / CHECKER_PX)) % 2) surface.data.fill(204, i, i + 3)
    }
  }
  return surface
}

function begin(seed: number): void {
  if (!look || !base) return
  const { recipe, colour } = look
  current = {
    painting: createStroke({ ...size, brush, recipe, seed, colour, under: base }),
    stroke: { seed, samples: [] },
  }
}

/** Only what the new part of the stroke touches is composited and sent. */
function more(samples: Float64Array): void {
  if (!current || !base) return
  const started = performance.now()
  current.stroke.samples.push(...samples)
  show(current.painting.add(samples), started)
}

/** Shows a part of the stroke. Its layer holds the whole stroke so far, so the base stays without it until it ends. */
function show(area: Rect | undefined, started: number): void {
  if (!area || !current || !base) return
  const part = cut(base, area)
  current.painting.compositeOnto(base, area)
  send(area, base, { whole: false, ms: performance.now() - started })
  paste(base, area, part)
}

function end(): void {
  if (!current || !base) return
  show(current.painting.finish(), performance.now())
  current.painting.compositeOnto(base)
  free = [...free.slice(1 - FREE_STROKES_MAX), current.stroke]
  current = undefined
}

function send(area: Rect, surface: Surface, { whole, ms }: { whole: boolean; ms: number }): void {
  const data = cut(surface, area)
  answer(
    {
      type: 'pixels',
      x: area.left,
      y: area.top,
      width: area.right - area.left,
      height: area.bottom - area.top,
      data,
      whole,
      ms,
    },
    [data.buffer],
  )
}

function cut(surface: Surface, { left, top, right, bottom }: Rect): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray((right - left) * (bottom - top) * 4)
  for (let y = top, o = 0; y < bottom; y++, o += (right - left) * 4) {
    out.set(surface.data.subarray((y * surface.width + left) * 4, (y * surface.width + right) * 4), o)
  }
  return out
}

function paste(surface: Surface, { left, top, right, bottom }: Rect, part: Uint8ClampedArray): void {
  for (let y = top, i = 0; y < bottom; y++, i += (right - left) * 4) {
    surface.data.set(part.subarray(i, i + (right - left) * 4), (y * surface.width + left) * 4)
  }
}
