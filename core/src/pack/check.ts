import { THUMBNAIL_SIZE } from '../brush/thumbnail.ts'
import type { BrushFile } from '../brush-file/brush-file.ts'
import { type Decoders, FILE_KINDS, readBrushFile, sniffKind } from '../brush-file/kinds.ts'
import { FormatError, LimitError } from '../errors.ts'
import { fromLatin1, fromUtf8 } from '../formats/text.ts'
import { type ByteSource, toByteSource, type ZipEntry } from '../formats/zip/layout.ts'
import { listZip, openStoredEntry, readZipEntry, type ZipCodecs } from '../formats/zip/read.ts'
import { type FileSha, type HashBytes, hashPixels, type PixelSha } from '../hashes.ts'
import { ARCHIVE_NESTING_MAX, MANIFEST_MAX_BYTES } from '../limits.ts'
import { isBlank } from '../raster/blank.ts'
import type { Pixels } from '../raster/pixels.ts'
import { type Expected, expectedInPack, OpenFileContents } from './expected.ts'
import { type CopyMark, checkMark, isSameMark } from './issued/mark.ts'
import { markKindOf, takeMark } from './issued/mark-kinds.ts'
import { RELEASED_PATHS } from './issued/released-paths.ts'
import { MANIFEST_PATH, PACK_EXTENSION } from './manifest.ts'
import { STEPS_PATH } from './parts.ts'
import { parseManifest } from './read-manifest.ts'
import { type CheckSignature, SIGNATURE_PATH, SIGNER_PATH, UNLISTED_PATHS } from './signature.ts'
import { parseSums, SUMS_PATH } from './sums.ts'
import { APPS_FOLDER } from './write.ts'

/** What a check works with: readers of the platform, the same that take files in. */
export type CheckTools = {
  codecs: ZipCodecs
  decoders: Decoders
  hash: HashBytes
  checkSignature: CheckSignature
  /** The hash of something that is too large for memory. */
  hashSource(source: ByteSource): Promise<FileSha>
}

/** Who has signed the checksums of an archive. */
export type SignedBy = { fingerprint: string; isValid: boolean }

/** One file looked at: which of how many, its path, and what is wrong with it, in sentences. */
export type CheckStep = {
  done: number
  total: number
  path: string
  problems: string[]
  /** Said with the last step of an archive; absent where nobody has signed it. */
  signedBy?: SignedBy
  /** Whom a copy was issued to, and who has signed what was released before; said with that step too. */
  issued?: CopyMark
  releasedBy?: SignedBy
}

/**
 * Verifies a download, or a Satchel pack alone: the archive, every checksum, every picture and brush file, that pictures
 * are the ones they are named after, that open files hold what the pack beside them does, and that nothing is there
 * besides. Of a copy that was issued to somebody each file must say so, and be as it was released but for that. What a reader
 * would put right in a stranger's file counts as a problem here.
 *
 * @returns One step a file; whoever asks may stop between two of them.
 * @throws {FormatError | LimitError} If the archive itself cannot be read, or is no download.
 */
export async function* checkDownload(source: ByteSource, tools: CheckTools): AsyncGenerator<CheckStep> {
  yield* checkArchive({ source, tools, under: '', depth: 1 })
}

/** Whether a file lies in the folder of an app. */
const isOfApp = (path: string) => path.startsWith(`${APPS_FOLDER}/`)

type Archive = {
  source: ByteSource
  tools: CheckTools
  /** Where it lies in the outermost archive, and how deep; that one counts as 1. */
  under: string
  depth: number
}
/** What is known about the files of an archive before they are read. */
type Known = {
  /** What the signature is of. */
  sumsBytes: Uint8Array
  sums: Map<string, FileSha>
  /** All that a pack may hold; undefined for a download. */
  pack: Map<string, Expected> | undefined
  /** Filled with the pictures of a pack. */
  contents: OpenFileContents | undefined
  /** What open files must hold, by path. */
  open: Map<string, (PixelSha | undefined)[]>
  /** Of a copy: what its files were when they were released, and whom they say they were issued to. */
  copy: Copy | undefined
}
type Copy = { sums: Map<string, FileSha>; sumsBytes: Uint8Array; mark: CopyMark | undefined }
type Checked = { contents: OpenFileContents | undefined; mark: CopyMark | undefined }

/** The names of the release's own checksums, their signature and its signer in a copy. */
const [RELEASED_SUMS = '', RELEASED_SIGNATURE = '', RELEASED_SIGNER = ''] = RELEASED_PATHS.values()
const isOfRelease = (path: string) => [RELEASED_SUMS, RELEASED_SIGNATURE, RELEASED_SIGNER].includes(path)

async function* checkArchive(archive: Archive): AsyncGenerator<CheckStep, Checked> {
  const { source, tools, under, depth } = archive
  if (depth > ARCHIVE_NESTING_MAX)
    throw new LimitError('the depth of archives inside archives', depth, ARCHIVE_NESTING_MAX)
  const entries = await listZip(source, { unpackedMaxBytes: Number.POSITIVE_INFINITY })
  const known = await readKnown(archive, entries)
  // The pack inside comes first: it tells what the open files beside it must hold.
  const files = entries.filter(({ path }) => path !== SUMS_PATH && !UNLISTED_PATHS.includes(path))
  files.sort((a, b) => Number(b.path.endsWith(PACK_EXTENSION)) - Number(a.path.endsWith(PACK_EXTENSION)))
  for (const [done, entry] of files.entries()) {
    let problems: string[]
    if (entry.path.endsWith(PACK_EXTENSION) && !isOfApp(entry.path)) {
      const nested = await openNested(archive, entry, known)
      problems = nested.problems
      const at = { tools, under: `${under}${entry.path}/`, depth: depth + 1 }
      const inside = yield* checkArchive({ source: nested.source, ...at })
      for (const [path, pictures] of inside.contents?.byPath() ?? []) known.open.set(path, pictures)
      // that of a copy has checksums of its own, signed by the same
      if (known.copy) problems.push(...noteMark(known.copy, inside.mark))
      else if (inside.mark) problems.push('it is a copy that was issued alone.')
    } else problems = await checkFile(archive, entry, known)
    yield {
      done,
      total: files.length,
      path: under + entry.path,
      problems: problems.map((what) => `${under}${entry.path}: ${what}`),
    }
  }
  const signature = await readSignature(archive, entries, [SUMS_PATH, SIGNATURE_PATH, SIGNER_PATH], known.sumsBytes)
  const { copy } = known
  const released =
    copy &&
    (await readSignature(archive, entries, [RELEASED_SUMS, RELEASED_SIGNATURE, RELEASED_SIGNER], copy.sumsBytes))
  const there = new Set(entries.map(({ path }) => path))
  const wanted = [...(known.pack?.keys() ?? []), ...known.open.keys()].filter((path) => !there.has(path))
  const missing = [...known.sums.keys(), ...wanted]
  const problems = [...new Set(missing)].map((path) => `${under}${path}: it is missing.`)
  const signed = [signature, released ?? {}].flatMap(({ problem }) => problem ?? [])
  const { signedBy } = signature
  if (copy?.mark && !(await isMarkSigned(archive, entries, copy.mark)))
    signed.push(`${under}${SIGNER_PATH}: whom it was issued to was changed, or another one says so.`)
  yield {
    done: files.length,
    total: files.length,
    path: under,
    problems: [...problems, ...signed],
    ...(signedBy ? { signedBy } : {}),
    ...(copy?.mark ? { issued: copy.mark } : {}),
    ...(released?.signedBy ? { releasedBy: released.signedBy } : {}),
  }
  return { contents: known.contents, mark: copy?.mark }
}

/** Notes whom a file says it was issued to: all of a copy say the same. */
function noteMark(copy: Copy, mark: CopyMark | undefined): string[] {
  if (!mark) return ['it does not say whom it was issued to.']
  copy.mark ??= mark
  return isSameMark(copy.mark, mark) ? [] : ['it was issued to another one.']
}

async function isMarkSigned(archive: Archive, entries: readonly ZipEntry[], mark: CopyMark): Promise<boolean> {
  const pem = await readSmall(archive, entries, SIGNER_PATH)
  return pem !== undefined && checkMark(mark, fromLatin1(pem), archive.tools.checkSignature)?.isValid === true
}

async function readKnown({ source, tools, under }: Archive, entries: readonly ZipEntry[]): Promise<Known> {
  const sums = await readSmall({ source, tools, under }, entries, SUMS_PATH)
  if (sums === undefined) throw new FormatError('download', undefined, `the file ${under}${SUMS_PATH} in it`)
  const text = await readSmall({ source, tools, under }, entries, MANIFEST_PATH)
  const manifest = text && parseManifest(fromUtf8(text, under + MANIFEST_PATH, 0))
  const released = await readSmall({ source, tools, under }, entries, RELEASED_SUMS)
  return {
    sumsBytes: sums,
    sums: toSums(sums, under + SUMS_PATH),
    copy: released && { sums: toSums(released, under + RELEASED_SUMS), sumsBytes: released, mark: undefined },
    pack: manifest && expectedInPack(manifest),
    contents: manifest && new OpenFileContents(manifest, tools.hash),
    open: new Map(),
  }
}

const toSums = (bytes: Uint8Array, path: string) =>
  new Map(parseSums(fromUtf8(bytes, path, 0)).map(({ path, sha256 }) => [path, sha256]))

/** A file that is read as a whole; undefined where there is none. @throws {LimitError} If it is larger than a manifest may be. */
async function readSmall(
  { source, tools, under }: Pick<Archive, 'source' | 'tools' | 'under'>,
  entries: readonly ZipEntry[],
  path: string,
): Promise<Uint8Array | undefined> {
  const entry = entries.find((each) => each.path === path)
  if (entry && entry.sizeBytes > MANIFEST_MAX_BYTES)
    throw new LimitError(`${under}${path} in bytes`, entry.sizeBytes, MANIFEST_MAX_BYTES)
  return entry && readZipEntry(source, entry, tools.codecs)
}

/** Who has signed the checksums, and what is wrong with that; nothing where nobody has. */
async function readSignature(
  archive: Archive,
  entries: readonly ZipEntry[],
  [sumsPath, signaturePath, signerPath]: readonly [string, string, string],
  sums: Uint8Array,
): Promise<{ signedBy?: SignedBy; problem?: string }> {
  const { tools, under } = archive
  const [signature, pem] = await Promise.all(
    [signaturePath, signerPath].map((path) => readSmall(archive, entries, path)),
  )
  if (!signature && !pem) return {}
  if (!signature || !pem)
    return {
      problem: `${under}${signature ? signerPath : signaturePath}: it is missing, so nobody knows who signed this.`,
    }
  const signedBy = tools.checkSignature(fromLatin1(pem), sums, signature)
  if (!signedBy) return { problem: `${under}${signerPath}: it is no public key.` }
  return signedBy.isValid
    ? { signedBy }
    : { signedBy, problem: `${under}${sumsPath}: it was changed after it was signed, or another one has signed it.` }
}

/** An archive inside; one that is stored is read where it lies. */
async function openNested({ source, tools }: Archive, entry: ZipEntry, { sums, copy }: Known) {
  const wanted = sums.get(entry.path)
  sums.delete(entry.path)
  const stored = await openStoredEntry(source, entry)
  const inner = stored ?? toByteSource(await readZipEntry(source, entry, tools.codecs))
  if (wanted === undefined) return { source: inner, problems: copy ? [] : ['it has no checksum.'] }
  return { source: inner, problems: wanted === (await tools.hashSource(inner)) ? [] : ['its checksum differs.'] }
}

async function checkFile({ source, tools }: Archive, entry: ZipEntry, known: Known): Promise<string[]> {
  const problems: string[] = []
  const sum = known.sums.get(entry.path)
  known.sums.delete(entry.path)
  try {
    const bytes = await readZipEntry(source, entry, tools.codecs)
    if (sum === undefined) problems.push('it has no checksum.')
    else if (tools.hash(bytes) !== sum) problems.push('its checksum differs.')
    if (isOfRelease(entry.path)) return problems
    if (known.copy) problems.push(...copyProblems(known.copy, entry.path, bytes, tools))
    // what an app takes is as that app wants it: its reader is not ours
    if (isOfApp(entry.path)) return problems
    if (sniffKind(bytes) === 'zip') problems.push('it is an archive; only the Satchel pack is one in a download.')
    const expected = known.pack?.get(entry.path)
    if (known.pack && !expected) problems.push('nothing in the pack uses it.')
    const extension = entry.path.slice(entry.path.lastIndexOf('.') + 1)
    if (!(extension in FILE_KINDS)) return problems
    const file = await readBrushFile(bytes, tools.decoders)
    problems.push(...file.warnings)
    if (file.kind !== extension) problems.push(`it is ${file.kind} inside.`)
    problems.push(...pictureProblems(file, { expected, open: known.open.get(entry.path), tools }))
    if (expected?.what === 'picture') known.contents?.note(expected.sha256, file.frames[0].pixels)
  } catch (error) {
    if (!(error instanceof FormatError || error instanceof LimitError)) throw error
    problems.push(`${error.message}.`)
  }
  return problems
}

/** What is wrong with a file of a copy: it must be as it was released, but for whom it was issued to. */
function copyProblems(copy: Copy, path: string, bytes: Uint8Array, tools: CheckTools): string[] {
  const taken = takeMark(path, bytes)
  const marked = markKindOf(path) === undefined ? [] : noteMark(copy, taken?.mark)
  // written for whoever fetched it
  if (path === STEPS_PATH) return marked
  const sum = copy.sums.get(path)
  const isAsReleased = sum !== undefined && sum === tools.hash(taken?.bytes ?? bytes)
  return isAsReleased ? marked : [...marked, 'it is not as it was released.']
}

type Against = { expected: Expected | undefined; open: (PixelSha | undefined)[] | undefined; tools: CheckTools }

function pictureProblems({ frames }: BrushFile, { expected, open, tools }: Against): string[] {
  if (expected?.what === 'thumbnail') return thumbnailProblems(frames[0].pixels)
  if (expected?.what === 'picture')
    return hashPixels(frames[0].pixels, tools.hash) === expected.sha256
      ? []
      : ['it holds another picture than the one it is named after.']
  if (!open) return []
  if (open.length !== frames.length)
    return [`it holds ${frames.length} frames, but the brush in the pack ${open.length}.`]
  const other = frames.findIndex(({ pixels }, i) => open[i] !== undefined && hashPixels(pixels, tools.hash) !== open[i])
  return other < 0 ? [] : [`its frame ${other + 1} is another picture than in the pack.`]
}

function thumbnailProblems(pixels: Pixels): string[] {
  const { width, height } = THUMBNAIL_SIZE
  if (pixels.width !== width || pixels.height !== height)
    return [`a thumbnail is ${width} × ${height} px, this is ${pixels.width} × ${pixels.height}.`]
  return isBlank(pixels) ? ['the thumbnail is blank.'] : []
}
