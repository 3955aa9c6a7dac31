import * as v from 'valibot'
import { toOneLine } from '../formats/text.ts'
import type { LaidEntry } from '../formats/zip/layout.ts'
import type { PackManifest } from './manifest.ts'
import { SIGNATURE_PATH, SIGNER_PATH } from './signature.ts'
import { SUMS_PATH } from './sums.ts'
import { COVER_PATH, HELP_PATH, LICENCE_PATH } from './write.ts'

const count = v.pipe(v.number(), v.safeInteger(), v.minValue(0))

const PlacedFile = v.strictObject({
  path: v.string(),
  method: count,
  crc: count,
  packedBytes: count,
  sizeBytes: count,
  /** Where its packed bytes begin in the download. */
  at: count,
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
  /** The file that holds everything for Gentle Satchel. */
  satchelPath: v.string(),
  apps: v.array(App),
})
export type Contents = v.InferOutput<typeof Contents>

/** What the open files are for: any program. */
export const OPEN_FILES = -1

/** What is asked of a download: for whom, and how much. */
export const Part = v.strictObject({
  /** An app by its id, the open files, or the one file with everything for Gentle Satchel. */
  as: v.variant('kind', [
    v.strictObject({ kind: v.literal('app'), id: v.pipe(v.string(), v.maxLength(100)) }),
    v.strictObject({ kind: v.literal('open') }),
    v.strictObject({ kind: v.literal('satchel') }),
  ]),
  /** Everything, a set by its place in the manifest, or a brush by its id. */
  of: v.variant('kind', [
    v.strictObject({ kind: v.literal('all') }),
    v.strictObject({ kind: v.literal('set'), at: v.pipe(count, v.maxValue(100_000)) }),
    v.strictObject({ kind: v.literal('brush'), id: v.pipe(v.string(), v.maxLength(100)) }),
  ]),
})
export type Part = v.InferOutput<typeof Part>

const AS_WORDS = /^(?:app\.(.{1,100})|(open)|(satchel))$/s
const OF_WORDS = /^(?:(all)|set\.(\d{1,6})|brush\.(.{1,100}))$/s

/** A part in the words of an address; `readPart` takes them. */
export const nameOfPart = ({ as, of }: Part): { as: string; of: string } => ({
  as: as.kind === 'app' ? `app.${as.id}` : as.kind,
  of: of.kind === 'set' ? `set.${of.at}` : of.kind === 'brush' ? `brush.${of.id}` : of.kind,
})

/** The part that an address names; `undefined` where it names none. */
export function readPart(as: string, of: string): Part | undefined {
  const [, app, open] = AS_WORDS.exec(as) ?? []
  const [, all, set, brush] = OF_WORDS.exec(of) ?? []
  if (!AS_WORDS.test(as) || !OF_WORDS.test(of)) return undefined
  return {
    as: app !== undefined ? { kind: 'app', id: app } : { kind: open === undefined ? 'satchel' : 'open' },
    of: all
      ? { kind: 'all' }
      : set !== undefined
        ? { kind: 'set', at: Number(set) }
        : { kind: 'brush', id: brush ?? '' },
  }
}

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
export const STEPS_PATH = 'STEPS.txt'

/** The files of an archive that is given for a part, without the text of its steps. */
export function entriesOfPart({ files }: Contents, chosen: Chosen, part: Part): LaidEntry[] {
  const beside = part.of.kind === 'brush' ? WITH_ONE : WITH_EACH
  const texts = files.filter(({ of, path }) => of === undefined && beside.includes(path))
  return [...texts, ...chosen.files].map(({ of: _, brushes: __, ...entry }) => entry)
}

/**
 * What somebody does with the files of an app, or with open files, after fetching them. A sentence each.
 * @param zipName What the archive is called, where that is known.
 */
export function stepsOf(
  app: Pick<Contents['apps'][number], 'name' | 'afterCopying' | 'folder'> | undefined,
  zipName?: string,
): string[] {
  const unpack = `Unpack ${zipName === undefined ? 'what you got' : `"${zipName}"`}: on most systems, open it and drag out what is in it.`
  if (!app)
    return [
      unpack,
      'Copy the brush files (GBR, GIH) or the pictures (PNG) to where your app looks for brushes. Its help says where that is.',
      'Start your app anew if it does not show them.',
    ]
  return [
    unpack,
    `Copy what is in the folder "${app.folder}" into the brush folder of ${app.name}.`,
    ...(app.afterCopying.length > 0 ? app.afterCopying : [`Start ${app.name} anew if it does not show them.`]),
  ]
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
