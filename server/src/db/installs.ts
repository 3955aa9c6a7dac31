import type { StandInName } from '@satchel/core/destinations/destination'
import type { FileSha } from '@satchel/core/hashes'
import { and, asc, desc, eq, isNotNull, lte, or, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { dropFilelessBrushes, type InstallBrush, releaseOfInstall, saveInstallBrushes } from './install-brushes.ts'
import { inParts, isAnyOf } from './many.ts'
import { edition, install, installFile, standInFile } from './schema/all.ts'

export type Install = typeof install.$inferSelect
export type InstallFile = typeof installFile.$inferSelect
export type StandInFile = typeof standInFile.$inferSelect

const ofWorkspace = (workspaceId: string, id: string) => and(eq(install.workspaceId, workspaceId), eq(install.id, id))
const filesIn = (workspaceId: string, installId: string) =>
  and(eq(installFile.workspaceId, workspaceId), eq(installFile.installId, installId))

export async function addInstall(
  db: Db,
  values: Pick<Install, 'workspaceId' | 'name' | 'destinationId' | 'standIn' | 'brushIds' | 'releaseId' | 'editionId'>,
): Promise<Install> {
  const [row] = await db.insert(install).values(values).returning()
  if (!row) throw new Error('the install was not inserted')
  return row
}

export async function findInstall(db: Db, workspaceId: string, id: string): Promise<Install | undefined> {
  const [row] = await db.select().from(install).where(ofWorkspace(workspaceId, id))
  return row
}

/** An install, held until the transaction ends: nobody else puts it in or takes it out meanwhile. */
export async function holdInstall(db: Db, workspaceId: string, id: string): Promise<Install | undefined> {
  const [row] = await db.select().from(install).where(ofWorkspace(workspaceId, id)).for('update')
  return row
}

/** All installs, the newest first, with how many files each has. */
export async function listInstalls(db: Db, workspaceId: string) {
  return db
    .select({
      id: install.id,
      name: install.name,
      destinationId: install.destinationId,
      standIn: install.standIn,
      state: install.state,
      elsewhere: install.elsewhere,
      refused: install.refused,
      brushes: sql<number>`cardinality(${install.brushIds})`.mapWith(Number),
      files: sql`(select count(*) from ${installFile} where ${installFile.installId} = ${install.id})`.mapWith(Number),
      release: releaseOfInstall,
      createdAt: install.createdAt,
    })
    .from(install)
    .where(eq(install.workspaceId, workspaceId))
    .orderBy(desc(install.createdAt), asc(install.id))
}

/** Installs of an edition that lie in some folder. */
export const listInstallsOf = (db: Db, workspaceId: string, editionId: string) =>
  db
    .select({
      id: install.id,
      name: install.name,
      destinationId: install.destinationId,
      standIn: install.standIn,
      state: install.state,
      elsewhere: install.elsewhere,
    })
    .from(install)
    .where(
      and(
        eq(install.workspaceId, workspaceId),
        eq(install.editionId, editionId),
        or(eq(install.state, 'in'), isNotNull(install.elsewhere)),
      ),
    )
    .orderBy(asc(install.createdAt), asc(install.id))

/** Installs in the folders of apps, of all workspaces, whose edition is over. */
export const listInstallsOver = (db: Db, now: Date) =>
  db
    .select({ id: install.id, workspaceId: install.workspaceId })
    .from(install)
    .innerJoin(edition, eq(edition.id, install.editionId))
    .where(and(eq(install.state, 'in'), lte(edition.endsAt, now)))
    // in any order: what cannot be taken out is not always in front of the rest
    .orderBy(sql`random()`)
    .limit(100)

export async function changeInstall(
  db: Db,
  { workspaceId, id }: Pick<Install, 'workspaceId' | 'id'>,
  change: Partial<Pick<Install, 'state' | 'refused' | 'elsewhere' | 'grains' | 'brushIds' | 'releaseId'>>,
): Promise<void> {
  await db
    .update(install)
    .set({ ...change, updatedAt: new Date() })
    .where(ofWorkspace(workspaceId, id))
}

export async function dropInstall(db: Db, workspaceId: string, id: string): Promise<void> {
  await db.delete(install).where(ofWorkspace(workspaceId, id))
}

export async function listInstallFiles(db: Db, workspaceId: string, installId: string): Promise<InstallFile[]> {
  return db.select().from(installFile).where(filesIn(workspaceId, installId)).orderBy(asc(installFile.path))
}

type NewFile = typeof installFile.$inferInsert

/**
 * Replaces the files of an install by others.
 * @param carried What became of the brushes that were written for it just now.
 */
export async function setInstallFiles(
  db: Db,
  { workspaceId, id }: Pick<Install, 'workspaceId' | 'id'>,
  files: readonly Omit<NewFile, 'workspaceId' | 'installId'>[],
  carried: readonly InstallBrush[],
): Promise<void> {
  await db.delete(installFile).where(filesIn(workspaceId, id))
  for (const some of inParts(installFile, [...files]))
    await db.insert(installFile).values(some.map((file) => ({ ...file, workspaceId, installId: id })))
  await saveInstallBrushes(db, { workspaceId, id }, carried)
  await dropFilelessBrushes(db, { workspaceId, id })
}

/**
 * Keeps what was written of an install: its files, what could not be, and how many of its brushes are through.
 * @returns Whether it is being written still; otherwise nothing is kept.
 */
export async function addInstallPart(
  db: Db,
  { workspaceId, id }: Pick<Install, 'workspaceId' | 'id'>,
  part: Pick<Install, 'refused' | 'grains' | 'writtenCount'> & {
    files: readonly Omit<NewFile, 'workspaceId' | 'installId'>[]
    carried: readonly InstallBrush[]
  },
): Promise<boolean> {
  const { files, carried, refused, grains, writtenCount } = part
  const changed = await db
    .update(install)
    .set({ grains, writtenCount, refused: sql`${install.refused} || ${JSON.stringify(refused)}::jsonb` })
    .where(and(ofWorkspace(workspaceId, id), eq(install.state, 'preparing')))
    .returning({ id: install.id })
  if (changed.length === 0) return false
  for (const some of inParts(installFile, [...files]))
    await db.insert(installFile).values(some.map((file) => ({ ...file, workspaceId, installId: id })))
  await saveInstallBrushes(db, { workspaceId, id }, carried)
  return true
}

/** An install that has a folder to lie in. */
export type Placed = Install & { standIn: StandInName }

/** What lies in the folder of a stand-in. */
export async function listFolder(db: Db, workspaceId: string, standIn: StandInName): Promise<StandInFile[]> {
  return db
    .select()
    .from(standInFile)
    .where(and(eq(standInFile.workspaceId, workspaceId), eq(standInFile.standIn, standIn)))
    .orderBy(asc(standInFile.path))
}

/** Keeps others from changing a stand-in's folder until the transaction ends. */
export async function holdFolder(db: Db, workspaceId: string, standIn: StandInName): Promise<void> {
  await db.execute(sql`select pg_advisory_xact_lock(hashtextextended(${`${workspaceId} ${standIn}`}, 0))`)
}

/** Writes files into a folder, over what lies there. */
export async function putIntoFolder(
  db: Db,
  workspaceId: string,
  standIn: StandInName,
  files: readonly { path: string; blobSha: FileSha; sizeBytes: number }[],
): Promise<void> {
  const rows = files.map((file) => ({ workspaceId, standIn, ...file }))
  for (const some of inParts(standInFile, rows))
    await db
      .insert(standInFile)
      .values(some)
      .onConflictDoUpdate({
        target: [standInFile.workspaceId, standInFile.standIn, standInFile.path],
        set: { blobSha: sql`excluded.blob_sha`, sizeBytes: sql`excluded.size_bytes`, createdAt: sql`now()` },
      })
}

export async function dropFromFolder(
  db: Db,
  workspaceId: string,
  standIn: StandInName,
  paths: readonly string[],
): Promise<void> {
  if (paths.length === 0) return
  await db
    .delete(standInFile)
    .where(
      and(eq(standInFile.workspaceId, workspaceId), eq(standInFile.standIn, standIn), isAnyOf(standInFile.path, paths)),
    )
}
