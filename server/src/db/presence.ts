import { and, asc, eq, lt, ne, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { brush, lastSave, type MeetingKind, pack, presence, rackSet, user } from './schema/all.ts'

/** Where members meet: a brush, a set, a pack. */
export type Meeting = { workspaceId: string; kind: MeetingKind; subjectId: string }

/** A page says twice in this time that it is there; who hasn't is gone. */
export const SEEN_S = 45

const isAt = ({ workspaceId, kind, subjectId }: Meeting) =>
  and(eq(presence.workspaceId, workspaceId), eq(presence.kind, kind), eq(presence.subjectId, subjectId))
const isOld = sql`now() - make_interval(secs => ${SEEN_S})`

const TABLES = { brush, set: rackSet, pack } as const satisfies Record<MeetingKind, unknown>

/** Whether there is such a thing in the workspace. */
export async function isThing(db: Db, { workspaceId, kind, subjectId }: Meeting): Promise<boolean> {
  const table = TABLES[kind]
  const found = await db
    .select({ id: table.id })
    .from(table)
    .where(and(eq(table.workspaceId, workspaceId), eq(table.id, subjectId)))
  return found.length > 0
}

/** Says that somebody is there. @returns Whether they were not before. */
export const arrive = (db: Db, at: Meeting, userId: string): Promise<boolean> =>
  db.transaction(async (tx) => {
    await tx.delete(presence).where(and(eq(presence.workspaceId, at.workspaceId), lt(presence.seenAt, isOld)))
    const [row] = await tx
      .insert(presence)
      .values({ ...at, userId })
      .onConflictDoUpdate({
        target: [presence.workspaceId, presence.kind, presence.subjectId, presence.userId],
        set: { seenAt: sql`now()` },
      })
      .returning({ isNew: sql<boolean>`xmax = 0` })
    return row?.isNew ?? false
  })

/** Says that somebody has gone. @returns Whether they were there. */
export async function depart(db: Db, at: Meeting, userId: string): Promise<boolean> {
  const gone = await db
    .delete(presence)
    .where(and(isAt(at), eq(presence.userId, userId)))
    .returning({ userId: presence.userId })
  return gone.length > 0
}

/** The names of who else is there, and who saved it last. */
export async function whoIsThere(db: Db, at: Meeting, userId: string) {
  const others = await db
    .select({ id: user.id, name: user.name })
    .from(presence)
    .innerJoin(user, eq(user.id, presence.userId))
    .where(and(isAt(at), ne(presence.userId, userId), sql`${presence.seenAt} >= ${isOld}`))
    .orderBy(asc(user.name), asc(user.id))
  const { workspaceId, kind, subjectId } = at
  const [saved] = await db
    .select({ person: lastSave.person, at: lastSave.at })
    .from(lastSave)
    .where(and(eq(lastSave.workspaceId, workspaceId), eq(lastSave.kind, kind), eq(lastSave.subjectId, subjectId)))
  return { others, saved: saved ?? null }
}

/** Notes who saved a thing last. */
export async function noteSave(db: Db, { person, ...at }: Meeting & { person: string }): Promise<void> {
  await db
    .insert(lastSave)
    .values({ ...at, person })
    .onConflictDoUpdate({
      target: [lastSave.workspaceId, lastSave.kind, lastSave.subjectId],
      set: { person, at: sql`now()` },
    })
}
