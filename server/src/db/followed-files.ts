import type { FileSha } from '@satchel/core/hashes'
import { and, asc, eq, isNotNull, isNull, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import type { GatherFile } from './gathers.ts'
import { isAnyOf } from './many.ts'
import { filesOf } from './picture-owners.ts'
import { gather, gatherFile, gatherLine } from './schema/all.ts'

/** Files of a gather that were read, held for what comes of them. */
export const listReadFiles = (tx: Db, workspaceId: string, gatherId: string): Promise<GatherFile[]> =>
  tx
    .select()
    .from(gatherFile)
    .where(
      and(eq(gatherFile.workspaceId, workspaceId), eq(gatherFile.gatherId, gatherId), eq(gatherFile.state, 'read')),
    )
    .orderBy(asc(gatherFile.createdAt), asc(gatherFile.id))
    .for('update')

/** Takes lines away. @returns The names of files that may be nobody's now. */
export async function dropLines(tx: Db, workspaceId: string, ids: readonly string[]): Promise<FileSha[]> {
  const lines = await tx
    .delete(gatherLine)
    .where(and(eq(gatherLine.workspaceId, workspaceId), isAnyOf(gatherLine.id, ids)))
    .returning()
  return filesOf('gatherLine', lines)
}

/** Takes files away with all of their lines. @returns The names of files that may be nobody's now, and how many brushes waited in them. */
export async function dropFiles(
  tx: Db,
  workspaceId: string,
  ids: readonly string[],
): Promise<{ names: FileSha[]; brushes: number }> {
  const lines = await tx
    .delete(gatherLine)
    .where(and(eq(gatherLine.workspaceId, workspaceId), isAnyOf(gatherLine.fileId, ids)))
    .returning()
  const files = await tx
    .delete(gatherFile)
    .where(and(eq(gatherFile.workspaceId, workspaceId), isAnyOf(gatherFile.id, ids)))
    .returning()
  return {
    names: [...filesOf('gatherFile', files), ...filesOf('gatherLine', lines)],
    brushes: lines.filter(({ frames }) => frames.length > 0).length,
  }
}

/** Puts files that were read into another ledger, lines and all. */
export async function moveFiles(tx: Db, workspaceId: string, ids: readonly string[], ledgerId: string): Promise<void> {
  await tx
    .update(gatherFile)
    .set({ gatherId: ledgerId })
    .where(and(eq(gatherFile.workspaceId, workspaceId), isAnyOf(gatherFile.id, ids)))
  await tx
    .update(gatherLine)
    .set({ gatherId: ledgerId })
    .where(and(eq(gatherLine.workspaceId, workspaceId), isAnyOf(gatherLine.fileId, ids)))
}

/** Files of a ledger that are what followed files held before, each with the file that stands for it now. */
async function listOlder(tx: Db, workspaceId: string, ledgerId: string, files: readonly GatherFile[]) {
  const ids = files.flatMap(({ followedId }) => followedId ?? [])
  const rows = await tx
    .select({ id: gatherFile.id, followedId: gatherFile.followedId })
    .from(gatherFile)
    .where(
      and(
        eq(gatherFile.workspaceId, workspaceId),
        eq(gatherFile.gatherId, ledgerId),
        isAnyOf(gatherFile.followedId, ids),
      ),
    )
    .for('update')
  return rows.map(({ id, followedId }) => ({ id, by: files.find((file) => file.followedId === followedId)?.id }))
}

/**
 * Takes away what waits in a ledger of files that have changed since. What the curator has decided of it holds for what the file holds now,
 * line by line.
 * @returns As `dropFiles`.
 */
export async function replaceWaiting(
  tx: Db,
  workspaceId: string,
  ledgerId: string,
  files: readonly GatherFile[],
): ReturnType<typeof dropFiles> {
  const older = await listOlder(tx, workspaceId, ledgerId, files)
  if (older.length === 0) return { names: [], brushes: 0 }
  // lines are numbered as they were read, which is not the order of an archive: of several at one path the first is the first
  const placed = sql`(select *, row_number() over (partition by file_id, folder, path order by ordinal) as at from ${gatherLine}
    where workspace_id = ${workspaceId} and outcome <> 'refuse')`
  await tx.execute(sql`update ${gatherLine} set outcome = old.outcome, decided = old.decided, name = old.name,
      set_name = old.set_name, use = old.use
    from jsonb_to_recordset(${JSON.stringify(older)}::jsonb) as o(id uuid, "by" uuid)
    join ${placed} as old on old.file_id = o.id
    join ${placed} as now on now.file_id = o."by" and now.folder = old.folder and now.path = old.path and now.at = old.at
    where ${gatherLine.workspaceId} = ${workspaceId} and ${gatherLine.id} = now.id`)
  return dropFiles(tx, workspaceId, older.map(({ id }) => id)) // biome-ignore format: one step
}

/** The files of a ledger that are of followed folders. */
export async function listFollowedIn(db: Db, workspaceId: string, gatherId: string) {
  const rows = await db
    .select({ id: gatherFile.id, path: gatherFile.path, followedId: gatherFile.followedId })
    .from(gatherFile)
    .where(
      and(eq(gatherFile.workspaceId, workspaceId), eq(gatherFile.gatherId, gatherId), isNotNull(gatherFile.followedId)),
    )
  return rows.flatMap(({ followedId, ...row }) => (followedId ? [{ ...row, followedId }] : []))
}

/** The lines that wait in a ledger of one followed file, with the path it came by. */
export async function findWaiting(tx: Db, workspaceId: string, followedId: string): Promise<GatherFile | undefined> {
  const [row] = await tx
    .select({ file: gatherFile })
    .from(gatherFile)
    .innerJoin(gather, eq(gather.id, gatherFile.gatherId))
    .where(
      and(
        eq(gatherFile.workspaceId, workspaceId),
        eq(gatherFile.followedId, followedId),
        eq(gather.state, 'open'),
        isNull(gather.folderId),
      ),
    )
    .for('update', { of: gatherFile })
  return row?.file
}
