import { and, eq } from 'drizzle-orm'
import type { Db } from './database.ts'
import { brushVersion } from './schema/all.ts'
import type { BrushSnapshot } from './schema/library.ts'

/** One saved version of a brush. */
export async function findVersion(
  db: Db,
  workspaceId: string,
  brushId: string,
  ordinal: number,
): Promise<BrushSnapshot | undefined> {
  const [row] = await db
    .select({ snapshot: brushVersion.snapshot })
    .from(brushVersion)
    .where(
      and(
        eq(brushVersion.workspaceId, workspaceId),
        eq(brushVersion.brushId, brushId),
        eq(brushVersion.ordinal, ordinal),
      ),
    )
  return row?.snapshot
}

/** Names a version, or takes its name away. @returns Whether there is such a version. */
export async function labelVersion(
  db: Db,
  where: { workspaceId: string; brushId: string; ordinal: number },
  label: string,
): Promise<boolean> {
  const rows = await db
    .update(brushVersion)
    .set({ label })
    .where(
      and(
        eq(brushVersion.workspaceId, where.workspaceId),
        eq(brushVersion.brushId, where.brushId),
        eq(brushVersion.ordinal, where.ordinal),
      ),
    )
    .returning({ ordinal: brushVersion.ordinal })
  return rows.length > 0
}
