import * as v from 'valibot'
import { toOneLine } from '../formats/text.ts'
import { FileShaText } from '../hashes.ts'
import type { PackManifest } from './manifest.ts'
import { type Part, SETS_MAX, stepsOf } from './parts.ts'
import { SIGNATURE_PATH, SIGNER_PATH } from './signature.ts'
import { SUMS_PATH } from './sums.ts'
import { COVER_PATH, HELP_PATH, LICENCE_PATH } from './write.ts'

const count = v.pipe(v.number(), v.safeInteger(), v.minValue(0))

/** A file up to the place where a copy carries whom it was issued to; see `issued/begun-file.ts`. */
const Beginning = v.strictObject({
  /** How long it is, unpacked and as it is packed. */
  bytes: count,
  packedBytes: count,
  /** Its checksums, as far as they follow from it. */
  crc: count,
  words: v.string(),
  /** As hex: what of it is in no whole block of the hash, and what stands behind the mark. */
  rest: v.string(),
  tail: v.string(),
})
export type Beginning = v.InferOutput<typeof Beginning>

const LaidFile = v.strictObject({
  path: v.string(),
  method: count,
  crc: count,
  packedBytes: count,
  sizeBytes: count,
  /** Where its packed bytes begin in the archive. */
  at: count,
  /** Absent of the checksums and their signature, and where nobody noted it. */
  sha256: v.optional(FileShaText),
  /** Absent where no mark stands in such files. */
  beginning: v.optional(Beginning),
  /** The CRC of its packed bytes, or of those of its beginning where it has one; absent where nothing is packed. */
  packedCrc: v.optional(count),
})
export type LaidFile = v.InferOutput<typeof LaidFile>

const PlacedFile = v.strictObject({
  ...LaidFile.entries,
  /** The app it is for, by its place among `apps`; -1 of the open files; absent of what is for everybody. */
  of: v.optional(v.pipe(v.number(), v.safeInteger(), v.minValue(-1))),
  /** Brushes that need it, by their places in the manifest. */
  brushes: v.array(count),
})
export type PlacedFile = v.InferOutput<typeof PlacedFile>

const words = v.array(v.string())
/** What became of a brush on its way to an app. */
const Arrives = v.strictObject({
  brush: count,
  likeness: v.number(),
  kept: words,
  approximated: words,
  left: words,
})
export type Arrives = v.InferOutput<typeof Arrives>

const App = v.strictObject({
  id: v.string(),
  name: v.string(),
  appVersion: v.string(),
  /** Its folder in the download. */
  folder: v.string(),
  /** What must be pressed after copying. */
  afterCopying: words,
  arrives: v.array(Arrives),
  /** Brushes that could not be written for it, and why. */
  refused: v.array(v.strictObject({ brush: count, why: v.string() })),
})

/** What lies in a download: each file, where its bytes are, and for whom it is. Written once, when it is built. */
export const Contents = v.strictObject({
  version: v.literal(1),
  files: v.array(PlacedFile),
  /** What lies in the Satchel pack, each by its place in that. Absent of downloads that were built before copies were marked. */
  inner: v.optional(v.array(LaidFile)),
  /** The file that holds everything for Gentle Satchel. */
  satchelPath: v.string(),
  apps: v.array(App),
})
export type Contents = v.InferOutput<typeof Contents>

/** What the open files are for: any program. */
export const OPEN_FILES = -1

/** A part as it is stored with what was fetched of it. */
export const StoredPart: v.GenericSchema<unknown, Part> = v.strictObject({
  as: v.variant('kind', [
    v.strictObject({ kind: v.literal('app'), id: v.pipe(v.string(), v.maxLength(100)) }),
    v.strictObject({ kind: v.literal('open') }),
    v.strictObject({ kind: v.literal('satchel') }),
  ]),
  of: v.variant('kind', [
    v.strictObject({ kind: v.literal('all') }),
    v.strictObject({ kind: v.literal('set'), at: v.pipe(count, v.maxValue(SETS_MAX)) }),
    v.strictObject({ kind: v.literal('brush'), id: v.pipe(v.string(), v.maxLength(100)) }),
  ]),
})

/** What a part is called and holds; `undefined` where the download has no such part. */
export type Chosen = {
  /** The set or the brush, where it is no more than that. */
  called: string | undefined
  app: Contents['apps'][number] | undefined
  /** The files asked for. */
  files: PlacedFile[]
  /** Brushes of it that have no file there. */
  refused: Contents['apps'][number]['refused']
}

/**
 * The files of a download that a part needs, in the order in which they lie there. A file that several brushes share goes with
 * each of them.
 */
export function choosePart(contents: Contents, manifest: PackManifest, { as, of }: Part): Chosen | undefined {
  if (as.kind === 'satchel') {
    const files = contents.files.filter(({ path }) => path === contents.satchelPath)
    return of.kind === 'all' && files.length > 0 ? { called: undefined, app: undefined, files, refused: [] } : undefined
  }
  const at = as.kind === 'open' ? OPEN_FILES : contents.apps.findIndex(({ id }) => id === as.id)
  const app = contents.apps[at]
  const wanted = wantedBrushes(manifest, of)
  if (!wanted || (as.kind === 'app' && !app)) return undefined
  const isWanted = (brush: number) => wanted.brushes === undefined || wanted.brushes.has(brush)
  const files = contents.files.filter(
    // what is of the app and of no brush, like the page of all its brushes, goes with all of them
    (file) =>
      file.of === at && (file.brushes.length === 0 ? wanted.brushes === undefined : file.brushes.some(isWanted)),
  )
  if (files.length === 0) return undefined
  return { called: wanted.called, app, files, refused: app?.refused.filter(({ brush }) => isWanted(brush)) ?? [] }
}

/** How many files something has, and how many bytes they take in the download. */
export type PartSize = { files: number; bytes: number }

/**
 * How large each brush and each set would be alone, for an app by its place or for the open files: in one pass over the files.
 * @returns In the order of the manifest; what a part of it has is `choosePart`'s to say.
 */
export function partSizes(
  { files }: Contents,
  { brushes, sets }: PackManifest,
  app: number,
): { brushes: PartSize[]; sets: PartSize[] } {
  const none = (): PartSize => ({ files: 0, bytes: 0 })
  const sizes = { brushes: brushes.map(none), sets: sets.map(none) }
  const setsOf = new Map<string, number[]>()
  for (const [at, set] of sets.entries())
    for (const id of new Set(set.brushes)) setsOf.set(id, [...(setsOf.get(id) ?? []), at])
  const count = (size: PartSize | undefined, bytes: number) => {
    if (!size) return
    size.files++
    size.bytes += bytes
  }
  for (const { of, brushes: users, packedBytes } of files) {
    if (of !== app) continue
    for (const place of users) count(sizes.brushes[place], packedBytes)
    // a file that several brushes of a set share is in it once
    const its = new Set(users.flatMap((place) => setsOf.get(brushes[place]?.id ?? '') ?? []))
    for (const at of its) count(sizes.sets[at], packedBytes)
  }
  return sizes
}

/** The brushes of a part by their places; all where that is not said. */
function wantedBrushes(
  { brushes, sets }: PackManifest,
  of: Part['of'],
): { called: string | undefined; brushes: ReadonlySet<number> | undefined } | undefined {
  if (of.kind === 'all') return { called: undefined, brushes: undefined }
  const set = of.kind === 'set' ? sets[of.at] : undefined
  const ids = new Set(of.kind === 'set' ? (set?.brushes ?? []) : [of.id])
  const places = brushes.flatMap(({ id }, place) => (ids.has(id) ? [place] : []))
  if (places.length === 0) return undefined
  const called = of.kind === 'set' ? set?.name : brushes[places[0] ?? 0]?.name
  return { called, brushes: new Set(places) }
}

/** What goes with each part: the licence, the help, the cover, and who signs the bytes of all that. */
const WITH_EACH: readonly string[] = [LICENCE_PATH, HELP_PATH, COVER_PATH, SUMS_PATH, SIGNATURE_PATH, SIGNER_PATH]
const WITH_ONE: readonly string[] = [LICENCE_PATH, SUMS_PATH, SIGNATURE_PATH, SIGNER_PATH]

/** The files of an archive that is given for a part, without the text of its steps. */
export function entriesOfPart({ files }: Contents, chosen: Chosen, part: Part): LaidFile[] {
  const beside = part.of.kind === 'brush' ? WITH_ONE : WITH_EACH
  const texts = files.filter(({ of, path }) => of === undefined && beside.includes(path))
  return [...texts, ...chosen.files].map(({ of: _, brushes: __, ...entry }) => entry)
}

/** The text that goes with a part: what it is, what to do, and how to check it. */
export function stepsText(manifest: PackManifest, { called, app, refused }: Chosen, zipName: string): string {
  const { title, release, maker, licence, brushes } = manifest
  const said = [
    `${called === undefined ? '' : `${toOneLine(called, called.length)}, of `}${title}${release === '' ? '' : `, release ${release}`}${app ? `, for ${`${app.name} ${app.appVersion}`.trim()}` : ''}`,
    ...(maker ? [`Made by ${maker}`] : []),
    `Licence: ${licence || 'see LICENSE.txt'}`,
    '',
    'What to do',
    ...stepsOf(app, zipName).map((step, i) => `  ${i + 1}. ${step}`),
    '',
    ...(refused.length > 0
      ? ['Not in it', ...refused.map(({ brush, why }) => `  ${brushes[brush]?.name ?? ''}: ${why}`), '']
      : []),
    'This is a part of the whole download. To check that nothing in it was damaged:',
    `  sha256sum -c --ignore-missing ${SUMS_PATH}`,
    '',
  ]
  return said.join('\n')
}
