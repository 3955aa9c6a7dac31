import { and, asc, eq, isNull } from 'drizzle-orm'
import type { Db } from './database.ts'
import { comparedTip, isFirstFrame } from './gather-duplicates.ts'
import { isAnyOf } from './many.ts'
import { brush, tip, tipFrame } from './schema/all.ts'

/** What brushes' pixels are known by. */
export async function loadTipKeys(db: Db, workspaceId: string, ids: readonly string[]): Promise<Map<string, string>> {
  const rows = await db
    .select({ id: brush.id, pixelKey: tip.pixelKey })
    .from(brush)
    .innerJoin(tip, eq(tip.id, brush.tipId))
    .where(and(eq(brush.workspaceId, workspaceId), isAnyOf(brush.id, ids)))
  return new Map(rows.map(({ id, pixelKey }) => [id, pixelKey]))
}

/** Brushes with just these pixels, oldest first, without those in the bin and those that came with the product. */
export const findByPixels = (db: Db, workspaceId: string, pixelKeys: readonly string[]) =>
  db
    .select({ id: brush.id, name: brush.name, pixelKey: tip.pixelKey })
    .from(tip)
    .innerJoin(brush, eq(brush.tipId, tip.id))
    .where(
      and(
        eq(tip.workspaceId, workspaceId),
        isAnyOf(tip.pixelKey, pixelKeys),
        eq(brush.workspaceId, workspaceId),
        isNull(brush.deletedAt),
        eq(brush.starter, false),
      ),
    )
    .orderBy(asc(brush.createdAt), asc(brush.id))

/** Brushes as their tips are compared with others. */
export const loadComparedBrushes = (db: Db, workspaceId: string, ids: readonly string[]) =>
  db
    .select({ ...comparedTip, brushId: brush.id })
    .from(brush)
    .innerJoin(tip, eq(tip.id, brush.tipId))
    .innerJoin(tipFrame, isFirstFrame)
    .where(and(eq(brush.workspaceId, workspaceId), isAnyOf(brush.id, ids), isNull(brush.deletedAt)))
