import * as v from 'valibot'
import { readRecipe } from '../brush/migrate-recipe.ts'
import { Recipe, SIZE_MAX_PX, SIZE_MIN_PX } from '../brush/recipe.ts'
import { Thumbnail } from '../brush/thumbnail.ts'
import { FormatError } from '../errors.ts'
import { FRAMES_MAX, NAME_MAX_CHARS } from '../limits.ts'

export const PACK_FORMAT = 'satchel-pack'
export const PACK_VERSION = 3
export const PACK_EXTENSION = '.satchel.zip'
export const MANIFEST_PATH = 'pack.json'

const HELP_MAX_CHARS = 20_000
const BRUSHES_MAX = 20_000

const Name = v.pipe(v.string(), v.minLength(1), v.maxLength(NAME_MAX_CHARS))
const Line = v.pipe(v.string(), v.maxLength(NAME_MAX_CHARS))
const Sha256 = v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/))

const PackBrush = v.strictObject({
  /** Unique within the pack; sets refer to it. */
  id: Name,
  name: Name,
  maker: Line,
  licence: Line,
  tags: v.pipe(v.array(Name), v.maxLength(50)),
  recipe: Recipe,
  /** Names of the frames' pixels, in order; each is the file `tips/SHA256.png`, a ribbon's strip `strips/SHA256.png`. */
  frames: v.pipe(v.array(Sha256), v.minLength(1), v.maxLength(FRAMES_MAX)),
  /** What its picture among the thumbnails is made from; a region or words are kept only there. */
  thumbnail: Thumbnail,
})

/** A grain or strip by the name of its pixels, and what the curator calls it. */
const PackMaterial = v.strictObject({ sha256: Sha256, name: Name })

/** A pocket: brushes of the pack at fixed sizes, in order; the same brush may be there more than once. */
const PackPocket = v.strictObject({
  name: Name,
  entries: v.array(
    v.strictObject({
      brush: Name,
      sizePx: v.pipe(v.number(), v.minValue(SIZE_MIN_PX), v.maxValue(SIZE_MAX_PX)),
      label: Line,
    }),
  ),
})

/** The content of pack.json: sets in order, each with its brushes in order; a brush may be in many sets. */
export const PackManifest = v.strictObject({
  format: v.literal(PACK_FORMAT),
  version: v.literal(PACK_VERSION),
  title: Name,
  maker: Line,
  licence: Line,
  help: v.pipe(v.string(), v.maxLength(HELP_MAX_CHARS)),
  release: Line,
  brushes: v.pipe(v.array(PackBrush), v.maxLength(BRUSHES_MAX)),
  /** All grains that the brushes use; each is the file `grains/SHA256.png`. */
  grains: v.pipe(v.array(PackMaterial), v.maxLength(BRUSHES_MAX)),
  /** All strips that the ribbon brushes use. */
  strips: v.pipe(v.array(PackMaterial), v.maxLength(BRUSHES_MAX)),
  sets: v.array(v.strictObject({ name: Name, brushes: v.array(Name) })),
  pockets: v.array(PackPocket),
})

export type PackManifest = v.InferOutput<typeof PackManifest>
export type PackBrush = v.InferOutput<typeof PackBrush>
export type PackMaterial = v.InferOutput<typeof PackMaterial>

const PACK = 'Satchel pack'

/** Each older version's step to the next. */
const STEPS: Record<number, (manifest: Record<string, unknown>) => Record<string, unknown>> = {
  // Version 2 adds grains, strips and pockets; the first version had none of them.
  1: (manifest) => ({ ...manifest, version: 2, grains: [], strips: [], pockets: [] }),
  // Version 3 says what each thumbnail is made from; before, all were the stroke.
  2: (manifest) => ({ ...manifest, version: 3, brushes: withStrokeThumbnails(manifest.brushes) }),
}

const withStrokeThumbnails = (brushes: unknown): unknown =>
  Array.isArray(brushes) ? brushes.map((brush) => ({ ...brush, thumbnail: { from: 'stroke' } })) : brushes

/** The file of a brush's frame within the pack. */
export const framePath = ({ recipe }: Pick<PackBrush, 'recipe'>, sha256: string): string =>
  `${recipe.path.ribbon ? 'strips' : 'tips'}/${sha256}.png`

/** The file of a grain within the pack. */
export const grainPath = (sha256: string): string => `grains/${sha256}.png`

/** The file of a brush's thumbnail within the pack, by the brush's place in the manifest, counted from 0. */
export const thumbnailPath = (place: number): string => `thumbnails/${String(place + 1).padStart(4, '0')}.png`

/**
 * Reads the text of pack.json, of any version this product has written.
 * @throws {FormatError} If it is no such pack, is newer than this product, or a reference in it leads nowhere.
 */
export function parseManifest(text: string): PackManifest {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch (cause) {
    throw new FormatError(PACK, 0, 'a pack.json that is JSON', { cause })
  }
  const manifest = migrate(value)
  const result = v.safeParse(PackManifest, manifest)
  if (!result.success) {
    const [issue] = result.issues
    throw new FormatError(
      PACK,
      0,
      `${v.getDotPath(issue) ?? 'pack.json'} to be ${issue.expected ?? issue.message}, found ${issue.received}`,
    )
  }
  checkReferences(result.output)
  return result.output
}

function migrate(value: unknown): unknown {
  if (typeof value !== 'object' || value === null || !('format' in value) || value.format !== PACK_FORMAT) {
    throw new FormatError(PACK, 0, `format "${PACK_FORMAT}"`)
  }
  let manifest = value as Record<string, unknown>
  while (typeof manifest.version === 'number' && STEPS[manifest.version]) manifest = STEPS[manifest.version](manifest)
  if (manifest.version !== PACK_VERSION) {
    throw new FormatError(PACK, 0, `version ${PACK_VERSION} or older, found ${JSON.stringify(manifest.version)}`)
  }
  if (!Array.isArray(manifest.brushes)) throw new FormatError(PACK, 0, 'a list of brushes')
  return { ...manifest, brushes: manifest.brushes.map((brush) => ({ ...brush, recipe: readRecipe(brush?.recipe) })) }
}

function checkReferences({ brushes, grains, strips, sets, pockets }: PackManifest): void {
  const ids = new Set(brushes.map((brush) => brush.id))
  if (ids.size !== brushes.length) throw new FormatError(PACK, 0, 'each brush once')
  for (const set of sets) {
    const missing = set.brushes.find((id) => !ids.has(id))
    if (missing !== undefined) throw new FormatError(PACK, 0, `the brush "${missing}" of set "${set.name}" in the pack`)
  }
  for (const pocket of pockets) {
    const missing = pocket.entries.find((entry) => !ids.has(entry.brush))
    if (missing) throw new FormatError(PACK, 0, `the brush "${missing.brush}" of pocket "${pocket.name}" in the pack`)
  }
  const named = new Set([...grains, ...strips].map(({ sha256 }) => sha256))
  for (const { name, recipe, frames, thumbnail } of brushes) {
    if (thumbnail.from === 'frame' && thumbnail.frame >= frames.length)
      throw new FormatError(PACK, 0, `frame ${thumbnail.frame + 1}, the thumbnail of "${name}", in the pack`)
    const wanted = [recipe.ground.grain?.sha256, recipe.path.ribbon && frames[0]]
    const missing = wanted.find((sha256) => sha256 !== undefined && !named.has(sha256))
    if (missing !== undefined) throw new FormatError(PACK, 0, `the grain or strip ${missing} of "${name}" in the pack`)
  }
}
