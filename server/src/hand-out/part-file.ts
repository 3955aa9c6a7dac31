import { createHash } from 'node:crypto'
import { setImmediate as pause } from 'node:timers/promises'
import { METHOD } from '@satchel/core/formats/zip/layout'
import { lengthOf, type Patchwork, planZipPart, type Stretch } from '@satchel/core/formats/zip/part'
import type { FileSha } from '@satchel/core/hashes'
import { type Contents, choosePart, entriesOfPart, stepsText } from '@satchel/core/pack/contents'
import { toFileName } from '@satchel/core/pack/file-name'
import type { CopyMark } from '@satchel/core/pack/issued/mark'
import { type CopyTools, planCopy, planFileCopy, planPackCopy } from '@satchel/core/pack/issued/plan-copy'
import { type Part, STEPS_PATH } from '@satchel/core/pack/parts'
import type { Signer } from '@satchel/core/pack/signature'
import { nodeCrc32, nodeHashBytes } from '@satchel/node/hash'
import { create as createDisposition } from 'content-disposition'
import { LRUCache } from 'lru-cache'
import type { Release } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { notFound, Problem } from '../errors.ts'
import { AtOnce } from './at-once.ts'
import { readContents } from './contents-file.ts'
import { zipOptions } from './zip-file.ts'

/** What is sent for a download: stretches of the release's own file, under a name. */
export type PartFile = {
  zipSha: FileSha
  sizeBytes: number
  /** Absent of the whole file. */
  stretches?: readonly Stretch[]
  etag: string
  headers: Record<string, string>
  /** The app it is for, by its name. */
  app: string | null
}

/** Plans that are kept: those of a class that fetches at once, as far as they fit. */
const KEPT = 500
const KEPT_BYTES = 64 * 1024 * 1024
/** What a stretch takes beside its bytes. */
const STRETCH_BYTES = 200
const planned = new LRUCache<string, PartFile>({
  max: KEPT,
  maxSize: KEPT_BYTES,
  sizeCalculation: ({ stretches = [] }) =>
    1 + stretches.reduce((sum, each) => sum + STRETCH_BYTES + ('bytes' in each ? each.bytes.length : 0), 0),
})

const planning = new AtOnce<PartFile>()

/** Whom a copy is issued to, and who signs that. */
export type CopyFor = { mark: CopyMark; signer: Signer }

/**
 * The file that a person gets: all of a release, or a part of it, laid out of the bytes of the whole.
 * @param copy Whom it is issued to: that stands in every file that has a place for it. Nobody where it is looked at only.
 * @throws {Problem} 409 while it is still being built, or where its parts are not known; 404 where it has no such part.
 */
export async function partFile(
  deps: Pick<Deps, 'blobs'>,
  release: Release,
  part: Part | undefined | null,
  copy?: CopyFor,
): Promise<PartFile> {
  const { zipSha, zipBytes, contentsSha } = release
  if (!zipSha || zipBytes === null)
    throw new Problem(409, 'This download is still being prepared; try again in a minute.')
  const key = JSON.stringify([zipSha, contentsSha, part, copy?.mark, copy?.signer.pem])
  const known = planned.get(key)
  if (known) return known
  return planning.make(key, async () => {
    const file = await planPart(deps, { ...release, zipSha, zipBytes }, part, copy)
    planned.set(key, file)
    return file
  })
}

async function planPart(
  deps: Pick<Deps, 'blobs'>,
  release: Release & { zipSha: FileSha; zipBytes: number },
  part: Part | undefined | null,
  copy: CopyFor | undefined,
): Promise<PartFile> {
  const { zipSha, zipBytes } = release
  const contents = await readContents(deps, release)
  const laid = part
    ? await layOutPart(release, contents, part, copy)
    : { name: `${nameOf(release)}.zip`, stretches: await layOutWhole(contents, copy), app: null }
  const { name, stretches, app } = laid
  return {
    ...{ zipSha, app, headers: toHeaders(name) },
    ...(stretches
      ? {
          stretches,
          sizeBytes: stretches.reduce((sum, each) => sum + lengthOf(each), 0),
          etag: `"${digest(zipSha, stretches)}"`,
        }
      : { sizeBytes: zipBytes, etag: `"${zipSha}"` }),
  }
}

const toolsFor = ({ signer }: CopyFor): CopyTools => ({ ...zipOptions, signer, hash: nodeHashBytes, pause })

/** All of a release as somebody's copy; nothing where it goes as it lies there. */
async function layOutWhole(contents: Contents | undefined, copy: CopyFor | undefined) {
  // built before copies were marked: it is given as it was released
  if (!copy || !contents?.inner) return undefined
  const { files, inner, satchelPath } = contents
  return (await planCopy({ files, texts: [], satchelPath, inner }, copy.mark, toolsFor(copy))).stretches
}

async function layOutPart(release: Release, contents: Contents | undefined, part: Part, copy: CopyFor | undefined) {
  if (!contents)
    throw new Problem(409, 'This release was built before its parts could be had alone. Download all of it.')
  const chosen = choosePart(contents, release.manifest, part)
  if (!chosen) throw notFound('part of the download')
  const { files, called, app } = chosen
  const toApp = app?.name ?? null
  const [only] = files
  const isCopy = copy !== undefined && contents.inner !== undefined
  // one file that lies there as it is needs no archive around it
  if (only && files.length === 1 && only.method === METHOD.stored && part.of.kind !== 'set') {
    const alone: Patchwork = !isCopy
      ? { stretches: [{ at: only.at, length: only.packedBytes }], sizeBytes: only.packedBytes }
      : only.path === contents.satchelPath
        ? await planPackCopy(contents.inner ?? [], copy.mark, toolsFor(copy), only.at)
        : planFileCopy(only, copy.mark, nodeCrc32)
    return { name: baseName(only.path), stretches: alone.stretches, app: toApp }
  }
  const words = [nameOf(release), ...(app ? [`for ${app.name}`] : []), ...(called === undefined ? [] : [called])]
  const name = `${toFileName(words.join(', '))}.zip`
  const texts = [{ path: STEPS_PATH, text: stepsText(release.manifest, chosen, name) }]
  const entries = entriesOfPart(contents, chosen, part)
  const { satchelPath, inner = [] } = contents
  const { stretches } = isCopy
    ? await planCopy({ files: entries, texts, satchelPath, inner }, copy.mark, toolsFor(copy))
    : planZipPart(entries, texts, { crc32: nodeCrc32 })
  return { name, stretches, app: toApp }
}

const nameOf = ({ manifest, version }: Release) => `${toFileName(manifest.title)} ${version}`
const baseName = (path: string) => path.slice(path.lastIndexOf('/') + 1)

/** Names the bytes of stretches: whoever goes on with a download after a break gets the same ones, or all anew. */
function digest(zipSha: FileSha, stretches: readonly Stretch[]): string {
  const hash = createHash('sha256').update(zipSha)
  for (const stretch of stretches) hash.update('bytes' in stretch ? stretch.bytes : `${stretch.at}+${stretch.length};`)
  return hash.digest('hex')
}

const toHeaders = (name: string) => ({
  'content-type': name.endsWith('.zip') ? 'application/zip' : 'application/octet-stream',
  'content-disposition': createDisposition(name),
  'cache-control': 'private, no-cache',
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'no-referrer',
  'accept-ranges': 'bytes',
})
