import { sql } from 'drizzle-orm'
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
  // one pass over what was fetched: all else is counted of what that leaves
  const its = sql`
    its as materialized (select ${handOut}.id, ${handOut}.created_at, ${isOut} as is_out from ${handOut}
      join ${release} on ${release}.id = ${handOut}.release_id
      where ${handOut}.workspace_id = ${workspaceId} and ${release}.pack_id = ${packId}),
    fetched as materialized (select d.hand_out_id, d.release_id, d.app, d.at from ${delivery} d
      join its on its.id = d.hand_out_id where d.workspace_id = ${workspaceId} and d.state = 'sent')`
  const versions = sql`(select id, version from ${release} where pack_id = ${packId}) r`
  const [downloads, holders, unused, waits] = await Promise.all([
    db.execute<Figures['downloads'][number]>(sql`with ${its}
      select to_char(f.at at time zone ${zone}, 'YYYY-MM-DD') as day, coalesce(r.version, '') as version, f.app, count(*)::int as count
      from fetched f left join ${versions} on r.id = f.release_id group by 1, 2, 3 order by 1, 2, 3`),
    db.execute<Figures['holders'][number]>(sql`with ${its},
      last as (select distinct on (hand_out_id) hand_out_id, release_id from fetched order by hand_out_id, at desc)
      select r.version, count(*)::int as count from its
      left join last on last.hand_out_id = its.id left join ${versions} on r.id = last.release_id group by 1 order by 1 nulls last`),
    db.execute<{ count: number }>(sql`with ${its}
      select count(*)::int as count from its where is_out and not exists (select 1 from fetched f where f.hand_out_id = its.id)`),
    db.execute<Figures['waits'][number]>(sql`with ${its},
      first as (select hand_out_id, min(at) as at from fetched group by 1)
      select ((first.at at time zone ${zone})::date - (its.created_at at time zone ${zone})::date) as days, count(*)::int as count
      from first join its on its.id = first.hand_out_id group by 1 order by 1`),
  ])
  return {
    downloads: downloads.rows,
    holders: holders.rows,
    unused: unused.rows[0]?.count ?? 0,
    waits: waits.rows,
  }
}
