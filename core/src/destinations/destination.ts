import * as v from 'valibot'
import type { PartName } from '../brush/parts.ts'
import { FormatError } from '../errors.ts'
import { FRAMES_MAX, NAME_MAX_CHARS, PICTURE_PIXELS_MAX, PICTURE_SIDE_MAX_PX } from '../limits.ts'
import { toFileName } from '../pack/file-name.ts'
import { CARRY_ROWS, type Knowledge } from './carry-parts.ts'

/** The file that holds a brush of one picture. */
export const CONTAINERS = ['png', 'gbr', 'openraster', 'svg', 'satchel'] as const
/** What becomes of several pictures: an animated file, layers of one, a pack, a brush each, or the first alone. */
export const SEVERAL = ['gih', 'apng', 'layers', 'satchel', 'oneEach', 'first'] as const
export const GRAIN_PLACES = ['inside', 'beside', 'path', 'none'] as const

const side = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(PICTURE_SIDE_MAX_PX))
const line = (most: number) => v.pipe(v.string(), v.trim(), v.nonEmpty('a text is needed'), v.maxLength(most))

/** What stands for the words of a template while it is looked at: a name that every system takes. */
const ANY_NAME = 'x'

/**
 * A path of names with `{app}`, `{library}`, `{set}` and `{name}` in it; no way out of its folder, and no part that a system
 * would take for something else: dots and spaces at its ends, control characters, words that are kept for devices.
 */
const Template = v.pipe(
  v.string(),
  v.maxLength(200),
  v.check(
    (text) =>
      text
        .replace(/\{(?:app|library|set|name)\}/g, ANY_NAME)
        .split('/')
        .every((part) => part === '' || toFileName(part) === part.normalize('NFC')),
    'folders inside the folder of the app, with names that every system takes',
  ),
)

const Pictures = v.pipe(
  v.strictObject({
    leastPx: side,
    mostPx: side,
    /** Whether it takes colours, or greys alone. */
    colour: v.boolean(),
    square: v.boolean(),
    powersOfTwo: v.boolean(),
    /** Whether it cuts every picture to the circle inside. */
    circle: v.boolean(),
    /** The one size that it takes, where there is one. */
    canvas: v.optional(v.strictObject({ width: side, height: side })),
    depth: v.picklist([8, 16]),
    /** Whether a brush paints as large as its picture is, px for px. */
    isOwnSize: v.boolean(),
  }),
  v.check(({ leastPx, mostPx }) => leastPx <= mostPx, 'the least side is not above the largest'),
  v.check(
    ({ canvas }) => !canvas || canvas.width * canvas.height <= PICTURE_PIXELS_MAX,
    `a canvas of ${PICTURE_PIXELS_MAX / 1e6} million pixels at most`,
  ),
  v.check(
    ({ square, circle, powersOfTwo, leastPx }) =>
      !(square || circle || powersOfTwo) || leastPx ** 2 <= PICTURE_PIXELS_MAX,
    `squares of ${PICTURE_PIXELS_MAX / 1e6} million pixels at most`,
  ),
)

const Names = v.strictObject({
  mostChars: v.pipe(v.number(), v.integer(), v.minValue(4), v.maxValue(NAME_MAX_CHARS)),
  /** Plain: letters without marks, figures, spaces, hyphens. */
  letters: v.picklist(['any', 'plain']),
  letterCase: v.picklist(['any', 'lower']),
  /** Where no two may be called the same. */
  unique: v.picklist(['folder', 'everywhere']),
})

const Extension = v.pipe(v.string(), v.regex(/^[a-z0-9]{1,12}$/, 'an extension of small letters and figures'))

const Files = v.strictObject({
  single: v.picklist(CONTAINERS),
  several: v.picklist(SEVERAL),
  mostFrames: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(FRAMES_MAX)),
  folder: Template,
  /** Where grains lie that have a file of their own. */
  grainFolder: Template,
  /** Where it differs from the usual one of the kind; without the dot. */
  extension: v.optional(Extension),
  /** Whether a file beside the pictures says what is known of the recipe; its extension, without the dot. */
  settings: v.optional(Extension),
})

const Knows = v.strictObject(
  Object.fromEntries(CARRY_ROWS.map(({ name, row }) => [name, v.optional(row.said, false)])) as Record<
    PartName,
    v.OptionalSchema<v.GenericSchema<unknown, Knowledge>, false>
  >,
)

export const DESTINATION_VERSION = 1
/** The stand-ins, which read what is put into their folders. */
export const STAND_INS = ['dunlin', 'shearwater', 'plover', 'turnstone', 'sanderling'] as const
export type StandInName = (typeof STAND_INS)[number]

/** A description of a painting app: what it can take, and where its files go. */
export const Destination = v.strictObject({
  version: v.literal(DESTINATION_VERSION),
  name: line(NAME_MAX_CHARS),
  about: v.pipe(v.string(), v.maxLength(400)),
  /** The app's own version, which may be part of its folders. */
  appVersion: line(20),
  files: Files,
  pictures: Pictures,
  names: Names,
  /** Where the grain of a brush lies. */
  grain: v.picklist(GRAIN_PLACES),
  /** Which parts of the recipe it knows; what is not named is not known. */
  knows: Knows,
  /** What must be pressed after copying, a step each. */
  afterCopying: v.pipe(
    v.array(v.pipe(v.string(), v.trim(), v.maxLength(200))),
    v.transform((steps) => steps.filter((step) => step !== '')),
    v.maxLength(8),
  ),
  /** The stand-in that reads its files; likeness is what that paints. */
  standIn: v.optional(v.picklist(STAND_INS)),
})
export type Destination = v.InferOutput<typeof Destination>
export type Container = (typeof CONTAINERS)[number]

/** @throws {FormatError} If it is not a description of a destination. */
export function parseDestination(data: unknown): Destination {
  const result = v.safeParse(Destination, data)
  if (result.success) return result.output
  const [issue] = result.issues
  throw new FormatError('destination', undefined, `${v.getDotPath(issue) ?? 'destination'}: ${issue.message}`)
}

/** What is wrong with single parts of a description, by where they stand ("files.folder"), as parts of sentences. */
export function problemsOf(data: unknown): ReadonlyMap<string, string> {
  const { issues = [] } = v.safeParse(Destination, data)
  const said = new Map<string, string>()
  for (const issue of issues) {
    const path = v.getDotPath(issue) ?? ''
    if (!said.has(path)) said.set(path, issue.message)
  }
  return said
}

/** Sentences on what of a description does not fit together; none where it can be used. */
export function checkDestination({ files, pictures, knows, grain }: Destination): string[] {
  const readings = knows['colour.reading']
  const takes = (reading: string) => readings === true || (Array.isArray(readings) && readings.includes(reading))
  const said: [boolean, string][] = [
    [readings === false || (Array.isArray(readings) && readings.length === 0), 'It says no way to read pictures as paint.'],
    [!pictures.colour && (takes('own') || takes('tone')), 'It reads own colours or tone, yet takes greys alone.'],
    [files.single === 'gbr' && !pictures.isOwnSize && files.settings === undefined, 'An open brush paints at its own size where nothing beside it says another.'],
    [grain === 'none' && knows['ground.grain'] !== false, 'It knows grain, yet grains have no place.'],
    [grain !== 'none' && files.settings === undefined && files.single !== 'satchel', 'A grain has a place, yet nothing says to which brush it belongs.'],
    [pictures.canvas !== undefined && Math.max(pictures.canvas.width, pictures.canvas.height) > pictures.mostPx, 'The canvas is larger than the largest picture.'],
  ] // biome-ignore format: a table
  return said.filter(([isWrong]) => isWrong).map(([, sentence]) => sentence)
}
