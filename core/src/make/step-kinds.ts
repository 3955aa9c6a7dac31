import type { GenericSchema } from 'valibot'
import { Crop, crop, WHOLE } from './steps/crop.ts'
import { Edge, softenEdge } from './steps/edge.ts'
import { Even, evenGround } from './steps/even.ts'
import { Grey, PLAIN_GREY, toGrey } from './steps/grey.ts'
import { Reading, setReading } from './steps/reading.ts'
import { Size, setSize } from './steps/size.ts'
import { removeSpecks, Specks } from './steps/specks.ts'
import { PLAIN_TONES, setTones, Tones } from './steps/tones.ts'
import { TouchUp, touchUp } from './steps/touch.ts'
import { Trim, trimWork } from './steps/trim.ts'
import type { Work } from './work.ts'

/** What a step may know of the others. */
export type Around = {
  /** The picture in grey, before its ground was cleared. */
  grey: Work | undefined
  /** Whether the finished tip has colours of its own: where not, no step behind needs them. */
  needsColour: boolean
}

/** One kind of step. */
export type StepKind<Settings> = {
  /** What the interface calls it. */
  word: string
  /** What it is for, in a few words. */
  about: string
  schema: GenericSchema<unknown, Settings>
  /** What it is set to where nothing is known of a picture. */
  usual: Settings
  /** Steps with a place of their own stay there; the others may change places among themselves. */
  moves: boolean
  /** Whether it needs to see what a lasso leaves out, too: the ground around a mark tells what is paint. */
  seesAll: boolean
  /** Whether a picture may do without it. */
  mayBeOff: boolean
  run(work: Work, settings: Settings, around: Around): Work
}

const kind = <Settings>(row: StepKind<Settings>) => row

/** Every kind of step from a picture to a tip, in the usual order. */
export const STEP_KINDS = {
  crop: kind({
    word: 'Crop',
    about: 'Straighten, and keep a part',
    moves: false,
    seesAll: true,
    mayBeOff: true,
    schema: Crop,
    usual: WHOLE as Crop,
    run: crop,
  }),
  grey: kind({
    word: 'Grey',
    about: 'Which colours become paint',
    moves: false,
    seesAll: true,
    mayBeOff: true,
    schema: Grey,
    usual: PLAIN_GREY as Grey,
    run: toGrey,
  }),
  even: kind({
    word: 'Clear the ground',
    about: 'Paper and shadows to white',
    moves: true,
    seesAll: true,
    mayBeOff: true,
    schema: Even,
    usual: { strength: 1 } as Even,
    run: evenGround,
  }),
  tones: kind({
    word: 'Tones',
    about: 'What paints fully, and what not',
    moves: true,
    seesAll: true,
    mayBeOff: true,
    schema: Tones,
    usual: PLAIN_TONES as Tones,
    run: setTones,
  }),
  touch: kind({
    word: 'Touch up',
    about: 'Keep or drop by hand',
    moves: true,
    seesAll: false,
    mayBeOff: true,
    schema: TouchUp,
    usual: { strokes: [] } as TouchUp,
    run: (work: Work, settings: TouchUp, { grey }: Around) => touchUp(work, settings, grey ?? work),
  }),
  specks: kind({
    word: 'Specks and holes',
    about: 'Dirt below a size',
    moves: true,
    seesAll: false,
    mayBeOff: true,
    schema: Specks,
    usual: { specksPx: 0, holesPx: 0 } as Specks,
    run: removeSpecks,
  }),
  edge: kind({
    word: 'Edge',
    about: 'How soft the mark ends',
    moves: true,
    seesAll: false,
    mayBeOff: true,
    schema: Edge,
    usual: { softPx: 0 } as Edge,
    run: softenEdge,
  }),
  trim: kind({
    word: 'Trim',
    about: 'No empty margins',
    moves: false,
    seesAll: false,
    mayBeOff: true,
    schema: Trim,
    usual: { paddingPx: 0, square: false } as Trim,
    run: trimWork,
  }),
  size: kind({
    word: 'Size',
    about: 'Pixels of the tip',
    moves: false,
    seesAll: false,
    mayBeOff: true,
    schema: Size,
    usual: { fit: 'side', sidePx: 1024 } as Size,
    run: (work: Work, settings: Size, { needsColour }: Around) => setSize(work, settings, needsColour),
  }),
  reading: kind({
    word: 'Reading',
    about: 'How pixels become paint',
    moves: false,
    seesAll: false,
    mayBeOff: false,
    schema: Reading,
    usual: { reading: 'dark' } as Reading,
    run: setReading,
  }),
} as const

export type StepName = keyof typeof STEP_KINDS
export const STEP_NAMES = Object.keys(STEP_KINDS) as StepName[]
type SettingsOf<Name extends StepName> = (typeof STEP_KINDS)[Name]['usual']

/** A step of a source: its kind, whether it counts, its settings. */
export type Step = { [Name in StepName]: { kind: Name; on: boolean; settings: SettingsOf<Name> } }[StepName]
export type Steps = readonly Step[]

/** The settings of a kind of step within a source's steps. @throws {RangeError} If there is no such step. */
export function settingsOf<Name extends StepName>(steps: Steps, name: Name): SettingsOf<Name> {
  const step = steps.find(({ kind }) => kind === name)
  if (!step) throw new RangeError(`there is no step ${name}`)
  return step.settings as SettingsOf<Name>
}

/** The same steps with one kind set differently. */
export function withSettings<Name extends StepName>(steps: Steps, name: Name, settings: SettingsOf<Name>): Step[] {
  return steps.map((step) => (step.kind === name ? ({ ...step, settings } as Step) : step))
}
