import { toCoverage } from '@satchel/core/brush/coverage'
import { defaultRecipe } from '@satchel/core/brush/recipe'
import { readPng } from '@satchel/core/formats/png/read'
import { createPixels, type Pixels } from '@satchel/core/raster/pixels'
import { fitSize, shrinkPixels } from '@satchel/core/raster/resample'
import { createSurface } from '@satchel/core/raster/surface'
import { trimToMark } from '@satchel/core/raster/trim'
import { layOutGauge, listStroke, scaleRecipe } from '@satchel/core/render/gauge'
import { INK, paintStroke, renderStrokes } from '@satchel/core/render/render'
import { SAMPLE_STRIDE } from '@satchel/core/stroke/path/samples'
import { prepareBrush } from '@satchel/core/stroke/prepare-brush'
import { measureDeviation } from '@satchel/core/trace/deviation'
import { anchorsOf, removeAnchor } from '@satchel/core/trace/edit-trace'
import {
  coverTraced,
  findOutlines,
  fitOutlines,
  measureOutlines,
  type Outlines,
  overlapWith,
  sweepDetail,
  type Traced,
  toPathData,
  toTraceSvg,
  USUAL_TRACE,
} from '@satchel/core/trace/trace'
import { answerAll } from '../port.ts'
import type { Shown } from '../shown.ts'
import type { FittedTrace, Opened, OpenWish, OutlineWish, PreviewWish, TracedWish, TraceQuestions } from './protocol.ts'

/** The longer side of what is traced, px: what is larger is made smaller first. */
const SIDE_MAX_PX = 2400
/** Gauge strokes are painted onto so much, and by a brush of this size at least: curves are good at any size. */
const STROKE_PX = { width: 2400, height: 1600 }
const BRUSH_LEAST_PX = 220
/** Kept free around what is traced, px. */
const RIM_PX = 2

let opened: Pixels | undefined
let outlined: { key: string; outlines: Outlines } | undefined

answerAll<TraceQuestions>(self, {
  open,
  sweep(wish) {
    const outlines = outlinesOf(wish)
    return {
      details: sweepDetail(outlines, picture().data as Uint8Array, { ...USUAL_TRACE, cornerDeg: wish.cornerDeg }),
      before: measureOutlines(outlines),
    }
  },
  fit,
  preview,
  write: (wish) => toTraceSvg(tracedOf(wish), wish.lay.as === 'ribbon' ? wish.lay : undefined),
})

function picture(): Pixels {
  if (!opened) throw new Error('no picture was opened to be traced')
  return opened
}

function open({ frames, grain, recipe, source, frame }: OpenWish): Opened {
  outlined = undefined
  const pixels = frames.map(firstPicture)
  const cover =
    source === 'picture' ? coverOf(pixels[frame], recipe.colour.reading) : strokeOf(pixels, grain, recipe, source)
  const { width, height } = fitSize(cover.width, cover.height, SIDE_MAX_PX)
  const scale = width / cover.width
  opened = scale < 1 ? shrinkPixels(cover, width, height) : cover
  const data = new Uint8ClampedArray(4 * width * height)
  for (let i = 0; i < width * height; i++) data[4 * i + 3] = opened.data[i] ?? 0
  return { width, height, data, scale }
}

function firstPicture(file: ArrayBuffer): Pixels {
  const [first] = readPng(new Uint8Array(file)).frames
  if (!first) throw new Error('the picture has no frame')
  return first.pixels
}

/** One channel of coverage: of own colours and tone, where they paint at all. */
function coverOf(pixels: Pixels | undefined, reading: OpenWish['recipe']['colour']['reading']): Pixels {
  if (!pixels) throw new Error('the brush has no such picture')
  const cover = toCoverage(pixels, reading)
  return cover.channels === 1 ? cover : toCoverage(cover, 'alpha')
}

/** A gauge stroke as it paints on nothing, cut to what it paints. */
function strokeOf(
  frames: Pixels[],
  grain: ArrayBuffer | undefined,
  recipe: OpenWish['recipe'],
  source: 'level' | 'curve' | 'zigzag',
): Pixels {
  const plain = { ...recipe, colour: { ...recipe.colour, behaviour: 'paint' as const, blend: 'normal' as const } }
  const { strokes, recipe: fitted } = layOutGauge(
    scaleRecipe(plain, Math.max(1, BRUSH_LEAST_PX / plain.mark.sizePx)),
    STROKE_PX.width,
    STROKE_PX.height,
  )
  const brush = prepareBrush({ frames, grain: grain && firstPicture(grain) }, fitted, INK)
  const { width, height, data } = renderStrokes([strokes[source]], brush, fitted, STROKE_PX)
  const cover = createPixels(width, height, 1)
  for (let i = 0; i < width * height; i++) cover.data[i] = data[4 * i + 3] ?? 0
  const mark = trimToMark(cover, 1)
  if (!mark) throw new Error('this stroke paints nothing')
  const rimmed = createPixels(mark.width + 2 * RIM_PX, mark.height + 2 * RIM_PX, 1)
  for (let y = 0; y < mark.height; y++)
    rimmed.data.set(mark.data.subarray(y * mark.width, (y + 1) * mark.width), (y + RIM_PX) * rimmed.width + RIM_PX)
  return rimmed
}

function outlinesOf({ speckPx, tones }: OutlineWish): Outlines {
  const key = `${speckPx} ${tones}`
  if (outlined?.key === key) return outlined.outlines
  const { width, height, data } = picture()
  outlined = { key, outlines: findOutlines(data as Uint8Array, width, height, { ...USUAL_TRACE, speckPx, tones }) }
  return outlined.outlines
}

function tracedOf(wish: TracedWish): Traced {
  return wish.removed.reduce(removeAnchor, fitOutlines(outlinesOf(wish), wish))
}

function fit(wish: TracedWish): FittedTrace {
  const traced = tracedOf(wish)
  return {
    tones: traced.tones.map(({ opacity, paths }) => ({ opacity, data: toPathData(paths) })),
    places: anchorsOf(traced),
    anchors: traced.anchors,
    bytes: toTraceSvg(traced).length,
    overlap: overlapWith(traced, picture().data as Uint8Array, USUAL_TRACE.level),
    deviationPx: measureDeviation(outlinesOf(wish), traced),
  }
}

const PAPER = { r: 247, g: 247, b: 247 }
/** What is painted first, and what multiplies over it. */
const COLOURS = { under: { r: 192, g: 96, b: 48 }, over: { r: 56, g: 112, b: 148 } }
/** The width of the strokes of a preview, as a share of its height. */
const STROKE_SHARE = 0.42

/** Two strokes of what was traced, in colours, the second one multiplied over the first. */
function preview(wish: PreviewWish): Shown {
  const { width, height, lay } = wish
  const traced = tracedOf(wish)
  const frame: Pixels = { width: traced.width, height: traced.height, channels: 1, data: coverTraced(traced) }
  const usual = defaultRecipe({ sizePx: height * STROKE_SHARE, reading: 'light' })
  const recipe =
    lay.as === 'stamps'
      ? usual
      : {
          ...usual,
          path: { ...usual.path, ribbon: { lay: lay.lay, leadInPx: lay.leadInPx, leadOutPx: lay.leadOutPx } },
        }
  const surface = createSurface(width, height, PAPER)
  const stroke = listStroke(width, height, recipe.mark.sizePx / 2 + 2)
  const upsideDown = stroke.map((value, i) => (i % SAMPLE_STRIDE === 1 ? height - value : value))
  for (const [k, samples] of [stroke, upsideDown].entries()) {
    const colour = k === 0 ? COLOURS.under : COLOURS.over
    const blend = k === 0 ? ('normal' as const) : ('multiply' as const)
    const own = { ...recipe, colour: { ...recipe.colour, blend } }
    paintStroke(surface, samples, {
      brush: prepareBrush({ frames: [frame] }, own, colour),
      recipe: own,
      seed: k,
      colour,
    })
  }
  return { width, height, data: new Uint8ClampedArray(surface.data) }
}
