import { and, asc, eq, isNull, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { isOut } from './hand-outs.ts'
import { deleteOrphanBlobs } from './orphans.ts'
import { idsInPack, lockPack } from './pack-brushes.ts'
import { scalar } from './scalar.ts'
import { brush, handOut, pack, packSet, rackSet, release } from './schema/all.ts'

export type Pack = typeof pack.$inferSelect

/** Every pack with its number of brushes, latest release and hand-outs that are out. */
export async function listPacks(db: Db, workspaceId: string) {
  return db
    .select({
      id: pack.id,
      title: pack.title,
      maker: pack.maker,
      licence: pack.licence,
      coverBrushId: pack.coverBrushId,
      coverSha: pack.coverSha,
      sets: scalar(sql`select count(*) from ${packSet} join ${rackSet} on ${rackSet.id} = ${packSet.setId}
        where ${packSet.packId} = ${pack.id} and ${rackSet.deletedAt} is null`).mapWith(Number),
      brushes: scalar(sql`select count(*) from ${brush}
        where ${brush.deletedAt} is null and ${brush.id} in ${idsInPack(sql`${pack.workspaceId}`, sql`${pack.id}`)}`).mapWith(
        Number,
      ),
      latest: scalar<string | null>(sql`select ${release.version} from ${release}
        where ${release.packId} = ${pack.id} order by ${release.createdAt} desc limit 1`),
      out: scalar(sql`select count(*) from ${handOut} join ${release} on ${release.id} = ${handOut.releaseId}
        where ${release.packId} = ${pack.id} and ${isOut}`).mapWith(Number),
    })
    .from(pack)
    .where(and(eq(pack.workspaceId, workspaceId), isNull(pack.deletedAt)))
    .orderBy(sql`lower(${pack.title})`, asc(pack.id))
}

export async function findPack(db: Db, workspaceId: string, id: string): Promise<Pack | undefined> {
  const [row] = await db
    .select()
    .from(pack)
    .where(and(eq(pack.workspaceId, workspaceId), eq(pack.id, id), isNull(pack.deletedAt)))
  return row
}

export async function createPack(
  db: Db,
  workspaceId: string,
  values: { title: string; maker: string; licence: string },
): Promise<Pack> {
  const [row] = await db
    .insert(pack)
    .values({ workspaceId, ...values })
    .returning()
  if (!row) throw new Error('insert gave no row')
  return row
}

type Changed =
  | 'title'
  | 'maker'
  | 'licence'
  | 'licenceText'
  | 'help'
  | 'coverBrushId'
  | 'destinationIds'
  | 'leastLikeness'
  | 'deletedAt'
export type PackChange = { [Key in Changed]?: Pack[Key] | undefined }

/** @param was What some of it was when the change was made: where that is another by now, nothing is changed. */
export async function updatePack(
  db: Db,
  workspaceId: string,
  id: string,
  change: PackChange,
  was: { [Key in PackText]?: string | undefined } = {},
): Promise<Pack | undefined> {
  const asItWas = (Object.entries(was) as [PackText, string | undefined][]).flatMap(([key, text]) =>
    text === undefined ? [] : [eq(pack[key], text)],
  )
  const [row] = await db
    .update(pack)
    .set(change)
    .where(and(eq(pack.workspaceId, workspaceId), eq(pack.id, id), ...asItWas))
    .returning()
  return row
}

/**
 * Gives a pack a cover, or none; the one before goes, where no release has it. To be called in a transaction.
 * @returns Whether the pack is there.
 */
export async function setCover(
  tx: Db,
  { workspaceId, id }: Pick<Pack, 'workspaceId' | 'id'>,
  change: Pick<Pack, 'cover' | 'coverSha'>,
): Promise<boolean> {
  const isIt = and(eq(pack.workspaceId, workspaceId), eq(pack.id, id))
  const [before] = await tx.select({ coverSha: pack.coverSha }).from(pack).where(isIt).for('update')
  if (!before) return false
  await tx.update(pack).set(change).where(isIt)
  if (before.coverSha) await deleteOrphanBlobs(tx, workspaceId, [before.coverSha])
  return true
}

/** What of a pack is written by hand. */
type PackText = 'title' | 'maker' | 'licence' | 'licenceText' | 'help'

/** The sets a pack is made of, in the pack's order. */
export async function listPackSets(db: Db, workspaceId: string, packId: string) {
  return db
    .select({ id: rackSet.id, name: rackSet.name })
    .from(packSet)
    .innerJoin(rackSet, eq(rackSet.id, packSet.setId))
    .where(and(eq(packSet.workspaceId, workspaceId), eq(packSet.packId, packId), isNull(rackSet.deletedAt)))
    .orderBy(packSet.ordinal)
}

/**
 * Chooses a pack's sets anew; sets of another workspace are passed over.
 * @param was Which they were when they were chosen, in their order.
 * @returns Whether they were those still; otherwise nothing is changed.
 */
export async function setPackSets(
  db: Db,
  workspaceId: string,
  packId: string,
  { setIds, was }: { setIds: readonly string[]; was?: readonly string[] | undefined },
): Promise<boolean> {
  return db.transaction(async (tx) => {
    await lockPack(tx, workspaceId, packId)
    const now = (await listPackSets(tx, workspaceId, packId)).map(({ id }) => id)
    if (was && was.join() !== now.join()) return false
    await tx.delete(packSet).where(and(eq(packSet.workspaceId, workspaceId), eq(packSet.packId, packId)))
    const owned = await tx.select({ id: rackSet.id }).from(rackSet).where(eq(rackSet.workspaceId, workspaceId))
    const ours = new Set(owned.map((set) => set.id))
    const rows = setIds.filter((id) => ours.has(id)).map((setId, ordinal) => ({ workspaceId, packId, setId, ordinal }))
    if (rows.length > 0) await tx.insert(packSet).values(rows)
    return true
  })
}
