import { endOf } from '@satchel/core/editions/lessons'
import type { EditionPlan } from '@satchel/core/editions/plan'
import { and, asc, desc, eq, inArray, isNull, lte, ne, notInArray, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { deleteOrphanBlobs } from './orphans.ts'
import type { DownloadEnd } from './releases.ts'
import { scalar } from './scalar.ts'
import { type Cut, delivery, edition, editionBuild, handOut, pack, release } from './schema/all.ts'

export type Edition = typeof edition.$inferSelect
export type EditionBuild = typeof editionBuild.$inferSelect

/** How long one server may take to see to an edition before another does. */
const CLAIM = sql`interval '1 minute'`

const isIt = (workspaceId: string, id: string) => and(eq(edition.workspaceId, workspaceId), eq(edition.id, id))

/** A pack's editions in the order of their names, each with how many have it. */
export async function listEditions(db: Db, workspaceId: string, packId: string) {
  return db
    .select({
      id: edition.id,
      name: edition.name,
      plan: edition.plan,
      version: edition.version,
      handOuts: scalar(sql`select count(*) from ${handOut} where ${handOut.editionId} = ${edition.id}`).mapWith(Number),
    })
    .from(edition)
    .where(and(eq(edition.workspaceId, workspaceId), eq(edition.packId, packId), isNull(edition.deletedAt)))
    .orderBy(asc(edition.name), asc(edition.id))
}

export async function findEdition(db: Db, workspaceId: string, id: string): Promise<Edition | undefined> {
  const [row] = await db.select().from(edition).where(isIt(workspaceId, id))
  return row
}

export async function insertEdition(
  db: Db,
  values: { workspaceId: string; packId: string; name: string; plan: EditionPlan },
): Promise<Edition> {
  const [row] = await db
    .insert(edition)
    .values({ ...values, endsAt: classEnd(values.plan) })
    .returning()
  if (!row) throw new Error('insert gave no row')
  return row
}

/**
 * Changes an edition; its downloads are seen to at once.
 * @param was The version that was changed: a newer one by now is not covered.
 * @returns Its new version; undefined where it is another one by now, or gone.
 */
export async function updateEdition(
  db: Db,
  workspaceId: string,
  id: string,
  { name, plan, was }: { name: string; plan: EditionPlan; was: number },
): Promise<number | undefined> {
  const [row] = await db
    .update(edition)
    .set({ name, plan, endsAt: classEnd(plan), version: was + 1, prepareAt: sql`now()` })
    .where(and(isIt(workspaceId, id), eq(edition.version, was), isNull(edition.deletedAt)))
    .returning({ version: edition.version })
  return row?.version
}

/**
 * Puts an edition into the bin, or brings it back.
 * @returns Whether it is so now; one that somebody has cannot go.
 */
export async function setEditionDeleted(
  db: Db,
  workspaceId: string,
  id: string,
  deletedAt: Date | null,
): Promise<boolean> {
  const isHad = sql`exists (select 1 from ${handOut} h where h.edition_id = ${edition.id})`
  const rows = await db
    .update(edition)
    .set({ deletedAt })
    .where(and(isIt(workspaceId, id), deletedAt ? sql`not ${isHad}` : undefined))
    .returning({ id: edition.id })
  return rows.length > 0
}

/** Has the downloads of editions seen to at once: of one, or of all that a pack has. */
export async function prepareEditions(
  db: Db,
  workspaceId: string,
  which: { id: string } | { packId: string },
): Promise<void> {
  const those = 'id' in which ? eq(edition.id, which.id) : eq(edition.packId, which.packId)
  await db
    .update(edition)
    .set({ prepareAt: sql`now()` })
    .where(and(eq(edition.workspaceId, workspaceId), those))
}

/** An edition whose downloads are to be seen to, claimed for a minute; none where all is well. */
export async function claimEdition(db: Db): Promise<Edition | undefined> {
  return db.transaction(async (tx) => {
    const [due] = await tx
      .select({ id: edition.id })
      .from(edition)
      .innerJoin(pack, eq(pack.id, edition.packId))
      .where(and(lte(edition.prepareAt, sql`now()`), isNull(pack.deletedAt)))
      .orderBy(asc(edition.prepareAt))
      .limit(1)
      .for('update', { of: edition, skipLocked: true })
    if (!due) return undefined
    const [claimed] = await tx
      .update(edition)
      // as exact as it comes back: a claim is known by its moment
      .set({ prepareAt: sql`date_trunc('milliseconds', now()) + ${CLAIM}` })
      .where(eq(edition.id, due.id))
      .returning()
    return claimed
  })
}

/** Says when an edition that was claimed is to be seen to again; whoever changed it meanwhile has said so already. */
export async function prepareLater(db: Db, { workspaceId, id, prepareAt }: Edition, next: Date | null): Promise<void> {
  await db
    .update(edition)
    .set({ prepareAt: next })
    .where(and(isIt(workspaceId, id), prepareAt ? eq(edition.prepareAt, prepareAt) : isNull(edition.prepareAt)))
}

/** The releases that hand-outs of an edition give, other than by following. */
export async function listPinned(
  db: Db,
  { workspaceId, id }: Edition,
): Promise<{ follows: boolean; releaseId: string }[]> {
  return db
    .selectDistinct({ follows: handOut.follows, releaseId: handOut.releaseId })
    .from(handOut)
    .where(and(eq(handOut.workspaceId, workspaceId), eq(handOut.editionId, id), isNull(handOut.withdrawnAt)))
}

/** Notes a download that is to be built, once. */
export async function noteBuild(
  db: Db,
  values: { workspaceId: string; editionId: string; releaseId: string; key: string; cut: Cut },
): Promise<EditionBuild> {
  const [made] = await db
    .insert(editionBuild)
    .values({ ...values, state: 'building' })
    .onConflictDoNothing()
    .returning()
  if (made) return made
  const known = await findBuildByKey(db, values.workspaceId, values.editionId, values.key)
  if (!known) throw new Error('a build is neither new nor known')
  return known
}

export async function findBuildByKey(
  db: Db,
  workspaceId: string,
  editionId: string,
  key: string,
): Promise<EditionBuild | undefined> {
  const [row] = await db
    .select()
    .from(editionBuild)
    .where(
      and(eq(editionBuild.workspaceId, workspaceId), eq(editionBuild.editionId, editionId), eq(editionBuild.key, key)),
    )
  return row
}

export async function findBuild(db: Db, workspaceId: string, id: string): Promise<EditionBuild | undefined> {
  const [row] = await db
    .select()
    .from(editionBuild)
    .where(and(eq(editionBuild.workspaceId, workspaceId), eq(editionBuild.id, id)))
  return row
}

/** The downloads of an edition, newest first. */
export async function listBuilds(db: Db, workspaceId: string, editionId: string) {
  return db
    .select({
      id: editionBuild.id,
      state: editionBuild.state,
      zipBytes: editionBuild.zipBytes,
      zipFiles: editionBuild.zipFiles,
      version: release.version,
      brushes: sql<number>`jsonb_array_length(${editionBuild.cut} -> 'brushes')`.mapWith(Number),
      createdAt: editionBuild.createdAt,
    })
    .from(editionBuild)
    .innerJoin(release, eq(release.id, editionBuild.releaseId))
    .where(and(eq(editionBuild.workspaceId, workspaceId), eq(editionBuild.editionId, editionId)))
    .orderBy(desc(editionBuild.createdAt))
}

/** Says how far a download of an edition is. One that is ready stays so. */
export async function setBuildState(db: Db, workspaceId: string, id: string, end: DownloadEnd): Promise<void> {
  await db
    .update(editionBuild)
    .set(end)
    .where(and(eq(editionBuild.workspaceId, workspaceId), eq(editionBuild.id, id), ne(editionBuild.state, 'ready')))
}

/** Deletes downloads of an edition that are not wanted, older than a moment and not begun with since, with their files. */
export async function dropBuilds(
  db: Db,
  { workspaceId, id }: Edition,
  { keep, until }: { keep: readonly string[]; until: Date },
): Promise<void> {
  await db.transaction(async (tx) => {
    const gone = await tx
      .delete(editionBuild)
      .where(
        and(
          eq(editionBuild.workspaceId, workspaceId),
          eq(editionBuild.editionId, id),
          lte(editionBuild.createdAt, until),
          inArray(editionBuild.state, ['ready', 'failed']),
          keep.length > 0 ? notInArray(editionBuild.key, [...keep]) : undefined,
          // who has begun with one may go on
          sql`not exists (select 1 from ${delivery} where ${delivery.workspaceId} = ${workspaceId}
            and ${delivery.buildId} = ${editionBuild.id} and ${delivery.at} > ${until.toISOString()}::timestamptz)`,
        ),
      )
      .returning({ zipSha: editionBuild.zipSha, contentsSha: editionBuild.contentsSha })
    const files = gone.flatMap(({ zipSha, contentsSha }) => [zipSha ?? [], contentsSha ?? []].flat())
    await deleteOrphanBlobs(tx, workspaceId, files)
  })
}

const classEnd = ({ kit }: EditionPlan): Date | null => (kit ? (endOf(kit) ?? null) : null)
