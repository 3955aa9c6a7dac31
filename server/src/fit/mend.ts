import { BUILT_IN } from '@satchel/core/destinations/built-in'
import type { StandInName } from '@satchel/core/destinations/destination'
import type { FileSha } from '@satchel/core/hashes'
import { type Follow, followFiles, followPlaces } from '@satchel/core/installs/follow'
import { chooseTargets, type Mending, type MendTarget } from '@satchel/core/loose-ends/mending'
import { type NewTarget, originOf, rewriteBrushSettings, toTarget } from '@satchel/core/loose-ends/references'
import { dropFromFolder, holdFolder, listFolder, putIntoFolder } from '../db/installs.ts'
import {
  addMend,
  changeOwned,
  dropMends,
  findKept,
  holdMend,
  listMendFiles,
  listMends,
  moveInFolder,
  type OwnedChange,
} from '../db/mends.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import { type AppFolder, listPlaces, notePlaces } from '../db/places.ts'
import type { Deps } from '../deps.ts'
import { notFound, Refusal } from '../errors.ts'
import { compared } from './installs.ts'
import { findFolderEnds } from './loose-ends.ts'

/** Mends of a folder that can be undone; older ones are forgotten. */
const MENDS_KEPT = 8

/**
 * Mends loose ends of an app's folder in one go: all of them, or nothing. What installs have put there follows.
 * @returns How many were mended, and the name by which that is undone.
 * @throws {Refusal} If none of them can be mended so, or the folder changed meanwhile.
 */
export async function mendEnds(
  deps: Deps,
  workspaceId: string,
  standIn: StandInName,
  mending: Mending,
): Promise<{ id: string; mended: number }> {
  const { ends, files } = await findFolderEnds(deps, workspaceId, standIn)
  const shaAt = new Map(files.map(({ path, sha256 }) => [path, sha256]))
  const targets = chooseTargets(mending, ends, new Set(shaAt.keys()))
  if (targets.length === 0)
    throw new Refusal('clash', 'None of these can be mended like that any more; look at what is loose now.')
  const shaOf = ({ end, path, putBack }: MendTarget) => (putBack ? end.sha256 : shaAt.get(path))
  const written = await writeSettings(deps, { workspaceId, standIn, shaAt }, targets, shaOf)
  const back = targets.filter(({ putBack }) => putBack)
  const kept = await findKept(
    deps.db,
    workspaceId,
    back.flatMap((target) => shaOf(target) ?? []),
  )
  const returned = new Map(
    back.flatMap((target) => {
      const blobSha = shaOf(target)
      const sizeBytes = blobSha && kept.get(blobSha)
      return blobSha && sizeBytes !== undefined ? [[target.path, { path: target.path, blobSha, sizeBytes }]] : []
    }),
  )
  const putIn = async (tx: Deps['db']) => {
    await holdFolder(tx, workspaceId, standIn)
    const folder = await listFolder(tx, workspaceId, standIn)
    const there = new Map(folder.map((file) => [file.path, file]))
    const isAsRead = [...shaAt].every(([path, sha256]) => there.get(path)?.blobSha === sha256)
    // where something is put back nothing may have come meanwhile
    if (!isAsRead || [...returned.keys()].some((path) => there.has(path)))
      throw new Refusal('clash', 'The folder has changed meanwhile; look at what is there now.')
    const changed = [...written, ...returned.values()]
    await putIntoFolder(tx, workspaceId, standIn, changed)
    const owner = { workspaceId, standIn }
    const mended = new Map(written.map((file) => [file.path, compared(file)]))
    await follow(tx, owner, followFiles(await listPlaces(tx, owner), folder.map(compared), mended))
    const mendId = await addMend(
      tx,
      { workspaceId, standIn, ends: targets.length },
      changed.map(({ path, blobSha }) => {
        const before = there.get(path)
        return { path, beforeSha: before?.blobSha ?? null, beforeBytes: before?.sizeBytes ?? null, afterSha: blobSha }
      }),
    )
    const old = (await listMends(tx, { workspaceId, standIn })).slice(MENDS_KEPT).map(({ id }) => id)
    await deleteOrphanBlobs(tx, workspaceId, await dropMends(tx, workspaceId, old))
    return mendId
  }
  try {
    return { id: await deps.db.transaction(putIn), mended: targets.length }
  } catch (error) {
    // nothing was mended: what was written for it is nobody's
    await deleteOrphanBlobs(
      deps.db,
      workspaceId,
      written.map(({ blobSha }) => blobSha),
    )
    throw error
  }
}

type WrittenFile = { path: string; blobSha: FileSha; sizeBytes: number }

/** The settings of every brush that is mended, with their new targets, stored and in no folder yet. */
async function writeSettings(
  { db, blobs }: Deps,
  { workspaceId, standIn, shaAt }: { workspaceId: string; standIn: StandInName; shaAt: ReadonlyMap<string, FileSha> },
  targets: readonly MendTarget[],
  shaOf: (target: MendTarget) => FileSha | undefined,
): Promise<WrittenFile[]> {
  const origin = originOf(BUILT_IN[standIn])
  const byFile = new Map<string, NewTarget[]>()
  for (const target of targets) {
    const { file, kind } = target.end
    const sha256 = shaOf(target)
    if (!sha256) continue
    byFile.set(file, [...(byFile.get(file) ?? []), { kind, sha256, target: toTarget(file, target.path, origin) }])
  }
  const written: WrittenFile[] = []
  for (const [path, news] of byFile) {
    const sha = shaAt.get(path)
    if (!sha) continue
    const bytes = rewriteBrushSettings(await blobs.read(workspaceId, sha), news)
    const { sha256, sizeBytes } = await blobs.put(db, workspaceId, bytes, 'application/octet-stream')
    written.push({ path, blobSha: sha256, sizeBytes })
  }
  return written
}

/** Has installs hold what they have put into a folder where that is by now, and as it is by now. */
async function follow(tx: Deps['db'], folder: AppFolder, follows: readonly Follow[]): Promise<void> {
  const places = followPlaces(follows)
  const owned = follows.flatMap(({ path, to }): OwnedChange[] =>
    (places.get(to.path)?.claims ?? []).map(({ install, sha256 }) => ({
      installId: install,
      path,
      toPath: to.path,
      blobSha: sha256 as FileSha,
    })),
  )
  await changeOwned(tx, folder.workspaceId, owned)
  await notePlaces(tx, folder, places)
}

/**
 * Undoes a mend: every file that is still as the mend has left it is as it was before.
 * @returns Paths of files that somebody has changed since: they stay.
 */
export async function undoMend(deps: Deps, workspaceId: string, id: string): Promise<{ stayed: string[] }> {
  return deps.db.transaction(async (tx) => {
    const held = await holdMend(tx, workspaceId, id)
    if (!held) throw notFound('mend')
    const { standIn } = held
    await holdFolder(tx, workspaceId, standIn)
    const files = await listMendFiles(tx, held)
    const there = new Map((await listFolder(tx, workspaceId, standIn)).map((file) => [file.path, file]))
    const own = files.filter(({ path, afterSha }) => there.get(path)?.blobSha === afterSha)
    const before = own.flatMap(({ path, beforeSha, beforeBytes }) =>
      beforeSha === null ? [] : [{ path, blobSha: beforeSha, sizeBytes: beforeBytes ?? 0 }],
    )
    await putIntoFolder(tx, workspaceId, standIn, before)
    await dropFromFolder(
      tx,
      workspaceId,
      standIn,
      own.filter(({ beforeSha }) => beforeSha === null).map(({ path }) => path),
    )
    const places = await listPlaces(tx, { workspaceId, standIn })
    await follow(
      tx,
      { workspaceId, standIn },
      before.flatMap((to): Follow[] => {
        const place = places.get(to.path)
        const isMended = place && place.claims.at(-1)?.sha256 === there.get(to.path)?.blobSha
        return isMended ? [{ path: to.path, place, to: compared(to) }] : []
      }),
    )
    await deleteOrphanBlobs(tx, workspaceId, await dropMends(tx, workspaceId, [id]))
    return { stayed: files.filter((file) => !own.includes(file)).map(({ path }) => path) }
  })
}

/**
 * What an app does that goes to its next version, or a person who calls a library otherwise: a folder gets another name,
 * and what refers to it does not follow.
 * @returns How many files were moved.
 */
export async function moveFolder(
  { db }: Deps,
  workspaceId: string,
  { standIn, from, to }: { standIn: StandInName; from: string; to: string },
): Promise<number> {
  return db.transaction(async (tx) => {
    await holdFolder(tx, workspaceId, standIn)
    const folder = await listFolder(tx, workspaceId, standIn)
    const isTaken = folder.some(({ path }) => path.toLowerCase().startsWith(`${to.toLowerCase()}/`))
    if (isTaken) throw new Refusal('clash', `There is a folder "${to}" already; choose another name.`)
    const moved = await moveInFolder(tx, { workspaceId, standIn }, from, to)
    if (moved === 0) throw new Refusal('clash', `There is no folder "${from}" any more; look again.`)
    return moved
  })
}
