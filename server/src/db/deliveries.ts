import type { Part } from '@satchel/core/pack/parts'
import { and, desc, eq, inArray, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { isOut } from './hand-outs.ts'
import { delivery, editionBuild, handOut, release } from './schema/all.ts'

/** Which release, and which build of it, a download was granted of under a name, not longer ago than it may be gone on with; undefined where none was. */
export async function findGranted(
  db: Db,
  { workspaceId, id }: { workspaceId: string; id: string },
  grantHash: string,
): Promise<{ releaseId: string | null; buildId: string | null; part: Part | null; etag: string | null } | undefined> {
  const [granted] = await db
    .select({ releaseId: delivery.releaseId, buildId: delivery.buildId, part: delivery.part, etag: delivery.etag })
    .from(delivery)
    .where(
      and(
        eq(delivery.workspaceId, workspaceId),
        eq(delivery.handOutId, id),
        eq(delivery.grantHash, grantHash),
        sql`${delivery.at} > now() - interval '1 hour'`,
      ),
    )
  return granted
}

/** What was fetched last through a hand-out, and when: its brushes too, while what it was cut to is known. */
export async function findFetched(
  db: Db,
  { workspaceId, id }: { workspaceId: string; id: string },
): Promise<{ version: string; at: Date; brushes: string[] | null } | undefined> {
  const [row] = await db
    .select({ version: release.version, at: delivery.at, cut: editionBuild.cut })
    .from(delivery)
    .innerJoin(release, eq(release.id, delivery.releaseId))
    .leftJoin(editionBuild, eq(editionBuild.id, delivery.buildId))
    .where(and(eq(delivery.workspaceId, workspaceId), eq(delivery.handOutId, id), eq(delivery.state, 'sent')))
    .orderBy(desc(delivery.at))
    .limit(1)
  return row && { version: row.version, at: row.at, brushes: row.cut?.brushes ?? null }
}

/**
 * Holds a place of the limit for a download, and notes the name it is granted under. What was granted an hour ago and never
 * sent gives its place back first.
 * @returns Whether one was left.
 */
export async function takeDownload(
  db: Db,
  { workspaceId, id }: { workspaceId: string; id: string },
  wish: {
    grantHash: string
    etag?: string
    releaseId: string
    buildId?: string | null
    part?: Part | undefined
    app?: string | null
  },
): Promise<boolean> {
  return db.transaction(async (tx) => {
    const ofHandOut = and(eq(delivery.workspaceId, workspaceId), eq(delivery.handOutId, id))
    const lapsed = await tx
      .update(delivery)
      .set({ state: 'broken' })
      .where(and(ofHandOut, eq(delivery.state, 'open'), sql`${delivery.at} <= now() - interval '1 hour'`))
      .returning({ id: delivery.id })
    if (lapsed.length > 0) await countDownloads(tx, { workspaceId, id }, -lapsed.length)
    const [held] = await countDownloads(tx, { workspaceId, id }, 1)
    if (!held) return false
    await tx.insert(delivery).values({ workspaceId, handOutId: id, ...wish, state: 'open' })
    return true
  })
}

/**
 * A granted download begins, or goes on after it broke off: then it needs a place again.
 * @returns Whether it may.
 */
export async function resumeDownload(
  db: Db,
  handOut: { workspaceId: string; id: string },
  grantHash: string,
): Promise<boolean> {
  return db.transaction(async (tx) => {
    const isAgain = await moveDelivery(tx, handOut, grantHash, { from: ['broken'], to: 'open' })
    if (!isAgain) return true
    if ((await countDownloads(tx, handOut, 1)).length > 0) return true
    await moveDelivery(tx, handOut, grantHash, { from: ['open'], to: 'broken' })
    return false
  })
}

/** A download was sent to its end: now it counts for good, also where its place had been given back meanwhile. */
export async function keepDownload(
  db: Db,
  handOut: { workspaceId: string; id: string },
  grantHash: string,
): Promise<void> {
  await db.transaction(async (tx) => {
    if (await moveDelivery(tx, handOut, grantHash, { from: ['open'], to: 'sent' })) return
    if (await moveDelivery(tx, handOut, grantHash, { from: ['broken'], to: 'sent' }))
      await countDownloads(tx, handOut, 1, { isSent: true })
  })
}

/** A download broke off before its end: it gives its place back. */
export async function giveDownloadBack(
  db: Db,
  handOut: { workspaceId: string; id: string },
  grantHash: string,
): Promise<void> {
  await db.transaction(async (tx) => {
    if (await moveDelivery(tx, handOut, grantHash, { from: ['open'], to: 'broken' }))
      await countDownloads(tx, handOut, -1)
  })
}

type DeliveryState = (typeof delivery.$inferSelect)['state']

async function moveDelivery(
  db: Db,
  { workspaceId, id }: { workspaceId: string; id: string },
  grantHash: string,
  { from, to }: { from: DeliveryState[]; to: DeliveryState },
): Promise<boolean> {
  const moved = await db
    .update(delivery)
    .set({ state: to })
    .where(
      and(
        eq(delivery.workspaceId, workspaceId),
        eq(delivery.handOutId, id),
        eq(delivery.grantHash, grantHash),
        inArray(delivery.state, from),
      ),
    )
    .returning({ id: delivery.id })
  return moved.length > 0
}

/** Changes how many downloads count. More are counted only of a hand-out that still gives any, unless it was sent already. */
const countDownloads = (
  db: Db,
  { workspaceId, id }: { workspaceId: string; id: string },
  by: number,
  { isSent = false } = {},
) =>
  db
    .update(handOut)
    .set({ downloads: sql`greatest(0, ${handOut.downloads} + ${by})` })
    .where(and(eq(handOut.workspaceId, workspaceId), eq(handOut.id, id), by > 0 && !isSent ? isOut : undefined))
    .returning({ id: handOut.id })
