import type { GivenRole } from '@satchel/core/members/roles'
import { and, count, desc, eq, gt, isNull, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { invitation, member, session, workspace } from './schema/all.ts'

const isOpen = () => and(isNull(invitation.endedAt), isNull(invitation.joinedAt), gt(invitation.expiresAt, sql`now()`))

export async function insertInvitation(
  db: Db,
  workspaceId: string,
  made: { role: GivenRole; note: string; tokenHash: string; invitedBy: string; days: number },
) {
  const { days, ...row } = made
  const [added] = await db
    .insert(invitation)
    .values({ workspaceId, ...row, expiresAt: sql`now() + make_interval(days => ${days})` })
    .returning({ id: invitation.id, expiresAt: invitation.expiresAt })
  if (!added) throw new Error('insert gave no row')
  return added
}

/** Invitations that can still be taken, the latest first; nothing of their links. */
export const listInvitations = (db: Db, workspaceId: string) =>
  db
    .select({
      id: invitation.id,
      role: invitation.role,
      note: invitation.note,
      invitedBy: invitation.invitedBy,
      createdAt: invitation.createdAt,
      expiresAt: invitation.expiresAt,
    })
    .from(invitation)
    .where(and(eq(invitation.workspaceId, workspaceId), isOpen()))
    .orderBy(desc(invitation.createdAt), desc(invitation.id))

export async function countInvitations(db: Db, workspaceId: string): Promise<number> {
  const [row] = await db
    .select({ n: count() })
    .from(invitation)
    .where(and(eq(invitation.workspaceId, workspaceId), isOpen()))
  return row?.n ?? 0
}

/** Ends an invitation that nobody has taken. @returns What it was, or undefined where there is none. */
export async function endInvitation(db: Db, workspaceId: string, id: string) {
  const [ended] = await db
    .update(invitation)
    .set({ endedAt: sql`now()` })
    .where(and(eq(invitation.workspaceId, workspaceId), eq(invitation.id, id), isOpen()))
    .returning({ role: invitation.role, note: invitation.note })
  return ended
}

/** What an open link leads to. Who holds it belongs to no workspace yet, so it is found by its secret alone. */
export async function findInvitation(db: Db, tokenHash: string) {
  const [row] = await db
    .select({
      workspaceId: invitation.workspaceId,
      workspace: workspace.name,
      role: invitation.role,
      invitedBy: invitation.invitedBy,
      expiresAt: invitation.expiresAt,
    })
    .from(invitation)
    .innerJoin(workspace, eq(workspace.id, invitation.workspaceId))
    .where(and(eq(invitation.tokenHash, tokenHash), isOpen()))
  return row
}

/** Whether somebody belongs to a workspace. */
export async function isMember(db: Db, workspaceId: string, userId: string): Promise<boolean> {
  const found = await db
    .select({ role: member.role })
    .from(member)
    .where(and(eq(member.workspaceId, workspaceId), eq(member.userId, userId)))
  return found.length > 0
}

/**
 * Takes an invitation: one person joins by it, however many try at once, and goes on in that workspace.
 * @returns Which workspace; undefined where it is open no more. Who belongs to it already keeps their role, and the invitation stays open.
 */
export const takeInvitation = (db: Db, tokenHash: string, who: { userId: string; sessionId?: string }) =>
  db.transaction(async (tx) => {
    const [found] = await tx
      .select()
      .from(invitation)
      .where(and(eq(invitation.tokenHash, tokenHash), isOpen()))
      .for('update')
    if (!found) return undefined
    const { workspaceId, role, note } = found
    const added = await tx
      .insert(member)
      .values({ workspaceId, userId: who.userId, role })
      .onConflictDoNothing()
      .returning({ role: member.role })
    if (added.length > 0)
      await tx
        .update(invitation)
        .set({ joinedAt: sql`now()` })
        .where(and(eq(invitation.workspaceId, workspaceId), eq(invitation.id, found.id)))
    if (who.sessionId) await tx.update(session).set({ workspaceId }).where(eq(session.id, who.sessionId))
    return { workspaceId, role, note, isNew: added.length > 0 }
  })
