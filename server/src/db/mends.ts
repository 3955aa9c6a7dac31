import type { StandInName } from '@satchel/core/destinations/destination'
import type { FileSha } from '@satchel/core/hashes'
import { and, asc, desc, eq, isNull, sql } from 'drizzle-orm'
import { isCurrent } from './brushes.ts'
import type { Db } from './database.ts'
import { inParts, isAnyOf } from './many.ts'
import {
  blob,
  brush,
  brushVersion,
  install,
  installFile,
  material,
  mend,
  mendFile,
  standInFile,
  tipFrame,
} from './schema/all.ts'

export type Mend = typeof mend.$inferSelect
export type MendFile = typeof mendFile.$inferSelect
type Folder = { workspaceId: string; standIn: StandInName }

/** What lies in the folders of all apps. */
export async function listFolders(db: Db, workspaceId: string) {
  return db
    .select({ standIn: standInFile.standIn, path: standInFile.path, blobSha: standInFile.blobSha })
    .from(standInFile)
    .where(eq(standInFile.workspaceId, workspaceId))
}

const filesOfApp = ({ workspaceId, standIn }: Folder) =>
  and(eq(installFile.workspaceId, workspaceId), eq(install.standIn, standIn))

/** What installs have put at their paths, whatever became of it; of several the newest. */
export async function listInstalledPaths(db: Db, folder: Folder): Promise<Map<string, FileSha>> {
  const rows = await db
    .select({ path: installFile.path, blobSha: installFile.blobSha })
    .from(installFile)
    .innerJoin(install, eq(install.id, installFile.installId))
    .where(filesOfApp(folder))
    .orderBy(asc(install.createdAt), asc(install.id))
  return new Map(rows.map(({ path, blobSha }) => [path, blobSha]))
}

/** Which of some files are kept in the workspace. */
export async function findKept(db: Db, workspaceId: string, shas: readonly FileSha[]): Promise<Map<FileSha, number>> {
  const rows = await db
    .select({ sha256: blob.sha256, sizeBytes: blob.sizeBytes })
    .from(blob)
    .where(and(eq(blob.workspaceId, workspaceId), isAnyOf(blob.sha256, shas)))
  return new Map(rows.map(({ sha256, sizeBytes }) => [sha256, sizeBytes]))
}

/** The first pictures and the grains of the library's brushes of these names, in small letters. */
export async function findLooks(db: Db, workspaceId: string, names: readonly string[]) {
  const rows = await db
    .select({
      name: sql<string>`lower(${brush.name})`,
      blobSha: tipFrame.blobSha,
      reading: sql<string>`${brushVersion.snapshot} -> 'recipe' -> 'colour' ->> 'reading'`,
      grainSha: material.blobSha,
    })
    .from(brush)
    .innerJoin(brushVersion, isCurrent)
    .innerJoin(
      tipFrame,
      and(eq(tipFrame.workspaceId, brush.workspaceId), eq(tipFrame.tipId, brush.tipId), eq(tipFrame.ordinal, 0)),
    )
    .leftJoin(
      material,
      and(
        eq(material.workspaceId, brush.workspaceId),
        eq(material.kind, 'grain'),
        sql`${material.pixelSha} = ${brushVersion.snapshot} -> 'recipe' -> 'ground' -> 'grain' ->> 'sha256'`,
      ),
    )
    .where(
      and(
        eq(brush.workspaceId, workspaceId),
        isNull(brush.deletedAt),
        sql`lower(${brush.name}) = any(${sql.param([...names])}::text[])`,
      ),
    )
    .orderBy(asc(brush.createdAt), asc(brush.id))
  return new Map(rows.map((row) => [row.name, row]))
}

/** What is new about a file of an install: another place, other bytes. */
export type OwnedChange = { installId: string; path: string; toPath: string; blobSha: FileSha }

export async function changeOwned(db: Db, workspaceId: string, changes: readonly OwnedChange[]): Promise<void> {
  const columns = ['installId', 'path', 'toPath', 'blobSha'] as const
  const [ids, paths, toPaths, shas] = columns.map((column) => changes.map((change) => change[column]))
  await db.execute(sql`
    update ${installFile} set path = c.to_path, blob_sha = c.blob_sha, size_bytes = ${blob.sizeBytes}
    from unnest(${sql.param(ids)}::uuid[], ${sql.param(paths)}::text[], ${sql.param(toPaths)}::text[],
      ${sql.param(shas)}::text[]) as c(install_id, path, to_path, blob_sha)
    join ${blob} on ${blob.workspaceId} = ${workspaceId} and ${blob.sha256} = c.blob_sha
    where ${installFile.workspaceId} = ${workspaceId} and ${installFile.installId} = c.install_id
      and ${installFile.path} = c.path`)
}

export async function addMend(
  db: Db,
  { workspaceId, standIn, ends }: Folder & { ends: number },
  files: readonly Omit<MendFile, 'mendId' | 'workspaceId'>[],
): Promise<string> {
  const [row] = await db.insert(mend).values({ workspaceId, standIn, ends }).returning({ id: mend.id })
  if (!row) throw new Error('the mend was not inserted')
  for (const some of inParts(mendFile, [...files]))
    await db.insert(mendFile).values(some.map((file) => ({ ...file, workspaceId, mendId: row.id })))
  return row.id
}

const ofMend = (workspaceId: string, id: string) => and(eq(mend.workspaceId, workspaceId), eq(mend.id, id))

/** A mend, held until the transaction ends. */
export async function holdMend(db: Db, workspaceId: string, id: string): Promise<Mend | undefined> {
  const [row] = await db.select().from(mend).where(ofMend(workspaceId, id)).for('update')
  return row
}

/** Forgets mends: they cannot be undone from now on. @returns The files that they kept. */
export async function dropMends(db: Db, workspaceId: string, ids: readonly string[]): Promise<FileSha[]> {
  const files = await db
    .delete(mendFile)
    .where(and(eq(mendFile.workspaceId, workspaceId), isAnyOf(mendFile.mendId, ids)))
    .returning({ beforeSha: mendFile.beforeSha, afterSha: mendFile.afterSha })
  await db.delete(mend).where(and(eq(mend.workspaceId, workspaceId), isAnyOf(mend.id, ids)))
  return files.flatMap(({ beforeSha, afterSha }) => [afterSha, ...(beforeSha ? [beforeSha] : [])])
}

export async function listMendFiles(db: Db, { workspaceId, id }: Pick<Mend, 'workspaceId' | 'id'>) {
  return db
    .select()
    .from(mendFile)
    .where(and(eq(mendFile.workspaceId, workspaceId), eq(mendFile.mendId, id)))
}

/** The mends of a folder, the newest first. */
export async function listMends(db: Db, { workspaceId, standIn }: Folder): Promise<Mend[]> {
  return db
    .select()
    .from(mend)
    .where(and(eq(mend.workspaceId, workspaceId), eq(mend.standIn, standIn)))
    .orderBy(desc(mend.createdAt), asc(mend.id))
}

/** Gives everything that begins with one folder another one. @returns How many files. */
export async function moveInFolder(
  db: Db,
  { workspaceId, standIn }: Folder,
  from: string,
  to: string,
): Promise<number> {
  const rows = await db
    .update(standInFile)
    .set({ path: sql`${to}::text || substr(${standInFile.path}, ${from.length + 1})` })
    .where(
      and(
        eq(standInFile.workspaceId, workspaceId),
        eq(standInFile.standIn, standIn),
        sql`starts_with(${standInFile.path}, ${`${from}/`})`,
      ),
    )
    .returning({ path: standInFile.path })
  return rows.length
}
