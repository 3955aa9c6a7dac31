import type { Plan } from '@satchel/core/make/ways'
import { and, asc, desc, eq, isNotNull, isNull, lt, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { filesOf } from './picture-owners.ts'
import { brush, source, sourceMade } from './schema/all.ts'
import type { SourceFile } from './schema/sources.ts'

export type Source = typeof source.$inferSelect
export type SourceMade = typeof sourceMade.$inferSelect

const ofWorkspace = (workspaceId: string, id: string) => and(eq(source.workspaceId, workspaceId), eq(source.id, id))

export async function addSource(
  db: Db,
  values: { workspaceId: string; name: string; file: SourceFile; plan: Plan },
): Promise<Source> {
  const [row] = await db.insert(source).values(values).returning()
  if (!row) throw new Error('the source was not inserted')
  return row
}

export async function findSource(db: Db, workspaceId: string, id: string): Promise<Source | undefined> {
  const [row] = await db.select().from(source).where(ofWorkspace(workspaceId, id))
  return row
}

/** What was made of sources: brushes that lie in the library, by the order in which they were first made. */
export async function listMade(db: Db, workspaceId: string, sourceId?: string) {
  return db
    .select({
      sourceId: sourceMade.sourceId,
      part: sourceMade.part,
      revision: sourceMade.revision,
      brushId: brush.id,
      name: brush.name,
      behaviour: brush.behaviour,
      frames: brush.frames,
    })
    .from(sourceMade)
    .innerJoin(brush, and(eq(brush.id, sourceMade.brushId), isNull(brush.deletedAt)))
    .where(
      and(
        eq(sourceMade.workspaceId, workspaceId),
        sourceId === undefined ? undefined : eq(sourceMade.sourceId, sourceId),
      ),
    )
    .orderBy(asc(brush.createdAt), asc(brush.name), asc(brush.id))
}

/** All sources, those changed last first, each with what was made of it. */
export async function listSources(db: Db, workspaceId: string, { bin }: { bin: boolean }) {
  const rows = await db
    .select({
      id: source.id,
      name: source.name,
      file: source.file,
      way: sql<Plan['way']>`${source.plan} ->> 'way'`,
      revision: source.revision,
      updatedAt: source.updatedAt,
    })
    .from(source)
    .where(and(eq(source.workspaceId, workspaceId), bin ? isNotNull(source.deletedAt) : isNull(source.deletedAt)))
    .orderBy(desc(source.updatedAt), asc(source.id))
  const bySource = new Map<string, Awaited<ReturnType<typeof listMade>>>()
  for (const each of await listMade(db, workspaceId))
    bySource.set(each.sourceId, [...(bySource.get(each.sourceId) ?? []), each])
  return rows.map((row) => ({ ...row, made: bySource.get(row.id) ?? [] }))
}

/** The source that a brush's tip was made from, if any. */
export async function findSourceOf(db: Db, workspaceId: string, brushId: string) {
  const [row] = await db
    .select({ id: source.id, name: source.name })
    .from(sourceMade)
    .innerJoin(source, eq(source.id, sourceMade.sourceId))
    .where(and(eq(sourceMade.workspaceId, workspaceId), eq(sourceMade.brushId, brushId), isNull(source.deletedAt)))
  return row
}

/**
 * Changes a source's plan, or puts another file in its place.
 * @param from The revision the change was made on: where another change came between, nothing is saved.
 * @returns The new revision; undefined when the source is gone or has moved on.
 */
export async function changeSource(
  db: Db,
  workspaceId: string,
  id: string,
  { from, ...change }: { from: number; plan?: Plan; file?: SourceFile },
): Promise<number | undefined> {
  const [row] = await db
    .update(source)
    .set({ ...change, revision: from + 1, updatedAt: new Date() })
    .where(and(ofWorkspace(workspaceId, id), eq(source.revision, from), isNull(source.deletedAt)))
    .returning({ revision: source.revision })
  return row?.revision
}

export async function renameSource(db: Db, workspaceId: string, id: string, name: string): Promise<boolean> {
  const rows = await db.update(source).set({ name }).where(ofWorkspace(workspaceId, id)).returning({ id: source.id })
  return rows.length > 0
}

/** Puts a source into the bin, or brings it back. What was made of it stays as it is. */
export async function binSource(db: Db, workspaceId: string, id: string, deleted: boolean): Promise<boolean> {
  const rows = await db
    .update(source)
    .set({ deletedAt: deleted ? new Date() : null })
    .where(ofWorkspace(workspaceId, id))
    .returning({ id: source.id })
  return rows.length > 0
}

/** Deletes for good what has lain in the bin since before `until`. @returns Files that nobody may own any more. */
export async function emptySourceBin(db: Db, workspaceId: string, until: Date) {
  const gone = await db
    .delete(source)
    .where(and(eq(source.workspaceId, workspaceId), lt(source.deletedAt, until)))
    .returning({ file: source.file })
  return gone.length === 0 ? [] : filesOf('source', gone)
}

/** The rows of what a source made, held until the transaction ends. */
export async function holdMade(db: Db, workspaceId: string, sourceId: string): Promise<SourceMade[]> {
  return db
    .select()
    .from(sourceMade)
    .where(and(eq(sourceMade.workspaceId, workspaceId), eq(sourceMade.sourceId, sourceId)))
    .for('update')
}

/** Notes that a part was made, or made again. */
export async function noteMade(db: Db, values: Omit<SourceMade, 'id'>): Promise<void> {
  const { brushId, revision, reading } = values
  await db
    .insert(sourceMade)
    .values(values)
    .onConflictDoUpdate({ target: [sourceMade.sourceId, sourceMade.part], set: { brushId, revision, reading } })
}
