import * as v from 'valibot'
import { Recipe, SIZE_MAX_PX, SIZE_MIN_PX } from '../brush/recipe.ts'
import { Thumbnail } from '../brush/thumbnail.ts'
import { PixelShaText } from '../hashes.ts'
import { FRAMES_MAX } from '../limits.ts'
import { LineText, NameText } from '../names.ts'
import { CopyMark } from './issued/mark.ts'
import { SetupCard } from './setup-card.ts'

export const PACK = 'Satchel pack'
export const PACK_FORMAT = 'satchel-pack'
export const PACK_VERSION = 7
export const PACK_EXTENSION = '.satchel.zip'
export const MANIFEST_PATH = 'pack.json'

/** Characters of what is said of one brush. */
export const NOTE_MAX_CHARS = 500
/** Characters of a pack's help page. */
export const HELP_MAX_CHARS = 20_000
/** Destinations that one pack is meant for. */
export const DESTINATIONS_MAX = 50
/** Brushes of one pack. */
export const BRUSHES_MAX = 20_000
const KEYS_MAX = 64
const KEY_MAX_CHARS = 200

/** A part of a line of an open animated brush: nothing that would end it. */
const KeyText = v.pipe(v.string(), v.maxLength(KEY_MAX_CHARS), v.regex(/^\S*$/))

export const PackBrush = v.strictObject({
  /** Unique within the pack; sets refer to it. */
  id: NameText,
  name: NameText,
  maker: LineText,
  licence: LineText,
  tags: v.pipe(v.array(NameText), v.maxLength(50)),
  recipe: Recipe,
  /** Names of the frames' pixels, in order; each is the file `tips/SHA256.png`, a ribbon's strip `strips/SHA256.png`. */
  frames: v.pipe(v.array(PixelShaText), v.minLength(1), v.maxLength(FRAMES_MAX)),
  /** What each frame is called, where the file it came in said so; else none. */
  frameNames: v.pipe(v.array(LineText), v.maxLength(FRAMES_MAX)),
  /** Keys of the open animated brush it came as that mean nothing here; they are written back. */
  keys: v.pipe(
    v.array(v.strictTuple([v.pipe(KeyText, v.minLength(1), v.regex(/^[^:]*$/)), KeyText])),
    v.maxLength(KEYS_MAX),
  ),
  /** What its picture among the thumbnails is made from; a region or words are kept only there. */
  thumbnail: Thumbnail,
  /** What the maker says to whoever paints with it in this pack; empty where nothing. */
  note: v.pipe(v.string(), v.maxLength(NOTE_MAX_CHARS)),
})

/** A grain or strip by the name of its pixels, and what the curator calls it. */
const PackMaterial = v.strictObject({ sha256: PixelShaText, name: NameText })

/** A pocket: brushes of the pack at fixed sizes, in order; the same brush may be there more than once. */
const PackPocket = v.strictObject({
  name: NameText,
  entries: v.array(
    v.strictObject({
      brush: NameText,
      sizePx: v.pipe(v.number(), v.minValue(SIZE_MIN_PX), v.maxValue(SIZE_MAX_PX)),
      label: LineText,
    }),
  ),
})

/**
 * The content of pack.json: single brushes in order, then sets in order, each with its brushes in order; a brush may be in
 * many sets.
 */
export const PackManifest = v.strictObject({
  format: v.literal(PACK_FORMAT),
  version: v.literal(PACK_VERSION),
  /** Names the pack that this is a release of: the same in all of them. Absent of a file of one brush, a set or a library. */
  pack: v.optional(NameText),
  title: NameText,
  maker: LineText,
  licence: LineText,
  help: v.pipe(v.string(), v.maxLength(HELP_MAX_CHARS)),
  release: LineText,
  brushes: v.pipe(v.array(PackBrush), v.maxLength(BRUSHES_MAX)),
  /** All grains that the brushes use; each is the file `grains/SHA256.png`. */
  grains: v.pipe(v.array(PackMaterial), v.maxLength(BRUSHES_MAX)),
  /** All strips that the ribbon brushes use. */
  strips: v.pipe(v.array(PackMaterial), v.maxLength(BRUSHES_MAX)),
  /** Brushes that stand in the pack by themselves, in order; they come before the sets, and may be in some too. */
  single: v.array(NameText),
  sets: v.array(v.strictObject({ name: NameText, brushes: v.array(NameText) })),
  pockets: v.array(PackPocket),
  /** How to set up a rack for it; the pockets above go with that. */
  setup: v.optional(SetupCard),
  /** What the destinations are called that it is meant for. */
  destinations: v.pipe(v.array(NameText), v.maxLength(DESTINATIONS_MAX)),
  /** Whom this copy was issued to; absent of what was released. */
  issued: v.optional(CopyMark),
})

export type PackManifest = v.InferOutput<typeof PackManifest>
export type PackBrush = v.InferOutput<typeof PackBrush>
export type PackMaterial = v.InferOutput<typeof PackMaterial>

/** The file of a brush's frame within the pack. */
export const framePath = ({ recipe }: Pick<PackBrush, 'recipe'>, sha256: string): string =>
  `${recipe.path.ribbon ? 'strips' : 'tips'}/${sha256}.png`

/** The file of a grain within the pack. */
export const grainPath = (sha256: string): string => `grains/${sha256}.png`

/** The file of a brush's thumbnail within the pack, by the brush's number in the manifest, counted from 0. */
export const thumbnailPath = (i: number): string => `thumbnails/${String(i + 1).padStart(4, '0')}.png`
