import type { Recipe } from '@satchel/core/brush/recipe'
import { measureTone } from '@satchel/core/brush/tone'
import { findJoin, measureJoin } from '@satchel/core/grain/strip-join'
import { unite } from '@satchel/core/raster/rect'
import { createSurface, type Rect, type Surface, wholeOf } from '@satchel/core/raster/surface'
import { layOutGauge, listStroke, paintedReach } from '@satchel/core/render/gauge'
import { GAUGE_SEED, INK, renderListStroke } from '@satchel/core/render/render'
import { layUnder } from '@satchel/core/render/underlay'
import { createStroke, waitsForEnd } from '@satchel/core/stroke/create-stroke'
import type { Samples } from '@satchel/core/stroke/path/samples'
import { RibbonStroke } from '@satchel/core/stroke/ribbon/ribbon-stroke'
import type { Stroke } from '@satchel/core/stroke/stroke'
import { type Answers, answerAll, moved } from '../port.ts'
import { createBackdrop } from './backdrop-picture.ts'
import { BrushInHand } from './brush-in-hand.ts'
import { cut, layOver, paste } from './cut-paste.ts'
import { EndPreview } from './end-preview.ts'
import type { Findings, Look, PictureFiles, StrokeQuestions, StrokeTold } from './protocol.ts'

const FREE_STROKES_MAX = 40
const PREVIEW_PAPER = { r: 250, g: 250, b: 250 }

type FreeStroke = { seed: number; samples: number[] }

const brush = new BrushInHand()
/** The brush as it was, where it was made of other pictures. */
let brushBefore: BrushInHand | undefined
let look: Look | undefined
let size = { width: 0, height: 0 }
let shows = ''
let free: FreeStroke[] = []
/** Everything but the stroke that is being drawn; clear where something is erased, else on the backdrop. */
let base: Surface | undefined
/** What shows through where something is erased. */
let backdrop: Surface | undefined
let current: { painting: Stroke; stroke: FreeStroke; ending?: EndPreview } | undefined
let stale = false

const answers: Answers<StrokeQuestions> = {
  tip: painting((frames) => brush.setFrames(frames)),
  grain: painting((png) => brush.setGrain(png)),
  before: painting((pictures) => {
    brushBefore = pictures && createBrushBefore(pictures)
  }),
  size: painting((part) => {
    size = part
  }),
  look: painting((part) => {
    look = part
  }),
  begin: ({ seed }) => begin(seed),
  more: ({ samples }) => more(samples),
  end,
  drop() {
    current?.ending?.stop()
    current?.painting.close()
    current = undefined
    paintSoon()
  },
  clear() {
    free = []
    paintSoon()
  },
  preview({ recipe, width, height }) {
    if (brush.pictures.length === 0) return undefined
    const { data } = renderListStroke(brush.prepare(recipe, INK), recipe, { width, height, backdrop: PREVIEW_PAPER })
    const pixels = new Uint8ClampedArray(data)
    return moved(pixels, [pixels.buffer])
  },
  findJoin() {
    const [strip] = brush.pictures
    return strip && findJoin(strip)
  },
}
const tell = answerAll<StrokeQuestions, StrokeTold>(self, answers)

/** Takes a part of what is painted from, and paints it all anew. */
function painting<Part>(take: (part: Part) => void) {
  return (wish: { part: Part; shows: string }) => {
    shows = wish.shows
    take(wish.part)
    paintSoon()
  }
}

function createBrushBefore({ frames, grain }: PictureFiles): BrushInHand {
  const made = new BrushInHand()
  made.setFrames(frames)
  made.setGrain(grain)
  return made
}

/** The brush and the recipe that are painted with: as they are, or as they were. */
function inHand(look: Look, show: Look['show']): { brush: BrushInHand; recipe: Recipe } {
  const { before } = look
  return show === 'before' && before ? { brush: brushBefore ?? brush, recipe: before } : { brush, recipe: look.recipe }
}

/** Many changes in one go, for example while a slider moves, are painted once. */
function paintSoon(): void {
  if (stale) return
  stale = true
  setTimeout(() => {
    stale = false
    try {
      paintAll()
    } catch (error) {
      tell({ type: 'problem', message: error instanceof Error ? error.message : String(error) })
    }
  })
}

function paintAll(): void {
  if (!look || brush.pictures.length === 0 || size.width === 0) return
  const started = performance.now()
  const findings: Noticed = { cutShort: false, squeezes: [], gaugeScale: 1 }
  const surface = paintStrokes(look, look.show, findings)
  if (look.show === 'split' && look.before) {
    const part = { ...wholeOf(surface), right: Math.round(size.width * look.splitAt) }
    if (part.right > 0) paste(surface, part, cut(paintStrokes(look, 'before'), part))
  }
  base = surface
  backdrop = createBackdrop(look.backdrop, size.width, size.height)
  const { width, height } = surface
  const picture = { left: 0, top: 0, width, height, data: cut(surface, wholeOf(surface)) }
  send(picture, { shows, ms: performance.now() - started })
  tellFindings({ ...findings, ...measure(look.recipe) })
}

/** What was told last: a free stroke adds to it. */
let told: Findings | undefined

function tellFindings(findings: Findings): void {
  told = findings
  tell({ type: 'findings', ...findings })
}

type Noticed = Pick<Findings, 'cutShort' | 'squeezes' | 'gaugeScale'>

function paintStrokes(look: Look, show: Look['show'], noticed?: Noticed): Surface {
  const { colour, strokes } = look
  const { brush, recipe } = inHand(look, show)
  const { width, height } = size
  const paper = createBackdrop(look.backdrop, width, height)
  const surface = recipe.colour.behaviour === 'erase' ? createSurface(width, height) : paper
  layUnder(surface, recipe.colour.behaviour)
  const prepared = brush.prepare(recipe, colour)
  const standard = standardStrokes(recipe, strokes)
  if (noticed) noticed.gaugeScale = standard.scale
  const painted = [
    ...standard.strokes.map((samples, i) => ({ samples, seed: GAUGE_SEED + i, recipe: standard.recipe })),
    ...free.map(({ samples, seed }) => ({ samples: Float64Array.from(samples), seed, recipe })),
  ]
  for (const { samples, seed, recipe } of painted) {
    const stroke = createStroke({ width, height, brush: prepared, recipe, seed, colour, under: surface })
    const area = unite(stroke.add(samples), stroke.finish())
    if (area) stroke.compositeOnto(surface, area)
    if (noticed && stroke.isCutShort) noticed.cutShort = true
    if (noticed && stroke instanceof RibbonStroke) noticed.squeezes.push(...stroke.squeezes())
    stroke.close()
  }
  return surface
}

type Standard = { strokes: Samples[]; recipe: Recipe; scale: number }

/** The gauge strokes, or one long stroke; smaller where the brush is too large for the canvas. */
function standardStrokes(recipe: Recipe, strokes: Look['strokes']): Standard {
  const { width, height } = size
  if (strokes === 'line') {
    const reachPx = paintedReach(recipe) * recipe.mark.sizePx
    return { strokes: [listStroke(width, height, Math.min(reachPx / 2 + 8, width / 5))], recipe, scale: 1 }
  }
  const { strokes: gauge, ...shown } = layOutGauge(recipe, width, height)
  const { level, curve, zigzag, stamps } = gauge
  return { strokes: [level, curve, zigzag, ...stamps], ...shown }
}

function measure(recipe: Recipe): Pick<Findings, 'tone' | 'joinBreak' | 'strip'> {
  const [first] = brush.pictures
  const { ribbon } = recipe.path
  return {
    tone: recipe.colour.reading === 'tone' ? measureTone(brush.pictures, recipe.colour.anchorGrey) : undefined,
    joinBreak: first && ribbon?.lay === 'repeated' ? measureJoin(first, ribbon) : undefined,
    strip: first && ribbon ? { width: first.width, height: first.height } : undefined,
  }
}

function begin(seed: number): void {
  if (!look || !base) return
  const { colour, show } = look
  const { brush, recipe } = inHand(look, show)
  const prepared = brush.prepare(recipe, colour)
  const under = base
  const paint = () => createStroke({ ...size, brush: prepared, recipe, seed, colour, under })
  const stroke: FreeStroke = { seed, samples: [] }
  const painting = paint()
  current = { painting, stroke }
  if (waitsForEnd(recipe))
    current.ending = new EndPreview({ painting, paint, samples: stroke.samples, onPainted: showStroke })
}

/** Only what the new part of the stroke touches is composited and sent. */
function more(samples: Float64Array): void {
  if (!current) return
  const started = performance.now()
  current.stroke.samples.push(...samples)
  const area = current.painting.add(samples)
  if (current.ending) current.ending.paintSoon(area)
  else if (area) showStroke(current.painting, area, started)
}

/** Shows a part of a stroke. Its layer holds the whole stroke so far, so the base stays without it until it ends. */
function showStroke(painting: Stroke, area: Rect, started: number): void {
  if (!base) return
  const part = { data: cut(base, area), width: area.right - area.left, height: area.bottom - area.top, ...area }
  painting.compositeOnto(part)
  send(part, { shows: undefined, ms: performance.now() - started })
}

function end(): void {
  if (!current || !base) return
  const started = performance.now()
  const area = unite(current.painting.finish(), current.ending?.stop())
  if (area) showStroke(current.painting, area, started)
  current.painting.compositeOnto(base)
  if (told && current.painting.isCutShort) tellFindings({ ...told, cutShort: true })
  current.painting.close()
  free = [...free.slice(1 - FREE_STROKES_MAX), current.stroke]
  current = undefined
  if (look?.show === 'split') paintSoon()
}

type Part = { left: number; top: number; width: number; height: number; data: Uint8ClampedArray<ArrayBuffer> }

function send(part: Part, { shows, ms }: { shows: string | undefined; ms: number }): void {
  const { left: x, top: y, width, height, data } = part
  if (backdrop) layOver(part, backdrop)
  tell({ type: 'pixels', x, y, width, height, data, shows, ms }, [data.buffer])
}
