import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { toUtf8 } from '@satchel/core/formats/text'
import type { FileSha, PixelSha } from '@satchel/core/hashes'
import { toFileName } from '@satchel/core/pack/file-name'
import { PACK_EXTENSION } from '@satchel/core/pack/manifest'
import {
  COVER_PATH,
  HELP_PATH,
  LICENCE_PATH,
  listOpenFiles,
  type OpenFilePath,
  type PackEntry,
  type PackPictures,
  README_PATH,
  SHEET_PATH,
  satchelPackEntries,
  signedSums,
} from '@satchel/core/pack/write'
import { nodeHashBytes } from '@satchel/node/hash'
import { fingerprintOf } from '@satchel/node/signature'
import { pMapIterable } from 'p-map'
import type { Release } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { thumbnailPicture } from '../pictures/renders.ts'
import { withFile } from '../pictures/thumbnail-file.ts'
import type { JobContext } from '../queue/queue.ts'
import { addAppFolders, appFolders } from './app-folders.ts'
import { describeContents } from './contents-file.ts'
import { hasHelp, helpOf } from './help-texts.ts'
import { packReadme } from './pack-texts.ts'
import { fitsOnSheet, printPack } from './print-sheet.ts'
import { openZipFile } from './zip-file.ts'

/** What the sheet in a download is for; on its own it can be had for other papers. */
const SHEET_PAPER = 'a4'
const AHEAD = 4 // brushes converted before they are written

/** What goes out, frozen. */
export type Outgoing = Pick<Release, 'workspaceId' | 'manifest' | 'brushes' | 'destinations' | 'licenceText'> & {
  /** What stands for it, where there is such a picture. */
  coverSha?: Release['coverSha']
  /** Whether copies of it are issued to people. */
  forCopies?: boolean
  /** Whether brushes are in it as open files too; they are where nothing is said. */
  openFiles?: boolean
}
type Work = Pick<JobContext, 'signal' | 'progress'> & {
  /** Where files lie meanwhile. */
  folder: string
}

/** Writes a download: open files, a folder an app, the Satchel pack, what is said of it, and who signs all that. */
export async function writeDownload(deps: Deps, release: Outgoing, { signal, progress, folder }: Work) {
  const { manifest, openFiles = true, forCopies = false } = release
  const hasSheet = fitsOnSheet(manifest)
  const placed = openFiles ? manifest.sets.reduce((sum, set) => sum + set.brushes.length, manifest.single.length) : 0
  const total = placed + manifest.brushes.length * (1 + release.destinations.length + Number(hasSheet)) + 1
  let done = 0
  const step = () => {
    signal.throwIfAborted()
    progress(++done, total)
  }
  const signer = await deps.signing.signerOf(release.workspaceId)
  const texts = {
    readme: packReadme(manifest, {
      signedBy: fingerprintOf(signer.pem),
      hasHelp: hasHelp(manifest),
      hasSheet,
      hasOpenFiles: openFiles,
      isForCopies: forCopies,
      apps: appFolders(release).map(({ folder }) => folder),
    }),
    licence: release.licenceText,
  }
  const help = await helpOf(deps, manifest)
  const cover = release.coverSha ? await deps.blobs.read(release.workspaceId, release.coverSha) : undefined
  const inner = await openZipFile(join(folder, 'pack.zip'), { forCopies })
  for await (const entry of satchelPackEntries(manifest, texts, picturesOf(deps, release, step), nodeHashBytes, signer))
    await inner.add(entry)
  const innerFile = await inner.finish({ crc: true })

  const outer = await openZipFile(join(folder, 'download.zip'), { forCopies })
  if (openFiles)
    for await (const entry of openEntries(deps, release)) {
      await outer.add(entry)
      if (entry.path.endsWith('.png')) step()
    }
  const apps = await addAppFolders(deps, release, { signal, step, add: (entry) => outer.add(entry) })
  const satchelPath = `${toFileName(manifest.title)}${PACK_EXTENSION}`
  await outer.addFile(satchelPath, innerFile)
  if (hasSheet) {
    const work = { folder, signal, step, paper: SHEET_PAPER, cover } as const
    const sheet = await printPack(deps, release, work)
    await outer.add({ path: SHEET_PATH, bytes: await readFile(sheet), packing: 'store' })
  }
  if (cover) await outer.add({ path: COVER_PATH, bytes: cover, packing: 'store' })
  await outer.add({ path: README_PATH, bytes: toUtf8(texts.readme), packing: 'deflate' })
  if (help !== undefined) await outer.add({ path: HELP_PATH, bytes: toUtf8(help), packing: 'deflate' })
  await outer.add({ path: LICENCE_PATH, bytes: toUtf8(texts.licence), packing: 'deflate' })
  for (const entry of signedSums(await outer.sums(), signer)) await outer.add(entry)
  const laid = await outer.laidFiles()
  const contents = describeContents(manifest, { laid, inner: await inner.laidFiles(), satchelPath, apps })
  const result = await outer.finish()
  step()
  return { ...result, files: (await outer.sums()).length, contents }
}

function picturesOf(deps: Deps, { workspaceId, brushes, manifest }: Outgoing, step: () => void): PackPictures {
  const blobOf = new Map<PixelSha, FileSha | undefined>(
    brushes.flatMap(({ pixels, blobs }) =>
      pixels.map((pixel, i): [PixelSha, FileSha | undefined] => [pixel, blobs[i]]),
    ),
  )
  for (const [i, { recipe }] of manifest.brushes.entries()) {
    const grainBlob = brushes[i]?.grainBlob
    if (recipe.ground.grain && grainBlob) blobOf.set(recipe.ground.grain.sha256, grainBlob)
  }
  const byId = new Map(brushes.map((brush) => [brush.id, brush]))
  const frozen = new Map(manifest.brushes.map((brush) => [brush.id, brush]))
  return {
    loadPng(sha256) {
      const file = blobOf.get(sha256)
      if (file === undefined) throw new Error(`the picture ${sha256} is not in the release`)
      return deps.blobs.read(workspaceId, file)
    },
    loadThumbnail: async (id) => {
      step()
      const brush = byId.get(id)
      const of = frozen.get(id)
      if (!brush || !of) throw new Error(`brush ${id} is not in the release`)
      const thumbnail = withFile(of.thumbnail, brush.thumbnailBlob)
      const pictures = { frames: brush.blobs, grain: brush.grainBlob }
      return (await thumbnailPicture(deps, workspaceId, { ...pictures, recipe: of.recipe, thumbnail })).png
    },
  }
}

/** The folder-per-set files, converted by the processes of the pool a few brushes ahead of the writing. */
async function* openEntries(deps: Deps, { workspaceId, brushes, manifest }: Outgoing): AsyncGenerator<PackEntry> {
  const blobsOf = new Map(brushes.map((brush) => [brush.id, brush.blobs]))
  const convert = async ({ brush, base }: OpenFilePath) => {
    const { id, name, maker, licence, recipe, frameNames, keys } = brush
    const frames = await Promise.all((blobsOf.get(id) ?? []).map((sha) => deps.blobs.read(workspaceId, sha)))
    const input = { name, maker, licence, recipe, frames, frameNames, keys }
    return { base, files: await deps.workers.run('openFiles', input) }
  }
  const options = { concurrency: deps.workers.threads, backpressure: AHEAD }
  for await (const { base, files } of pMapIterable(listOpenFiles(manifest), convert, options)) {
    yield { path: `${base}.png`, bytes: files.png, packing: 'store' }
    yield { path: `${base}.${files.extension}`, bytes: files.brush, packing: 'deflate' }
  }
}
