import { and, eq, isNotNull, max, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { isOut } from './hand-outs.ts'
import { delivery, handOut, release } from './schema/all.ts'

/** Who has what of a pack, and when it was fetched: counts, days, versions and apps, and nothing of anybody. */
export type Figures = {
  /** What was fetched, by day. */
  downloads: { day: string; version: string; app: string | null; count: number }[]
  /** Hand-outs by the version that was fetched last; null of those of which none was. */
  holders: { version: string | null; count: number }[]
  /** Links that work and of which nothing was fetched so far. */
  unused: number
  /** Hand-outs by the days from the link to what was fetched first. */
  waits: { days: number; count: number }[]
}

/**
 * Counts the hand-outs of a pack and what was fetched through them.
 * @param zone The time zone whose days are meant, by its IANA name.
 */
export async function countFigures(
  db: Db,
  { workspaceId, packId, zone }: { workspaceId: string; packId: string; zone: string },
): Promise<Figures> {
  // In one statement, so that what was fetched is gone through once: to days and waits first, then those few are counted.
  const { rows } = await db.execute<Figures>(sql`
    with its as materialized (select ${handOut}.id, ${handOut}.created_at, ${isOut} as is_out from ${handOut}
      join ${release} on ${release}.id = ${handOut}.release_id
      where ${handOut}.workspace_id = ${workspaceId} and ${release}.pack_id = ${packId}),
    fetched as materialized (select d.hand_out_id, d.release_id, d.app, (d.at at time zone ${zone})::date as day,
        count(*)::int as n, min(d.at) as first, max(d.at) as last
      from ${delivery} d join its on its.id = d.hand_out_id
      where d.workspace_id = ${workspaceId} and d.state = 'sent' group by 1, 2, 3, 4),
    versions as (select id, version from ${release} where workspace_id = ${workspaceId} and pack_id = ${packId}),
    downloads as (select to_char(f.day, 'YYYY-MM-DD') as day, coalesce(v.version, '') as version, f.app, sum(f.n)::int as count
      from fetched f left join versions v on v.id = f.release_id group by 1, 2, 3),
    of_each as (select hand_out_id, min(first) as first, (array_agg(release_id order by last desc))[1] as release_id
      from fetched group by 1),
    holders as (select v.version, count(*)::int as count from its
      left join of_each o on o.hand_out_id = its.id left join versions v on v.id = o.release_id group by 1),
    waits as (select (o.first at time zone ${zone})::date - (its.created_at at time zone ${zone})::date as days, count(*)::int as count
      from of_each o join its on its.id = o.hand_out_id group by 1)
    select
      coalesce((select json_agg(d order by d.day, d.version, d.app) from downloads d), '[]') as downloads,
      coalesce((select json_agg(h order by h.version nulls last) from holders h), '[]') as holders,
      (select count(*)::int from its where is_out and not exists (select 1 from of_each o where o.hand_out_id = its.id)) as unused,
      coalesce((select json_agg(w order by w.days) from waits w), '[]') as waits`)
  const [figures] = rows
  if (!figures) throw new Error('counting gave no row')
  return figures
}

/** When something was last fetched through each hand-out of an edition; null where nothing was. */
export async function listLastFetches(
  db: Db,
  workspaceId: string,
  packId: string,
): Promise<{ editionId: string | null; lastAt: Date | null }[]> {
  return db
    .select({ editionId: handOut.editionId, lastAt: max(delivery.at) })
    .from(handOut)
    .innerJoin(release, eq(release.id, handOut.releaseId))
    .leftJoin(
      delivery,
      and(eq(delivery.workspaceId, workspaceId), eq(delivery.handOutId, handOut.id), eq(delivery.state, 'sent')),
    )
    .where(and(eq(handOut.workspaceId, workspaceId), eq(release.packId, packId), isNotNull(handOut.editionId)))
    .groupBy(handOut.id)
}
