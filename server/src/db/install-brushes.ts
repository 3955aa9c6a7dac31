import { and, asc, eq, getTableColumns, notInArray, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { inParts } from './many.ts'
import { install, installBrush, installFile, pack, release } from './schema/all.ts'

type Install = typeof install.$inferSelect

type Row = typeof installBrush.$inferSelect
/** What became of a brush when it was written. */
export type InstallBrush = Omit<Row, 'installId' | 'workspaceId'>

const ofInstall = ({ workspaceId, id }: Pick<Install, 'workspaceId' | 'id'>) =>
  and(eq(installBrush.workspaceId, workspaceId), eq(installBrush.installId, id))

/** Notes what became of brushes, over what was noted of them before. */
export async function saveInstallBrushes(
  db: Db,
  { workspaceId, id }: Pick<Install, 'workspaceId' | 'id'>,
  brushes: readonly InstallBrush[],
): Promise<void> {
  const rows = brushes.map((brush) => ({ ...brush, workspaceId, installId: id }))
  for (const some of inParts(installBrush, rows))
    await db
      .insert(installBrush)
      .values(some)
      .onConflictDoUpdate({
        target: [installBrush.installId, installBrush.brushId],
        set: {
          name: sql`excluded.name`,
          score: sql`excluded.score`,
          kept: sql`excluded.kept`,
          approximated: sql`excluded.approximated`,
          left: sql`excluded."left"`,
        },
      })
}

/** Forgets brushes that have no file among those of the install any more. */
export async function dropFilelessBrushes(db: Db, own: Pick<Install, 'workspaceId' | 'id'>): Promise<void> {
  const withFiles = db
    .select({ brushId: installFile.brushId })
    .from(installFile)
    .where(and(eq(installFile.workspaceId, own.workspaceId), eq(installFile.installId, own.id)))
  await db.delete(installBrush).where(and(ofInstall(own), notInArray(installBrush.brushId, withFiles)))
}

/** What became of the brushes of an install, in its order. */
export async function listInstallBrushes(db: Db, own: Pick<Install, 'workspaceId' | 'id'>): Promise<InstallBrush[]> {
  const { installId, workspaceId, ...columns } = getTableColumns(installBrush)
  return db
    .select(columns)
    .from(installBrush)
    .innerJoin(install, and(eq(install.workspaceId, installBrush.workspaceId), eq(install.id, installBrush.installId)))
    .where(ofInstall(own))
    .orderBy(asc(sql`array_position(${install.brushIds}, ${installBrush.brushId})`), asc(installBrush.brushId))
}

/** Which release an install is of, and which is the newest of that pack that can be had. */
export const releaseOfInstall = sql<{
  pack: string
  version: string
  newest: string | null
  /** Why it was taken back; absent where it was not. */
  recalled: string | null
} | null>`(
  select jsonb_build_object('pack', p.title, 'version', r.version,
    'recalled', case when r.recalled_at is null then null else r.recall_reason end, 'newest', (
    select newer.version from ${release} newer
    where newer.workspace_id = r.workspace_id and newer.pack_id = r.pack_id and newer.state = 'ready'
      and newer.recalled_at is null
    order by newer.created_at desc limit 1
  ))
  from ${release} r join ${pack} p on p.workspace_id = r.workspace_id and p.id = r.pack_id
  where r.id = "install"."release_id" and r.workspace_id = "install"."workspace_id"
)`
