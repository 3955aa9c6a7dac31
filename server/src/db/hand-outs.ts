import { and, count, desc, eq, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { inParts, isAnyOf } from './many.ts'
import { delivery, edition, handOut, mail, purchase, recipient, release, shop } from './schema/all.ts'

export type HandOut = typeof handOut.$inferSelect
type Mail = typeof mail.$inferSelect

/** A page takes no more at once; nobody has as many. */
const HAND_OUTS_MAX = 100_000

/** A hand-out whose link still works. */
export const isOut = sql`(${handOut.withdrawnAt} is null and (${handOut.endsAt} is null or ${handOut.endsAt} > now())
  and not exists (select 1 from ${edition} e where e.id = ${handOut.editionId} and e.ends_at <= now())
  and (${handOut.downloadLimit} is null or ${handOut.downloads} < ${handOut.downloadLimit}))`

export async function countOut(db: Db, workspaceId: string): Promise<number> {
  const [row] = await db
    .select({ n: count() })
    .from(handOut)
    .where(and(eq(handOut.workspaceId, workspaceId), isOut))
  return row?.n ?? 0
}

/** The release that a hand-out gives: the newest good one of its pack where it follows, and where there is one. */
const givenRelease = sql<string>`case when ${handOut.follows} then coalesce(
  (select r.id from ${release} r where r.pack_id = (select pack_id from ${release} own where own.id = ${handOut.releaseId}) and r.state = 'ready'
    and r.recalled_at is null order by r.created_at desc limit 1), ${handOut.releaseId})
  else ${handOut.releaseId} end`

/** How many hand-outs a pack has. */
export async function countHandOuts(db: Db, workspaceId: string, packId: string): Promise<number> {
  const [row] = await db
    .select({ n: count() })
    .from(handOut)
    .innerJoin(release, eq(release.id, handOut.releaseId))
    .where(and(eq(handOut.workspaceId, workspaceId), eq(release.packId, packId)))
  return row?.n ?? 0
}

/**
 * A pack's hand-outs, newest first, with the version each gives and the one that was fetched last.
 * @param most The newest of them, and no more; all where it is not said.
 */
export async function listHandOuts(
  db: Db,
  workspaceId: string,
  packId: string,
  { most = HAND_OUTS_MAX }: { most?: number } = {},
) {
  return (
    db
      .select({
        id: handOut.id,
        recipientId: handOut.recipientId,
        name: handOut.name,
        email: sql<string>`coalesce(${recipient.email}, '')`,
        note: sql<string>`coalesce(${recipient.note}, '')`,
        follows: handOut.follows,
        noMail: sql<boolean>`${recipient.noMailAt} is not null`,
        /** How the last mail to them stands. */
        mail: sql<{ state: Mail['state']; kind: Mail['kind']; said: string; at: string } | null>`(
          select json_build_object('state', m.state, 'kind', m.kind, 'said', m.said, 'at', coalesce(m.sent_at, m.created_at))
          from ${mail} m where m.hand_out_id = ${handOut.id} order by m.created_at desc, m.id limit 1)`,
        /** Where it was bought, and whether the money went back. */
        bought: sql<{ order: string; shop: string; at: string | null; refundedAt: string | null } | null>`(
          select json_build_object('order', p.order_name, 'shop', s.name, 'at', p.paid_at, 'refundedAt', p.refunded_at)
          from ${purchase} p join ${shop} s on s.id = p.shop_id where p.hand_out_id = ${handOut.id} limit 1)`,
        /** Whether its link can be copied again. */
        hasLink: sql<boolean>`${handOut.tokenSealed} is not null`,
        releaseId: handOut.releaseId,
        editionId: handOut.editionId,
        edition: edition.name,
        /** When the class it is of is over. */
        classEndsAt: edition.endsAt,
        endsAt: handOut.endsAt,
        downloadLimit: handOut.downloadLimit,
        downloads: handOut.downloads,
        withdrawnAt: handOut.withdrawnAt,
        createdAt: handOut.createdAt,
        version: release.version,
        lastAt: sql<
          string | null
        >`(select max(${delivery.at}) from ${delivery} where ${delivery.handOutId} = ${handOut.id} and ${delivery.state} = 'sent')`,
        lastVersion: sql<string | null>`(select r.version from ${delivery} d join ${release} r on r.id = d.release_id
        where d.hand_out_id = ${handOut.id} and d.state = 'sent' order by d.at desc limit 1)`,
      })
      .from(handOut)
      .innerJoin(release, eq(release.id, givenRelease))
      .leftJoin(recipient, eq(recipient.id, handOut.recipientId))
      .leftJoin(edition, eq(edition.id, handOut.editionId))
      .where(and(eq(handOut.workspaceId, workspaceId), eq(release.packId, packId)))
      // those of one act stand in the order of their names
      .orderBy(desc(handOut.createdAt), sql`${handOut.name} collate "natural_order"`, handOut.id)
      .limit(most)
  )
}

export async function insertHandOut(db: Db, values: typeof handOut.$inferInsert): Promise<HandOut> {
  const [row] = await db.insert(handOut).values(values).returning()
  if (!row) throw new Error('insert gave no row')
  return row
}

export async function updateHandOut(
  db: Db,
  workspaceId: string,
  id: string,
  change: { withdrawnAt?: Date | null; tokenHash?: string; tokenSealed?: string },
): Promise<HandOut | undefined> {
  const [row] = await db
    .update(handOut)
    .set(change)
    .where(and(eq(handOut.workspaceId, workspaceId), eq(handOut.id, id)))
    .returning()
  return row
}

/** Those of some hand-outs that a workspace has. */
export async function findHandOuts(db: Db, workspaceId: string, ids: readonly string[]): Promise<HandOut[]> {
  return db
    .select()
    .from(handOut)
    .where(and(eq(handOut.workspaceId, workspaceId), isAnyOf(handOut.id, ids)))
}

/** Hand-outs that copies name, with the pack that each is of. */
export async function findIssued(db: Db, workspaceId: string, ids: readonly string[]) {
  return db
    .select({
      ...{ id: handOut.id, name: handOut.name, createdAt: handOut.createdAt, withdrawnAt: handOut.withdrawnAt },
      email: sql<string>`coalesce(${recipient.email}, '')`,
      packId: release.packId,
      title: sql<string>`${release.manifest}->>'title'`,
      fetched: sql<number>`(select count(*)::int from ${delivery} d where d.hand_out_id = ${handOut.id} and d.state = 'sent')`,
    })
    .from(handOut)
    .innerJoin(release, eq(release.id, handOut.releaseId))
    .leftJoin(recipient, eq(recipient.id, handOut.recipientId))
    .where(and(eq(handOut.workspaceId, workspaceId), isAnyOf(handOut.id, ids)))
}

/** What can be changed of hand-outs, one or many at once. */
export type HandOutTerms = Pick<
  HandOut,
  'withdrawnAt' | 'endsAt' | 'downloadLimit' | 'follows' | 'releaseId' | 'editionId'
>
/** A change of them: what is not said stays. */
export type HandOutChange = { id: string } & { [Term in keyof HandOutTerms]?: HandOutTerms[Term] | undefined }

/**
 * Changes hand-outs of a pack, all or none.
 * @returns What they were before, of those that the pack has.
 */
export async function changeHandOuts(
  db: Db,
  workspaceId: string,
  packId: string,
  changes: readonly HandOutChange[],
): Promise<({ id: string } & HandOutTerms)[]> {
  return db.transaction(async (tx) => {
    // in the order of their ids: two that change the same ones wait for each other, and never crosswise
    const before = await tx
      .select({
        ...{ id: handOut.id, withdrawnAt: handOut.withdrawnAt, endsAt: handOut.endsAt },
        ...{ downloadLimit: handOut.downloadLimit, follows: handOut.follows, releaseId: handOut.releaseId },
        editionId: handOut.editionId,
      })
      .from(handOut)
      .where(
        and(
          eq(handOut.workspaceId, workspaceId),
          isAnyOf(
            handOut.id,
            changes.map(({ id }) => id),
          ),
          sql`${handOut.releaseId} in (select r.id from ${release} r where r.pack_id = ${packId})`,
        ),
      )
      .orderBy(handOut.id)
      .for('update')
    const known = new Set(before.map(({ id }) => id))
    // most are changed alike: those go together
    const alike = new Map<string, { change: Omit<HandOutChange, 'id'>; ids: string[] }>()
    for (const { id, ...change } of changes) {
      if (!known.has(id) || Object.values(change).every((value) => value === undefined)) continue
      const key = JSON.stringify(change)
      const group = alike.get(key) ?? { change, ids: [] }
      group.ids.push(id)
      alike.set(key, group)
    }
    for (const { change, ids } of alike.values())
      await tx
        .update(handOut)
        .set(change)
        .where(and(eq(handOut.workspaceId, workspaceId), isAnyOf(handOut.id, ids)))
    return before
  })
}

/**
 * Ends all links of an edition that are out.
 * @returns When they would have ended: given back, it undoes this.
 */
export async function endHandOutsOf(
  db: Db,
  workspaceId: string,
  editionId: string,
  endsAt: Date,
): Promise<{ id: string; endsAt: Date | null }[]> {
  return db.transaction(async (tx) => {
    const out = await tx
      .select({ id: handOut.id, endsAt: handOut.endsAt })
      .from(handOut)
      .where(and(eq(handOut.workspaceId, workspaceId), eq(handOut.editionId, editionId), isOut))
      .orderBy(handOut.id)
      .for('update')
    const ids = out.map(({ id }) => id)
    if (ids.length > 0)
      await tx
        .update(handOut)
        .set({ endsAt })
        .where(and(eq(handOut.workspaceId, workspaceId), isAnyOf(handOut.id, ids)))
    return out
  })
}

/** Adds hand-outs of one act; those that it has made already stay. @returns All that the act has made. */
export async function insertBatch(
  db: Db,
  workspaceId: string,
  batchId: string,
  rows: readonly (typeof handOut.$inferInsert)[],
): Promise<HandOut[]> {
  for (const some of inParts(handOut, rows)) await db.insert(handOut).values(some).onConflictDoNothing()
  return db
    .select()
    .from(handOut)
    .where(and(eq(handOut.workspaceId, workspaceId), eq(handOut.batchId, batchId)))
    .orderBy(sql`${handOut.name} collate "natural_order"`, handOut.id)
}

/**
 * The hand-out behind a link, whatever its state, with the release that it gives and the edition that cuts it. The link's hash is the key; it leads to exactly
 * one workspace, whose id comes with the row and bounds every further query.
 */
export async function findHandOutByToken(db: Db, tokenHash: string) {
  const [row] = await db
    .select({ handOut, release, edition })
    .from(handOut)
    .innerJoin(release, eq(release.id, givenRelease))
    .leftJoin(edition, eq(edition.id, handOut.editionId))
    .where(eq(handOut.tokenHash, tokenHash))
  return row
}
