import type { Destination } from '@satchel/core/destinations/destination'
import { and, asc, eq, isNull } from 'drizzle-orm'
import type { Db } from './database.ts'
import { destination, fitCell, fitChoice } from './schema/all.ts'

export type OwnDestination = typeof destination.$inferSelect

const ofWorkspace = (workspaceId: string, id: string) =>
  and(eq(destination.workspaceId, workspaceId), eq(destination.id, id), isNull(destination.deletedAt))

export async function listDestinations(db: Db, workspaceId: string): Promise<OwnDestination[]> {
  return db
    .select()
    .from(destination)
    .where(and(eq(destination.workspaceId, workspaceId), isNull(destination.deletedAt)))
    .orderBy(asc(destination.createdAt), asc(destination.id))
}

export async function findDestination(db: Db, workspaceId: string, id: string): Promise<OwnDestination | undefined> {
  const [row] = await db.select().from(destination).where(ofWorkspace(workspaceId, id))
  return row
}

export async function addDestination(db: Db, workspaceId: string, description: Destination): Promise<string> {
  const [row] = await db.insert(destination).values({ workspaceId, description }).returning({ id: destination.id })
  if (!row) throw new Error('the destination was not inserted')
  return row.id
}

/** @param from The version that the change was made on. @returns The new one; undefined where that is not the one there is. */
export async function changeDestination(
  db: Db,
  { workspaceId, id, from }: { workspaceId: string; id: string; from: number },
  description: Destination,
): Promise<number | undefined> {
  const [row] = await db
    .update(destination)
    .set({ description, version: from + 1, updatedAt: new Date() })
    .where(and(ofWorkspace(workspaceId, id), eq(destination.version, from)))
    .returning({ version: destination.version })
  return row?.version
}

/** Takes a destination away, and everything that was measured for it. */
export async function dropDestination(db: Db, workspaceId: string, id: string): Promise<boolean> {
  return db.transaction(async (tx) => {
    const rows = await tx
      .update(destination)
      .set({ deletedAt: new Date() })
      .where(ofWorkspace(workspaceId, id))
      .returning({ id: destination.id })
    for (const table of [fitCell, fitChoice])
      await tx.delete(table).where(and(eq(table.workspaceId, workspaceId), eq(table.destinationId, id)))
    return rows.length > 0
  })
}
