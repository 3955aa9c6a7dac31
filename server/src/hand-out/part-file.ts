import { createHash } from 'node:crypto'
import { METHOD } from '@satchel/core/formats/zip/layout'
import { lengthOf, planZipPart, type Stretch } from '@satchel/core/formats/zip/part'
import type { FileSha } from '@satchel/core/hashes'
import {
  type Chosen,
  type Contents,
  choosePart,
  entriesOfPart,
  STEPS_PATH,
  stepsText,
} from '@satchel/core/pack/contents'
import { toFileName } from '@satchel/core/pack/file-name'
import type { Part } from '@satchel/core/pack/parts'
import { nodeCrc32 } from '@satchel/node/hash'
import { create as createDisposition } from 'content-disposition'
import { LRUCache } from 'lru-cache'
import type { Release } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { notFound, Problem } from '../errors.ts'
import { readContents } from './contents-file.ts'

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

/** A class fetches a few parts, again and again. */
const KEPT = 32
const planned = new LRUCache<string, PartFile>({ max: KEPT })

/**
 * The file that a person gets: all of a release, or a part of it, laid out of the bytes of the whole.
 * @throws {Problem} 409 while it is still being built, or where its parts are not known; 404 where it has no such part.
 */
export async function partFile(
  deps: Pick<Deps, 'blobs'>,
  release: Release,
  part: Part | undefined | null,
): Promise<PartFile> {
  const { zipSha, zipBytes, manifest, contentsSha } = release
  if (!zipSha || zipBytes === null)
    throw new Problem(409, 'This download is still being prepared; try again in a minute.')
  if (!part)
    return { zipSha, sizeBytes: zipBytes, etag: `"${zipSha}"`, headers: toHeaders(`${nameOf(release)}.zip`), app: null }
  const key = JSON.stringify([zipSha, contentsSha, part])
  const known = planned.get(key)
  if (known) return known
  const contents = await readContents(deps, release)
  if (!contents)
    throw new Problem(409, 'This release was built before its parts could be had alone. Download all of it.')
  const chosen = choosePart(contents, manifest, part)
  if (!chosen) throw notFound('part of the download')
  const { name, stretches } = layOut(release, contents, chosen, part)
  const file: PartFile = {
    ...{ zipSha, stretches, app: chosen.app?.name ?? null, headers: toHeaders(name) },
    sizeBytes: stretches.reduce((sum, each) => sum + lengthOf(each), 0),
    etag: `"${digest(zipSha, stretches)}"`,
  }
  planned.set(key, file)
  return file
}

function layOut(
  release: Release,
  contents: Contents,
  chosen: Chosen,
  part: Part,
): { name: string; stretches: readonly Stretch[] } {
  const { files, called, app } = chosen
  const [only] = files
  // one file that lies there as it is needs no archive around it
  if (only && files.length === 1 && only.method === METHOD.stored && part.of.kind !== 'set')
    return { name: baseName(only.path), stretches: [{ at: only.at, length: only.packedBytes }] }
  const words = [nameOf(release), ...(app ? [`for ${app.name}`] : []), ...(called === undefined ? [] : [called])]
  const name = `${toFileName(words.join(', '))}.zip`
  const texts = [{ path: STEPS_PATH, text: stepsText(release.manifest, chosen, name) }]
  return { name, stretches: planZipPart(entriesOfPart(contents, chosen, part), texts, { crc32: nodeCrc32 }).stretches }
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
