import * as v from 'valibot'
import { SIZE_MAX_PX, SIZE_MIN_PX } from '../brush/recipe.ts'
import { LineText, NameText } from '../names.ts'
import { BRUSHES_MAX, DESTINATIONS_MAX } from '../pack/manifest.ts'
import { RackSetup } from '../pack/setup-card.ts'
import { Day, momentOf, TimeOfDay, Zone } from './moments.ts'

export const LESSONS_MAX = 200
export const EDITION_NOTES_MAX_CHARS = 2000
export const POCKET_MAX = 200
export const LICENCE_TEXT_MAX_CHARS = 100_000

const Ids = v.pipe(v.array(NameText), v.maxLength(BRUSHES_MAX))

/** A part of a class kit: its brushes are open from a moment on, and, where it says so, closed again at another. */
export const Lesson = v.strictObject({
  id: v.pipe(v.string(), v.uuid()),
  title: v.pipe(v.string(), v.trim(), NameText),
  day: Day,
  at: TimeOfDay,
  closes: v.nullable(v.strictObject({ day: Day, at: TimeOfDay })),
  /** Brushes by their ids; without one it is only told. */
  brushes: Ids,
})
export type Lesson = v.InferOutput<typeof Lesson>

/** What makes a class kit of an edition: its lessons, in a time zone, and the day after which its links end. */
export const ClassKit = v.pipe(
  v.strictObject({
    zone: Zone,
    lessons: v.pipe(v.array(Lesson), v.maxLength(LESSONS_MAX, `a class has at most ${LESSONS_MAX} lessons`)),
    lastDay: v.nullable(Day),
  }),
  v.check(
    ({ zone, lessons }) =>
      lessons.every(
        ({ closes, ...opens }) => closes === null || momentOf(closes, zone).getTime() > momentOf(opens, zone).getTime(),
      ),
    'a lesson closes after it opens',
  ),
)
export type ClassKit = v.InferOutput<typeof ClassKit>

/** How a release is cut for an audience: the same for each release that comes. */
export const EditionPlan = v.strictObject({
  version: v.literal(1),
  /** Whether everything is in it, also what comes with a newer release; else what is in a named set, tagged or named. */
  all: v.boolean(),
  sets: v.pipe(v.array(NameText), v.maxLength(BRUSHES_MAX)),
  tags: v.pipe(v.array(NameText), v.maxLength(BRUSHES_MAX)),
  brushes: Ids,
  /** What of that is left out by hand. */
  without: Ids,
  /** Brushes at fixed sizes, in order; the pockets of the release where it is absent. */
  pocket: v.nullable(
    v.pipe(
      v.array(
        v.strictObject({
          brush: NameText,
          sizePx: v.pipe(v.number(), v.minValue(SIZE_MIN_PX), v.maxValue(SIZE_MAX_PX)),
          label: LineText,
        }),
      ),
      v.maxLength(POCKET_MAX, `a pocket has at most ${POCKET_MAX} places`),
    ),
  ),
  /** How a rack is set up for it, by a setup card that goes with it; absent where none does. */
  setup: v.optional(v.nullable(RackSetup), null),
  /** For which apps, by the ids of destinations; for all of the release where it is absent. */
  destinations: v.nullable(v.pipe(v.array(v.string()), v.maxLength(DESTINATIONS_MAX))),
  /** Whether brushes are in it as open files too. */
  openFiles: v.boolean(),
  /** Under which licence; that of the release where it is empty. */
  licence: LineText,
  licenceText: v.pipe(v.string(), v.maxLength(LICENCE_TEXT_MAX_CHARS)),
  /** What is said of it, in the place of what is new in the release, which may name what is left out. */
  notes: v.pipe(
    v.string(),
    v.maxLength(EDITION_NOTES_MAX_CHARS, `notes may have ${EDITION_NOTES_MAX_CHARS} characters`),
  ),
  kit: v.nullable(ClassKit),
})
export type EditionPlan = v.InferOutput<typeof EditionPlan>

/** An edition that leaves nothing out. */
export const wholePlan = (): EditionPlan => ({
  ...{
    version: 1,
    all: true,
    sets: [],
    tags: [],
    brushes: [],
    without: [],
    pocket: null,
    setup: null,
    destinations: null,
    openFiles: true,
  },
  ...{ licence: '', licenceText: '', notes: '', kit: null },
})
