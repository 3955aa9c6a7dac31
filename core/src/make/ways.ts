import * as v from 'valibot'
import { drawDepth, FRONT_VIEW, toDepthGrey } from '../mesh/depth.ts'
import { numberIn, picklistOf, wholeIn } from '../number-row.ts'
import { layerAlone } from '../raster/compose-layers.ts'
import { BECOME_WORDS, LAYERS_BECOME_WORDS } from './become.ts'
import type { FirstStroke } from './first-stroke.ts'
import { guessSteps } from './guess.ts'
import { guessLayerSteps, guessModelSteps } from './guess-inside.ts'
import { layersOf, type Opened } from './opened.ts'
import { Ornament, repeatAround, USUAL_ORNAMENT } from './ornament/repeat-around.ts'
import { cutObject, type FoundObjects, findObjects, middleOf, Objects, USUAL_OBJECTS } from './sheet/find-objects.ts'
import type { StepName, Steps } from './step-kinds.ts'
import { runSteps } from './steps.ts'
import { MODEL_NUMBERS, VIEW_NUMBERS } from './view-numbers.ts'
import { startWork, type Work } from './work.ts'

/** What parts become: tips of their own, frames of one tip, or strips, each of a ribbon brush of its own. */
export type Become = keyof typeof LAYERS_BECOME_WORDS

const Share = v.pipe(v.number(), v.minValue(0), v.maxValue(1))

/** Layers of one source that may be chosen. */
export const PARTS_MAX = 256
/** Which layers count, by their places from the topmost. */
const Layers = v.strictObject({
  chosen: v.pipe(v.array(v.pipe(v.number(), v.integer(), v.minValue(0))), v.maxLength(PARTS_MAX)),
  become: picklistOf(LAYERS_BECOME_WORDS),
})
export type Layers = v.InferOutput<typeof Layers>

const ViewSchema = v.pipe(
  v.strictObject({
    yawDeg: numberIn(VIEW_NUMBERS.yawDeg),
    pitchDeg: numberIn(VIEW_NUMBERS.pitchDeg),
    rollDeg: numberIn(VIEW_NUMBERS.rollDeg),
    zoom: numberIn(VIEW_NUMBERS.zoom),
    near: Share,
    far: Share,
  }),
  v.check(({ near, far }) => near < far, 'nothing lies between near and far'),
)
/** From where a model is looked at: a tip, or a frame, for each. */
const Model = v.strictObject({
  views: v.pipe(v.array(ViewSchema), v.minLength(1), v.maxLength(64)),
  sidePx: wholeIn(MODEL_NUMBERS.sidePx),
  become: picklistOf(BECOME_WORDS),
})
export type Model = v.InferOutput<typeof Model>

/** What is made of a source: how it begins, its steps, and how what is made strokes at first, where that was chosen. */
export type Plan = { stroke?: FirstStroke | undefined } & (
  | { way: 'picture'; steps: Steps }
  | { way: 'sheet'; objects: Objects; steps: Steps }
  | { way: 'layers'; layers: Layers; steps: Steps }
  | { way: 'ornament'; ornament: Ornament; steps: Steps }
  | { way: 'model'; model: Model; steps: Steps }
)
export type Way = Plan['way']
type PlanOf<Which extends Way> = Extract<Plan, { way: Which }>

/** A picture on its way, and what it is. */
export type Begun = { part: string; name: string; work: Work }
type BeginOptions = {
  /** Only the part in this place, from 0; all by default. */
  only?: number | undefined
  /** The longer side at which models are drawn at most, for a preview. */
  sidePx?: number | undefined
}

type TryOptions = {
  /** Its place among those that count. */
  part: number
  /** It is tried no larger than this, px of its longer side. */
  sidePx: number
}
/** What is tried, and the things on the picture, where that is of several. */
type Tried = { work: Work; found?: FoundObjects }

type WayRow<Which extends Way> = {
  /** What the interface calls it. */
  word: string
  /** What one begins with, in a sentence. */
  about: string
  /**
   * What it begins with: a picture, which may be written or drawn, and of which a preview is enough to try a plan; or what lies
   * inside a file.
   */
  beginsWith: 'picture' | 'inside'
  /** Whether files that come together are one source. */
  stacks: boolean
  /** Reads what a plan has besides its steps. */
  head: v.GenericSchema<unknown, Omit<PlanOf<Which>, 'way' | 'steps' | 'stroke'>>
  guess(opened: Opened): Omit<PlanOf<Which>, 'way'>
  /** Whether a file can be begun with in this way; if not, the sentence that says what is wanted. */
  needs(opened: Opened): string | undefined
  /**
   * The pictures that the steps run over, one after the other, so that no more than one has to be held; numbers tell what
   * share of them is done.
   */
  begin(opened: Opened, plan: PlanOf<Which>, options: BeginOptions): Generator<number | Begun, void>
  /** After the shared steps a picture may fall into several. */
  split?(work: Work, plan: PlanOf<Which>): Begun[]
  /** One of these, to be tried. */
  tryPart?(work: Work, plan: PlanOf<Which>, options: TryOptions): Tried
  become(plan: PlanOf<Which>): Become
}

/** The steps after which a sheet falls into its objects: from then on each goes its own way. */
const EACH: readonly StepName[] = ['trim', 'size', 'reading']

function* beginWithPicture({ picture }: Opened): Generator<Begun, void> {
  yield { part: 'whole', name: '', work: startWork(picture) }
}

const needsPicture = ({ mesh }: Opened) => (mesh ? 'a picture, and this is a model; begin with Model' : undefined)

const PICTURE = { beginsWith: 'picture', stacks: false } as const

/** Every way to begin, one row each. */
export const WAYS: { [Which in Way]: WayRow<Which> } = {
  picture: {
    word: 'Picture',
    about: 'One photograph, scan or drawing becomes one tip.',
    ...PICTURE,
    head: v.strictObject({}),
    guess: ({ picture }) => ({ steps: guessSteps(picture) }),
    needs: needsPicture,
    begin: beginWithPicture,
    become: () => 'tips',
  },
  sheet: {
    word: 'Sheet',
    about: 'One picture with many things on it becomes many tips, or the frames of one.',
    ...PICTURE,
    head: v.strictObject({ objects: Objects }),
    guess: ({ picture }) => ({ objects: USUAL_OBJECTS, steps: guessSteps(picture) }),
    needs: needsPicture,
    begin: beginWithPicture,
    split(work, { objects }) {
      const found = findObjects(work, objects)
      return found.objects
        .filter(({ isLeftOut }) => !isLeftOut)
        .map((object, i) => {
          const { x, y } = middleOf(work, found, object)
          return {
            part: `${Math.round(x)},${Math.round(y)}`,
            name: String(i + 1),
            work: cutObject(work, found, object),
          }
        })
    },
    tryPart(work, { objects }, { part }) {
      const found = findObjects(work, objects)
      const wanted = found.objects.filter(({ isLeftOut }) => !isLeftOut)
      const object = wanted[part] ?? wanted[0]
      return { work: object ? cutObject(work, found, object) : work, found }
    },
    become: ({ objects }) => objects.become,
  },
  layers: {
    word: 'Layers',
    about:
      'A drawing of layers, a picture that plays, or several pictures at once: each layer becomes a tip, or a frame of one.',
    beginsWith: 'inside',
    stacks: true,
    head: v.strictObject({ layers: Layers }),
    guess(opened) {
      const chosen = layersOf(opened).flatMap(({ isHidden }, i) => (isHidden ? [] : [i]))
      return { layers: { chosen, become: 'frames' }, steps: guessLayerSteps(opened) }
    },
    needs: (opened) => needsPicture(opened) ?? (opened.layers.length === 0 ? 'layers, and it has none' : undefined),
    *begin(opened, { layers: { chosen } }, { only }) {
      const all = layersOf(opened)
      const { width, height } = opened.picture
      for (const [i, place] of chosen.entries()) {
        const flat = all[place]
        if (!flat || (only !== undefined && only !== i)) continue
        const before = all.slice(0, place).filter(({ layer }) => layer.name === flat.layer.name).length
        const part = [...flat.within, flat.layer.name, ...(before > 0 ? [before + 1] : [])].join('/')
        yield {
          part,
          name: flat.layer.name || String(i + 1),
          work: startWork(layerAlone(flat.layer, width, height)),
        }
        yield (i + 1) / chosen.length
      }
    },
    become: ({ layers }) => layers.become,
  },
  ornament: {
    word: 'Ornament',
    about: 'Half a shape is mirrored, and repeated around a middle.',
    ...PICTURE,
    head: v.strictObject({ ornament: Ornament }),
    guess: ({ picture }) => ({ ornament: USUAL_ORNAMENT, steps: guessSteps(picture) }),
    needs: needsPicture,
    begin: beginWithPicture,
    split: (work, { ornament }) => [{ part: 'whole', name: '', work: repeatAround(work, ornament) }],
    tryPart: (work, { ornament }, { sidePx }) => ({
      work: repeatAround(work, ornament, Math.min(1, sidePx / ornament.sidePx)),
    }),
    become: () => 'tips',
  },
  model: {
    word: 'Model',
    about: 'A model, seen from one side or several: near is light and far is dark.',
    beginsWith: 'inside',
    stacks: false,
    head: v.strictObject({ model: Model }),
    guess: () => ({ model: { views: [{ ...FRONT_VIEW }], sidePx: 1024, become: 'tips' }, steps: guessModelSteps() }),
    needs: ({ mesh }) => (mesh ? undefined : 'a model, as OBJ or STL'),
    *begin({ mesh }, { model: { views, sidePx: wanted } }, { only, sidePx: most = wanted }) {
      const sidePx = Math.min(wanted, most)
      for (const [i, view] of views.entries()) {
        if (!mesh || (only !== undefined && only !== i)) continue
        const drawing = drawDepth(mesh, view, sidePx)
        for (let next = drawing.next(); ; next = drawing.next()) {
          if (next.done) {
            const { side } = next.value
            const grey = {
              width: side,
              height: side,
              channels: 1 as const,
              data: toDepthGrey(next.value, 8) as Uint8Array,
            }
            yield {
              part: `view ${i + 1}`,
              name: views.length > 1 ? String(i + 1) : '',
              work: startWork(grey, sidePx / wanted),
            }
            break
          }
          yield (i + next.value) / views.length
        }
      }
    },
    become: ({ model }) => model.become,
  },
}

export const WAY_NAMES = Object.keys(WAYS) as [Way, ...Way[]]

/** Steps that run over a whole sheet, and those that run over each of its objects. */
export const sharedSteps = (steps: Steps): Steps => steps.filter(({ kind }) => !EACH.includes(kind))
export const ownSteps = (steps: Steps): Steps => steps.filter(({ kind }) => EACH.includes(kind))

export function lastWork(start: Work, steps: Steps): Work {
  let work = start
  for (const ran of runSteps(start, steps)) work = ran.work
  return work
}

/** The row of a plan's own way: the compiler cannot follow that they belong together. */
const rowOf = (way: Way) => WAYS[way] as unknown as WayRow<Way>

/** What a file must be to be begun with in a way; undefined where it is. */
export const whatIsWanted = (way: Way, opened: Opened): string | undefined => rowOf(way).needs(opened)

/** The first guess of a way from its file. */
export const guessPlan = (way: Way, opened: Opened): Plan => ({ way, ...rowOf(way).guess(opened) }) as Plan

/** The pictures that a plan's steps run over. */
export const beginPlan = (opened: Opened, plan: Plan, options: BeginOptions = {}): Generator<number | Begun, void> =>
  rowOf(plan.way).begin(opened, plan, options)

/** The first picture that a plan's steps run over; undefined where nothing is chosen. */
export function firstBegun(opened: Opened, plan: Plan, options: BeginOptions): Begun | undefined {
  for (const each of beginPlan(opened, plan, options)) if (typeof each !== 'number') return each
  return undefined
}

/** One of the pictures that a plan's shared steps leave, to be tried. */
export const tryPart = (work: Work, plan: Plan, options: TryOptions): Tried =>
  rowOf(plan.way).tryPart?.(work, plan, options) ?? { work }

/** What a picture falls into, after the steps that all of it shares; undefined where it stays one. */
export const splitWork = (start: Work, plan: Plan): Begun[] | undefined =>
  rowOf(plan.way).split?.(lastWork(start, sharedSteps(plan.steps)), plan)

/** Whether the parts of a plan become tips, or the frames of one. */
export const becomeOf = (plan: Plan): Become => rowOf(plan.way).become(plan)
