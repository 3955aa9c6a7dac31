import { open } from 'node:fs/promises'
import { isOwnPicture } from '@satchel/core/brush/thumbnail'
import { sniffKind } from '@satchel/core/brush-file/sniff'
import { FormatError, LimitError } from '@satchel/core/errors'
import { type ByteSource, toByteSource } from '@satchel/core/formats/zip/layout'
import { listZip, readZipEntry } from '@satchel/core/formats/zip/read'
import { ARCHIVE_NESTING_MAX, ARCHIVE_UNPACKED_MAX_BYTES } from '@satchel/core/limits'
import type { PackBrush } from '@satchel/core/pack/manifest'
import { PACK_EXTENSION } from '@satchel/core/pack/manifest'
import { isSatchelPack, type OpenedPack, openPack } from '@satchel/core/pack/read'
import pMap from 'p-map'
import {
  claimGatherFile,
  clearGather,
  countGatherFiles,
  findGather,
  finishGatherFile,
  resetHalfReadFiles,
} from '../db/gathers.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import type { PackPin, PackPlace } from '../db/schema/gather.ts'
import type { Deps } from '../deps.ts'
import { type JobContext, type JobHandler, JobStopped } from '../queue/queue.ts'
import { nodeCrc32, nodeInflateRaw } from '../workers/codec.ts'
import { toPixelKey } from '../workers/read-tip.ts'
import type { ReadFrame, ReadResult } from '../workers/tasks.ts'
import {
  addBrushLine,
  addLine,
  lastPart,
  nameOf,
  type Place,
  type Reader,
  type ReadGrain,
  refused,
  splitPath,
  type Tally,
} from './lines.ts'
import { markDuplicates } from './mark-duplicates.ts'

export const GATHER_READ = 'gather-read'

const HEAD_BYTES = 8192
const codecs = { crc32: nodeCrc32, inflateRaw: nodeInflateRaw }

/** Files some systems put beside the real ones; common practice, no source. */
const BESIDE = /(^|\/)(__MACOSX\/|\._|\.DS_Store$|Thumbs\.db$|desktop\.ini$)/

/** Reads every waiting file of a gather into lines of its ledger. May run again at any time: each file counts once. */
export const gatherRead = (deps: Deps): JobHandler => ({
  run: (context) => readGather(deps, context),
  more: async ({ workspaceId, subjectId }) => {
    const gather = await findGather(deps.db, workspaceId, subjectId)
    const { total, read } = await countGatherFiles(deps.db, workspaceId, subjectId)
    return gather?.state === 'open' && read < total
  },
})

async function readGather(deps: Deps, context: JobContext): Promise<void> {
  const { workspaceId, subjectId: gatherId } = context.job
  try {
    await resetHalfReadFiles(deps.db, workspaceId, gatherId)
    const tally: Tally = { files: 0, filesRead: 0, entries: 0, entriesRead: 0 }
    await Promise.all(Array.from({ length: deps.workers.threads }, () => readFiles(deps, context, tally)))
    context.progress(tally.files + tally.entries, tally.files + tally.entries)
    await markDuplicates(deps.db, workspaceId, gatherId)
    await deps.events.publish({ workspaceId, topic: 'gather', id: gatherId })
  } finally {
    // Cancelled while this was reading: what was written since then goes too.
    const gather = await findGather(deps.db, workspaceId, gatherId)
    if (gather && gather.state !== 'open') {
      await deleteOrphanBlobs(deps.db, workspaceId, await clearGather(deps.db, workspaceId, gatherId))
    }
  }
}

async function readFiles(deps: Deps, context: JobContext, tally: Tally): Promise<void> {
  const { workspaceId, subjectId: gatherId } = context.job
  for (;;) {
    context.signal.throwIfAborted()
    const file = await claimGatherFile(deps.db, workspaceId, gatherId)
    if (!file) return
    const counts = await countGatherFiles(deps.db, workspaceId, gatherId)
    tally.files = counts.total
    tally.filesRead = counts.read
    await readOrRefuse({ deps, file, context, tally, unpackedBytes: 0, ordinal: 0 })
    await finishGatherFile(deps.db, file)
    tally.filesRead++
    report(context, tally)
    await deps.events.publish({ workspaceId, topic: 'gather', id: gatherId })
  }
}

/** A file that makes the reader itself fail is refused like any other bad file; the rest goes on. */
async function readOrRefuse(reader: Reader): Promise<void> {
  const { file, deps, context } = reader
  try {
    await readFile(reader)
  } catch (error) {
    if (context.signal.aborted) throw error
    const gather = await findGather(deps.db, file.workspaceId, file.gatherId)
    if (gather?.state !== 'open') throw new JobStopped()
    deps.log.error({ err: error, file: file.id }, 'reading a file failed')
    const { folder, base } = splitPath(file.path)
    const reason =
      'It could not be read to its end; the reason is in the log. Leave it out, or save it anew and drop it again.'
    await addLine(reader, { folder, path: base, setName: '' }, refused('foreign', reason))
  }
}

function report(context: JobContext, tally: Tally): void {
  context.progress(tally.filesRead + tally.entriesRead, tally.files + tally.entries)
}

async function readFile(reader: Reader): Promise<void> {
  const { deps, file } = reader
  const handle = await open(await deps.blobs.path(file.workspaceId, file.blobSha))
  try {
    const source: ByteSource = {
      size: file.sizeBytes,
      read: async (offset, length) => {
        const bytes = new Uint8Array(length)
        const { bytesRead } = await handle.read(bytes, 0, length, offset)
        return bytes.subarray(0, bytesRead)
      },
    }
    const { folder, base } = splitPath(file.path)
    const head = await source.read(0, Math.min(HEAD_BYTES, source.size))
    if (sniffKind(head) === 'zip') return await readArchive(reader, source, file.path, 1)
    await readPicture(reader, await source.read(0, source.size), { folder, path: base, setName: lastPart(folder) })
  } finally {
    await handle.close()
  }
}

/** An archive's files become lines in folders of their own; archives inside it are opened too. */
async function readArchive(reader: Reader, source: ByteSource, at: string, depth: number): Promise<void> {
  const place = { ...splitPath(at), setName: '' }
  try {
    if (depth > ARCHIVE_NESTING_MAX)
      throw new LimitError('the depth of archives inside archives', depth, ARCHIVE_NESTING_MAX)
    const entries = await listZip(source)
    if (isSatchelPack(entries)) return await readPack(reader, source, at)
    reader.unpackedBytes += entries.reduce((sum, entry) => sum + entry.sizeBytes, 0)
    if (reader.unpackedBytes > ARCHIVE_UNPACKED_MAX_BYTES) {
      throw new LimitError('the unpacked size in bytes', reader.unpackedBytes, ARCHIVE_UNPACKED_MAX_BYTES)
    }
    reader.tally.entries += entries.length
    const packed = entries.some((entry) => entry.path.endsWith(PACK_EXTENSION))
    await pMap(
      entries,
      async (entry) => {
        reader.context.signal.throwIfAborted()
        if (packed && !entry.path.endsWith(PACK_EXTENSION)) await skipBesidePack(reader, entry.path, at)
        else await readEntry(reader, source, { entry, at, depth })
        reader.tally.entriesRead++
        report(reader.context, reader.tally)
      },
      { concurrency: reader.deps.workers.threads },
    )
  } catch (error) {
    if (!(error instanceof FormatError || error instanceof LimitError)) throw error
    await addLine(reader, { folder: place.folder, path: place.base, setName: '' }, refused('zip', `${error.message}.`))
  }
}

/** In a download of ours the pack holds everything once more, with all settings: the open files beside it stay out. */
async function skipBesidePack(reader: Reader, path: string, at: string): Promise<void> {
  const { folder, base } = splitPath(`${at}/${path}`)
  const reason = 'The Satchel pack beside it holds this with all its settings.'
  await addLine(reader, { folder, path: base, setName: '' }, { outcome: 'skip', kind: 'foreign', reason })
}

async function readEntry(
  reader: Reader,
  source: ByteSource,
  { entry, at, depth }: { entry: Awaited<ReturnType<typeof listZip>>[number]; at: string; depth: number },
): Promise<void> {
  const { folder, base } = splitPath(`${at}/${entry.path}`)
  const inner = splitPath(entry.path).folder
  const place: Place = { folder, path: base, setName: lastPart(inner) || nameOf(lastPart(at)) }
  try {
    const bytes = await readZipEntry(source, entry, codecs)
    if (sniffKind(bytes.subarray(0, HEAD_BYTES)) === 'zip')
      await readArchive(reader, toByteSource(bytes), `${at}/${entry.path}`, depth + 1)
    else await readPicture(reader, bytes, place)
  } catch (error) {
    if (!(error instanceof FormatError)) throw error
    await addLine(reader, place, refused('zip', `${error.message}.`))
  }
}

async function readPicture(reader: Reader, bytes: Uint8Array, place: Place): Promise<void> {
  if (BESIDE.test(`${place.folder}/${place.path}`)) {
    return addLine(reader, place, { outcome: 'skip', kind: 'foreign', reason: 'A file the system keeps for itself.' })
  }
  await addReadLine(reader, place, await reader.deps.workers.run('readTip', { bytes }))
}

async function addReadLine(reader: Reader, place: Place, result: ReadResult): Promise<void> {
  if (result.outcome !== 'tip') {
    return addLine(reader, place, {
      outcome: result.outcome === 'refused' ? 'refuse' : 'skip',
      kind: result.kind,
      reason: result.reason,
    })
  }
  await addBrushLine(
    reader,
    place,
    { frames: result.frames },
    {
      outcome: 'take',
      kind: result.kind,
      reason: result.warnings.join(' '),
      name: result.name ?? nameOf(place.path),
      brush: { maker: result.maker, licence: result.licence, tags: [], recipe: result.recipe, places: [] },
      pixelKey: result.pixelKey,
      nearBits: result.near?.bits ?? null,
      nearSignature: result.near?.signature ?? null,
      use: result.use,
      seamAcross: result.seam?.across ?? null,
      seamDown: result.seam?.down ?? null,
    },
  )
}

/** A Satchel pack's brushes come with recipe, tags, maker and all their sets. */
async function readPack(reader: Reader, source: ByteSource, at: string): Promise<void> {
  const pack = await openPack(source, codecs)
  const { manifest } = pack
  reader.tally.entries += manifest.brushes.length
  for (const [i, brush] of manifest.brushes.entries()) {
    reader.context.signal.throwIfAborted()
    const places = manifest.sets.flatMap(({ name, brushes }, order) => {
      const at = brushes.indexOf(brush.id)
      return at < 0 ? [] : [{ name, order, at }]
    })
    const place: Place = { folder: at, path: brush.name, setName: places[0]?.name ?? '' }
    const pins = manifest.pockets.flatMap(({ name: pocket, entries }) =>
      entries.flatMap(({ brush: id, sizePx, label }, at) => (id === brush.id ? [{ pocket, at, sizePx, label }] : [])),
    )
    await addPackBrush(reader, place, { places, pins, order: i, pack })
    reader.tally.entriesRead++
    report(reader.context, reader.tally)
  }
}

async function addPackBrush(
  reader: Reader,
  place: Place,
  { places, pins, order, pack }: { places: PackPlace[]; pins: PackPin[]; order: number; pack: OpenedPack },
): Promise<void> {
  const brush = pack.manifest.brushes[order] as PackBrush
  const frames: ReadFrame[] = []
  let near: { bits: string; signature: Uint8Array } | undefined
  for (const sha of brush.frames) {
    const result = await reader.deps.workers.run('readTip', {
      bytes: await pack.readFrame(brush, sha),
      reading: brush.recipe.colour.reading,
    })
    if (result.outcome !== 'tip') return addLine(reader, place, refused('pack', result.reason))
    near ??= result.near
    frames.push(...result.frames.slice(0, 1))
  }
  const grain = await readPackGrain(reader, brush, pack)
  if (grain && 'reason' in grain) return addLine(reader, place, refused('pack', grain.reason))
  const { maker, licence, tags, recipe, thumbnail } = brush
  const shown = await readPackThumbnail(reader, pack, order)
  const isLost = isOwnPicture(thumbnail) && !shown
  await addBrushLine(
    reader,
    place,
    { frames, grain, thumbnail: { of: thumbnail, png: shown } },
    {
      outcome: 'take',
      kind: 'pack',
      name: brush.name,
      ordinal: order,
      reason: isLost ? 'Its thumbnail cannot be read or shows nothing; its stroke is shown instead.' : '',
      brush: { maker, licence, tags, recipe, places, pins },
      pixelKey: toPixelKey(frames.map((frame) => frame.pixelSha)),
      nearBits: near?.bits ?? null,
      nearSignature: near?.signature ?? null,
    },
  )
}

/** The file of a thumbnail that was made for a pack's brush; undefined where there is none, or it cannot be used. */
async function readPackThumbnail(reader: Reader, pack: OpenedPack, order: number): Promise<Uint8Array | undefined> {
  const brush = pack.manifest.brushes[order]
  if (!brush || !isOwnPicture(brush.thumbnail)) return undefined
  const read = await reader.deps.workers.run('readThumbnail', { png: await pack.readThumbnail(order) })
  return 'png' in read ? read.png : undefined
}

/** The grain of a pack's brush, with the name that the pack gives it; a reason where it cannot be read. */
async function readPackGrain(
  reader: Reader,
  { recipe }: PackBrush,
  pack: OpenedPack,
): Promise<ReadGrain | { reason: string } | undefined> {
  const sha256 = recipe.ground.grain?.sha256
  if (sha256 === undefined) return undefined
  const result = await reader.deps.workers.run('readTip', { bytes: await pack.readGrain(sha256) })
  if (result.outcome !== 'tip') return { reason: result.reason }
  const [frame] = result.frames
  if (frame?.pixelSha !== sha256) return { reason: `Its grain is not the one that it names (${sha256}).` }
  const name = pack.manifest.grains.find((grain) => grain.sha256 === sha256)?.name ?? 'Grain'
  return { frame, name, seamAcross: result.seam?.across ?? 1, seamDown: result.seam?.down ?? 1 }
}
