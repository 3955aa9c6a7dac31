import { groupBy } from '@satchel/core/group-by'
import { and, count, eq, isNotNull, isNull, sql } from 'drizzle-orm'
import { except } from 'drizzle-orm/pg-core'
import type { Db } from './database.ts'
import { isAnyOf } from './many.ts'
import { brush, gatherLine, takenBrush, takenPack } from './schema/all.ts'
import type { LineTaken } from './schema/taken.ts'
import { findTakenPacks } from './taken.ts'

/** Brushes of one pack that are named in an answer: more are counted. */
const GONE_NAMED = 50

/**
 * Brushes of packs that were taken and are in no line of a ledger. The two lists are taken apart as a whole: asked for each brush
 * whether there is a line, the database walks all lines for each where it does not know yet how many there are.
 */
async function listGone(db: Db, workspaceId: string, gatherId: string, packIds: readonly string[]) {
  const ours = db
    .select({ origin: takenBrush.origin })
    .from(takenBrush)
    .where(and(eq(takenBrush.workspaceId, workspaceId), isAnyOf(takenBrush.packId, packIds)))
  const there = db
    .select({ origin: sql<string>`${gatherLine.origin}` })
    .from(gatherLine)
    .where(
      and(eq(gatherLine.workspaceId, workspaceId), eq(gatherLine.gatherId, gatherId), isNotNull(gatherLine.origin)),
    )
  const left = await except(ours, there)
  if (left.length === 0) return []
  return db
    .select({ packId: takenBrush.packId, id: brush.id, name: brush.name })
    .from(takenBrush)
    .innerJoin(brush, eq(brush.id, takenBrush.brushId))
    .where(
      and(
        eq(takenBrush.workspaceId, workspaceId),
        isAnyOf(
          takenBrush.origin,
          left.map(({ origin }) => origin),
        ),
        isNull(brush.deletedAt),
      ),
    )
    .orderBy(brush.name)
}

/** The packs in a ledger of which something was taken before, and how their lines stand. */
export async function listNewer(db: Db, workspaceId: string, gatherId: string) {
  // most libraries have taken nothing: then the lines are not walked
  const [any] = await db
    .select({ id: takenPack.id })
    .from(takenPack)
    .where(eq(takenPack.workspaceId, workspaceId))
    .limit(1)
  if (!any) return []
  const ours = and(eq(gatherLine.workspaceId, workspaceId), eq(gatherLine.gatherId, gatherId))
  const source = (field: string) => sql<string>`${gatherLine.brush} -> 'source' ->> ${field}`
  const counts = await db
    .select({
      key: source('key'),
      title: source('title'),
      release: source('release'),
      standing: sql<LineTaken['standing'] | null>`${gatherLine.taken} ->> 'standing'`,
      had: sql<string | null>`max(${gatherLine.taken} ->> 'had')`,
      isStrange: sql<boolean>`coalesce(bool_or((${gatherLine.taken} ->> 'isStrange')::boolean), false)`,
      n: count(),
    })
    .from(gatherLine)
    .where(and(ours, isNotNull(gatherLine.origin)))
    .groupBy(sql`1`, sql`2`, sql`3`, sql`4`)
    .orderBy(sql`2`, sql`3`)
  const known = await findTakenPacks(db, workspaceId, [...new Set(counts.map(({ key }) => key))])
  const gone = await listGone(
    db,
    workspaceId,
    gatherId,
    [...known.values()].map(({ id }) => id),
  )
  return [...groupBy(counts, ({ key, title, release }) => JSON.stringify([key, title, release]))].flatMap(
    ([id, rows]) => {
      const [first] = rows
      const pack = first && known.get(first.key)
      // brushes may have come by another pack of the same maker
      const had = pack?.release ?? rows.find((row) => row.had !== null)?.had
      if (!first || had == null) return []
      const left = gone.filter(({ packId }) => packId === pack?.id)
      return {
        id,
        title: first.title,
        release: first.release,
        had,
        /** That some of it is not signed by whom those were signed by that are here: it may be somebody else's. */
        isStrange: rows.some(({ isStrange }) => isStrange),
        counts: Object.fromEntries(rows.map(({ standing, n }) => [standing ?? 'new', n])) as Partial<
          Record<LineTaken['standing'] | 'new', number>
        >,
        gone: {
          count: left.length,
          named: left.slice(0, GONE_NAMED).map(({ id: brushId, name }) => ({ id: brushId, name })),
        },
      }
    },
  )
}
