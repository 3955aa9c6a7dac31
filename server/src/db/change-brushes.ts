import { and, eq, isNull } from 'drizzle-orm'
import { isCurrent } from './brushes.ts'
import type { Db } from './database.ts'
import { isAnyOf } from './many.ts'
import { brush, brushVersion } from './schema/all.ts'
import type { BrushSnapshot } from './schema/library.ts'

/** A brush as it is, to be changed. */
export type CurrentBrush = { id: string; version: number; frames: number; snapshot: BrushSnapshot }

/** Brushes as they are, without those in the bin. @param hold Whether nobody else may change them meanwhile. */
export async function loadCurrent(
  db: Db,
  workspaceId: string,
  ids: readonly string[],
  { hold = false } = {},
): Promise<Map<string, CurrentBrush>> {
  const these = and(eq(brush.workspaceId, workspaceId), isAnyOf(brush.id, ids), isNull(brush.deletedAt))
  if (hold) await db.select({ id: brush.id }).from(brush).where(these).orderBy(brush.id).for('update')
  const rows = await db
    .select({ id: brush.id, version: brush.version, frames: brush.frames, snapshot: brushVersion.snapshot })
    .from(brush)
    .innerJoin(brushVersion, isCurrent)
    .where(these)
  return new Map(rows.map((row) => [row.id, row]))
}
