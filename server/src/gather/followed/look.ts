import { dayAt } from '@satchel/core/editions/moments'
import type { Following } from '@satchel/core/followed/follow'
import { planLook, type SeenFile } from '@satchel/core/followed/look'
import { namePlaces, pairPlaces } from '@satchel/core/followed/parts'
import { type DayCounts, NOTHING_TOLD } from '@satchel/core/followed/told'
import { groupBy } from '@satchel/core/group-by'
import type { AppDeps } from '../../app-deps.ts'
import {
  addToDay,
  denyMaybe,
  findFollowed,
  findFollowing,
  findWanted,
  holdFollowed,
  listGoneParts,
  listKnownFiles,
  listWanted,
  loadFollowedFiles,
  noteLook,
  noteParts,
  takeOverParts,
} from '../../db/followed.ts'
import { dropFiles, dropLines, findWaiting } from '../../db/followed-files.ts'
import { loadGatherLines } from '../../db/gather-lines.ts'
import { countGatherFiles, type GatherFile, openFolderGather } from '../../db/gathers.ts'
import { findOpenJob } from '../../db/jobs.ts'
import { deleteOrphanBlobs } from '../../db/orphans.ts'
import { Refusal } from '../../errors.ts'
import { announceFiles, takeFile } from '../take-file.ts'
import { type Gift, givePixels } from './give-pixels.ts'

type OfFolder = { workspaceId: string; folderId: string }
type Deps = Pick<AppDeps, 'db' | 'blobs' | 'jobs' | 'events'>

const notFollowed = () => new Refusal('gone', 'This folder is followed no more; follow it anew to go on.')

/** Takes in how a folder is now: what of it is known by which brush, and what is wanted of it. */
export async function takeLook(
  deps: Deps,
  of: OfFolder,
  files: readonly SeenFile[],
): Promise<Following & { before: DayCounts }> {
  const { workspaceId, folderId } = of
  const { day, before } = await deps.db.transaction(async (tx) => {
    const folder = await holdFollowed(tx, workspaceId, folderId)
    if (!folder) throw notFollowed()
    const day = dayAt(new Date(), folder.zone)
    const { counts: before } = await findFollowing(tx, workspaceId, folderId, day)
    const plan = planLook(await listKnownFiles(tx, workspaceId, folderId), files)
    const counts = await noteLook(tx, workspaceId, folderId, plan)
    await addToDay(tx, workspaceId, { folderId, day }, counts)
    return { day, before: before ? pickCounts(before) : NOTHING_TOLD }
  })
  await readOn(deps, of)
  await deps.events.publish({ workspaceId, topic: 'followed', id: folderId })
  return { ...(await findHow(deps, of, day)), before }
}

/** How a folder is followed just now, for who waits for what was read. */
export async function lookHow(deps: Deps, of: OfFolder): Promise<Following> {
  const folder = await findFollowed(deps.db, of.workspaceId, of.folderId)
  if (!folder) throw notFollowed()
  return findHow(deps, of, dayAt(new Date(), folder.zone))
}

async function findHow({ db }: Pick<Deps, 'db'>, { workspaceId, folderId }: OfFolder, day: string): Promise<Following> {
  const { counts, reading } = await findFollowing(db, workspaceId, folderId, day)
  const today = counts ? pickCounts(counts) : NOTHING_TOLD
  return { day, wanted: await listWanted(db, workspaceId, folderId), reading, today }
}

const pickCounts = ({ changed, fresh, found, renamed, gone, refused }: DayCounts): DayCounts => ({
  ...{ changed, fresh, found, renamed, gone, refused },
})

/** Files that were sent are read, also where the job that had begun with them was lost. */
async function readOn(deps: Deps, { workspaceId, folderId }: OfFolder): Promise<void> {
  const { id: gatherId } = await openFolderGather(deps.db, workspaceId, folderId)
  const { total } = await countGatherFiles(deps.db, workspaceId, gatherId)
  if (total > 0 && !(await findOpenJob(deps.db, workspaceId, 'gather-read', gatherId)))
    await announceFiles(deps, { workspaceId, gatherId })
}

/** Takes the bytes of a file that is wanted. @throws {Refusal} Where it is not, or holds something else than was said. */
export async function takeFollowedFile(
  deps: Deps,
  { workspaceId, folderId, path, sha256 }: OfFolder & { path: string; sha256: string },
  body: AsyncIterable<Uint8Array>,
  maxBytes: number,
): Promise<GatherFile> {
  const changed = () => new Refusal('clash', `"${path}" was changed while it was sent; look at the folder again.`)
  const wanted = await findWanted(deps.db, workspaceId, folderId, { path, sha256 })
  if (!wanted) throw changed()
  const { id: gatherId } = await openFolderGather(deps.db, workspaceId, folderId)
  const admit: Parameters<typeof takeFile>[1]['admit'] = async (tx, sent) => {
    const folder = await holdFollowed(tx, workspaceId, folderId)
    const isStill = folder && sent === sha256 && (await findWanted(tx, workspaceId, folderId, { path, sha256 }))
    return isStill ? `${folder.name.replaceAll('/', '-')}/${path}` : undefined
  }
  const file = await takeFile(deps, { workspaceId, gatherId, followedId: wanted.id, admit }, body, maxBytes)
  if (!file) throw changed()
  return file
}

/** Answers whether a new file is one that is gone. Where it is, that one's brushes get its pixels, and nothing of it waits any more. */
export async function answerFollowed(
  deps: Deps,
  { workspaceId, folderId, fileId, isSame }: OfFolder & { fileId: string; isSame: boolean },
): Promise<{ changed: number }> {
  const answered = () => new Refusal('clash', 'This was answered already, or the file is back; reload the page.')
  const changed = await deps.db.transaction(async (tx) => {
    const folder = await holdFollowed(tx, workspaceId, folderId)
    if (!folder) throw notFollowed()
    const [file] = await loadFollowedFiles(tx, workspaceId, [fileId])
    if (file?.folderId !== folderId || !file.maybeId) throw answered()
    if (!isSame) {
      await denyMaybe(tx, workspaceId, folderId, fileId)
      return 0
    }
    const waiting = await findWaiting(tx, workspaceId, fileId)
    const before = groupBy(await listGoneParts(tx, workspaceId, folderId), (part) => part.fileId).get(file.maybeId)
    if (!waiting || !before) throw answered()
    const lines = (await loadGatherLines(tx, workspaceId, waiting.gatherId)).filter((line) => line.fileId === waiting.id && line.frames.length > 0) // biome-ignore format: one list
    const pairs = pairPlaces(namePlaces(lines, waiting.path), before)
    await takeOverParts(tx, workspaceId, file.maybeId, fileId)
    const gifts: Gift[] = []
    for (const [line, { part, brushId }] of pairs) {
      const reading = line.brush?.recipe.colour.reading ?? 'dark'
      gifts.push({ brushId, line, readingBefore: reading })
      await noteParts(tx, workspaceId, [{ fileId, part, brushId, pixelKey: line.pixelKey ?? '', reading }])
    }
    const day = { folderId, day: dayAt(new Date(), folder.zone), name: folder.name }
    const changed = await givePixels(tx, workspaceId, gifts, day)
    await addToDay(tx, workspaceId, day, { changed, renamed: 1, gone: -1, fresh: -pairs.size })
    const isAll = pairs.size === lines.length
    const dropped = isAll ? (await dropFiles(tx, workspaceId, [waiting.id])).names : await dropLines(tx, workspaceId, [...pairs.keys()].map(({ id }) => id)) // biome-ignore format: one choice
    await deleteOrphanBlobs(tx, workspaceId, dropped)
    return changed
  })
  await deps.events.publish({ workspaceId, topic: 'followed', id: folderId })
  await deps.events.publish({ workspaceId, topic: 'gather' })
  if (changed > 0) await deps.events.publish({ workspaceId, topic: 'library' })
  return { changed }
}
