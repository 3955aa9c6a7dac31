import { defaultRecipe, type PaintReading, type Recipe } from '@satchel/core/brush/recipe'
import { readBrushFile } from '@satchel/core/brush-file/kinds'
import { readPng } from '@satchel/core/formats/png/read'
import { FIRST_STROKES, type FirstStroke, measureMark, proposeStroke } from '@satchel/core/make/first-stroke'
import { guessFromTouches } from '@satchel/core/make/guess'
import { countLevels } from '@satchel/core/make/histogram'
import { layersOf, type Opened, toOpened } from '@satchel/core/make/opened'
import { middleOf } from '@satchel/core/make/sheet/find-objects'
import { type Steps, settingsOf } from '@satchel/core/make/step-kinds'
import { StepRunner } from '@satchel/core/make/steps'
import { crop, WHOLE } from '@satchel/core/make/steps/crop'
import { toTip } from '@satchel/core/make/steps/reading'
import { findMark } from '@satchel/core/make/steps/trim'
import {
  becomeOf,
  firstBegun,
  lastWork,
  ownSteps,
  type Plan,
  sharedSteps,
  tryPart,
  WAYS,
} from '@satchel/core/make/ways'
import { startWork, type Work } from '@satchel/core/make/work'
import { shareOutsideCircle } from '@satchel/core/mesh/depth'
import type { FlatLayer } from '@satchel/core/raster/compose-layers'
import type { Pixels } from '@satchel/core/raster/pixels'
import { fitSize, shrinkPixels } from '@satchel/core/raster/resample'
import type { Surface } from '@satchel/core/raster/surface'
import { INK, renderListStroke } from '@satchel/core/render/render'
import { placeFrame } from '@satchel/core/render/thumbnail'
import { prepareBrush } from '@satchel/core/stroke/prepare-brush'
import { toOutlineSvg } from '@satchel/core/trace/outline'
import { answerAll, moved } from '../port.ts'
import type { Shown } from '../shown.ts'
import type { MakeQuestions, MakeShown, MakeWish, ShownLayer } from './protocol.ts'

const PAPER = { r: 247, g: 247, b: 247 }

/** Longer sides of what layers and models are tried at, px. */
const LAYER_SIDE_PX = 1600
const MODEL_SIDE_PX = 640

let opened: Opened | undefined
let sourceWidth = 1
/** What the steps run over, and the part of the plan that it follows from. */
let begun: { key: string; start: Work; runner: StepRunner; circleLoss: number } | undefined
let grain: Pixels | undefined

answerAll<MakeQuestions>(
  self,
  {
    async open({ bytes, sourceWidth: width }) {
      opened = toOpened(await readBrushFile(new Uint8Array(bytes), { png: readPng }))
      sourceWidth = width
      begun = undefined
    },
    grain({ png }) {
      grain = png && firstPicture(png)
    },
    show(wish) {
      if (!opened) return undefined
      const shown = show(opened, wish)
      const { before, after, stamp, stroke } = shown
      return moved(
        shown,
        [before, after, stamp, stroke].map(({ data }) => data.buffer),
      )
    },
    mix({ plan, touches }) {
      const { start } = begin(plan, 0) ?? emptyBegin()
      const { steps } = plan
      const cropped = lastWork(
        start,
        steps.filter(({ kind }) => kind === 'crop'),
      )
      return guessFromTouches(cropped, steps, touches)
    },
    outline: ({ plan }) => outlineOf(plan),
  },
  // a slider that moves is shown where it is by now
  { latest: ['show'] },
)

/** What a plan's steps run over, for the part that is tried; kept as long as nothing that it follows from changes. */
function begin(plan: Plan, part: number) {
  if (!opened) return undefined
  const { way, steps: _steps, stroke: _stroke, ...head } = plan
  // a picture is the same whatever is said of its parts; what lies inside a file is chosen first
  const key = JSON.stringify(WAYS[way].beginsWith === 'picture' ? [way] : [way, head, part])
  if (begun?.key === key) return begun
  const start = startOf(opened, plan, part)
  if (!start) return undefined
  begun = { key, start, runner: new StepRunner(start), circleLoss: shareOutsideCircle(start.grey, start.width) }
  return begun
}

function startOf(file: Opened, plan: Plan, part: number): Work | undefined {
  if (WAYS[plan.way].beginsWith === 'picture') return startWork(file.picture, file.picture.width / sourceWidth)
  const one = firstBegun(file, plan, { only: part, sidePx: MODEL_SIDE_PX })
  if (!one) return undefined
  const { width, height, colour } = one.work
  const small = fitSize(width, height, LAYER_SIDE_PX)
  return small.width === width
    ? one.work
    : startWork(
        shrinkPixels({ width, height, channels: 4, data: colour }, small.width, small.height),
        small.width / width,
      )
}

const firstPicture = (png: ArrayBuffer): Pixels | undefined => readPng(new Uint8Array(png)).frames[0]?.pixels

function show(file: Opened, wish: MakeWish): MakeShown {
  const { plan, whole, part } = wish
  const began = performance.now()
  const { start, runner, circleLoss } = begin(plan, part) ?? emptyBegin()
  const shared = sharedSteps(plan.steps)
  const { works, ran } = runner.run(shared)
  const cleared = works.at(-1) ?? start
  const { work, found } = tryPart(cleared, plan, { part, sidePx: TRIED_SIDE_PX })
  const end = lastWork(work, ownSteps(plan.steps))
  const tip = findMark(end) ? toTip(end) : undefined
  const ms = performance.now() - began
  const { reading } = settingsOf(plan.steps, 'reading')
  const proposed = tip && proposeStroke(measureMark(tip, reading))
  const { angleDeg } = settingsOf(plan.steps, 'crop')
  const uncropped = whole ? crop(start, { ...WHOLE, angleDeg }) : undefined
  const cropped = uncropped ?? works[0] ?? start
  const tones = works[shared.findIndex(({ kind }) => kind === 'tones') - 1] ?? cleared
  return {
    before: colourOf(cropped),
    after: uncropped ? colourOf(uncropped) : paintOf({ ...cleared, reading }),
    place: (uncropped ?? cleared).place,
    histogram: countLevels(tones.grey),
    tip: tip && fullSize(end, plan.steps),
    ...tryOut(tip, { ...wish, recipe: wish.recipe ?? firstRecipe(plan, reading, proposed) }),
    proposed,
    objects: (found?.objects ?? []).map((each) => ({
      ...each,
      at: found ? middleOf(cleared, found, each) : { x: 0, y: 0 },
    })),
    layers: WAYS[plan.way].beginsWith === 'inside' ? layersOf(file).map(toShownLayer) : [],
    circleLoss,
    ran,
    ms,
  }
}

/** How a mark is tried that is no brush yet: as it will stroke at first. */
function firstRecipe(plan: Plan, reading: PaintReading, proposed: FirstStroke | undefined): Recipe {
  const plain = defaultRecipe({ reading, sizePx: TRIED_PX })
  const stroke = plan.stroke ?? proposed
  return stroke && becomeOf(plan) !== 'strips' ? FIRST_STROKES[stroke].recipe(plain) : plain
}
const TRIED_PX = 48

/** An outline is drawn no larger than this, px: the preview has no more to tell. */
const OUTLINE_SIDE_PX = 2048

function outlineOf(plan: Plan): string {
  const { runner, start } = begin(plan, 0) ?? emptyBegin()
  const cleared = runner.run(sharedSteps(plan.steps)).works.at(-1) ?? start
  const whole = tryPart(cleared, plan, { part: 0, sidePx: OUTLINE_SIDE_PX }).work
  const { width, height, grey } = lastWork(whole, ownSteps(plan.steps))
  return toOutlineSvg(
    grey.map((level) => 255 - level),
    width,
    height,
  )
}

/** A part is tried no larger than this, px. */
const TRIED_SIDE_PX = 480

/** Where nothing is chosen there is nothing to see, and nothing fails. */
function emptyBegin() {
  const start = startWork({ width: 64, height: 64, channels: 1, data: new Uint8Array(64 * 64).fill(255) })
  return { start, runner: new StepRunner(start), circleLoss: undefined }
}

const toShownLayer = ({ layer, within, isHidden }: FlatLayer): ShownLayer => ({
  name: layer.name,
  within,
  isHidden,
  width: layer.pixels.width,
  height: layer.pixels.height,
})

/** How large the tip becomes at full size: what the preview has lost in px counts again, up to the size that is wanted. */
function fullSize({ width, height, place }: Work, steps: Steps): { width: number; height: number } {
  const size = steps.find(({ kind }) => kind === 'size')
  const wanted = size?.on ? settingsOf(steps, 'size') : undefined
  if (wanted?.fit === 'canvas') return { width: wanted.width, height: wanted.height }
  const longest = Math.max(width, height) / place.scale
  const scale = Math.min(1, (wanted?.sidePx ?? Number.POSITIVE_INFINITY) / longest) / place.scale
  return { width: Math.round(width * scale), height: Math.round(height * scale) }
}

/** The mark as it stamps, and as it strokes, by the engine itself. */
function tryOut(
  tip: Pixels | undefined,
  { recipe, stamp, stroke }: MakeWish & { recipe: Recipe },
): Pick<MakeShown, 'stamp' | 'stroke'> {
  if (!tip) return { stamp: blank(stamp), stroke: blank(stroke) }
  const used: Recipe = grain ? recipe : { ...recipe, ground: {} }
  const one: Recipe = { ...used, path: { ...used.path, nextFrame: [{ rule: 'inOrder', frames: 1 }] } }
  const brush = prepareBrush({ frames: [tip], grain }, one, INK)
  return {
    stamp: toShown(placeFrame(tip, one, { ...stamp, backdrop: PAPER })),
    stroke: toShown(renderListStroke(brush, one, { ...stroke, backdrop: PAPER })),
  }
}

const toShown = ({ width, height, data }: Surface | Pixels): Shown => ({
  width,
  height,
  data: new Uint8ClampedArray(data),
})

const blank = ({ width, height }: { width: number; height: number }): Shown => ({
  width,
  height,
  data: new Uint8ClampedArray(width * height * 4).fill(PAPER.r),
})

const colourOf = ({ width, height, colour }: Work): Shown => ({ width, height, data: new Uint8ClampedArray(colour) })

/** What paints, in ink or its own colours; clear elsewhere. */
function paintOf(work: Work): Shown {
  const { width, height, grey, reading } = work
  if (reading === 'own' || reading === 'tone') return { width, height, data: new Uint8ClampedArray(toTip(work).data) }
  const data = new Uint8ClampedArray(width * height * 4)
  for (let i = 0, o = 0; i < grey.length; i++, o += 4) {
    data[o] = data[o + 1] = data[o + 2] = INK.r
    data[o + 3] = 255 - (grey[i] ?? 255)
  }
  return { width, height, data }
}
