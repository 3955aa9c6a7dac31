import { afterMemberAct, type MemberAct, type Role } from '@satchel/core/members/roles'
import { and, asc, count, eq, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { installClaim, member, session, user, workspace } from './schema/all.ts'

/** The workspace that a person works in by a sign-in: the chosen one while they belong to it, else the first they came to. */
export async function findMembership(db: Db, { userId, sessionId }: { userId: string; sessionId: string }) {
  const [row] = await db
    .select({ workspaceId: member.workspaceId, role: member.role, workspace: workspace.name })
    .from(member)
    .innerJoin(workspace, eq(workspace.id, member.workspaceId))
    .leftJoin(session, and(eq(session.id, sessionId), eq(session.workspaceId, member.workspaceId)))
    .where(eq(member.userId, userId))
    .orderBy(sql`${session.id} is null`, asc(member.joinedAt), asc(workspace.id))
    .limit(1)
  return row
}

/** All workspaces that a person belongs to, as they came to them. They belong to people, not to one workspace. */
export const listMemberships = (db: Db, userId: string) =>
  db
    .select({ id: workspace.id, name: workspace.name, role: member.role })
    .from(member)
    .innerJoin(workspace, eq(workspace.id, member.workspaceId))
    .where(eq(member.userId, userId))
    .orderBy(asc(member.joinedAt), asc(workspace.id))

/** Goes on in another workspace by a sign-in. @returns Whether its person belongs to it. */
export async function chooseWorkspace(
  db: Db,
  { userId, sessionId, workspaceId }: { userId: string; sessionId: string; workspaceId: string },
): Promise<boolean> {
  const chosen = await db
    .update(session)
    .set({ workspaceId })
    .where(
      and(
        eq(session.id, sessionId),
        eq(session.userId, userId),
        sql`exists (select from member where workspace_id = ${workspaceId} and user_id = ${userId})`,
      ),
    )
    .returning({ id: session.id })
  return chosen.length > 0
}

/** Who belongs to a workspace: the owner first, then as they came. */
export const listMembers = (db: Db, workspaceId: string) =>
  db
    .select({ id: user.id, name: user.name, email: user.email, role: member.role, joinedAt: member.joinedAt })
    .from(member)
    .innerJoin(user, eq(user.id, member.userId))
    .where(eq(member.workspaceId, workspaceId))
    .orderBy(sql`${member.role} <> 'owner'`, asc(member.joinedAt), asc(user.name), asc(user.id))

/** How many workspaces a person owns. */
export async function countOwned(db: Db, userId: string): Promise<number> {
  const [row] = await db
    .select({ n: count() })
    .from(member)
    .where(and(eq(member.userId, userId), eq(member.role, 'owner')))
  return row?.n ?? 0
}

/**
 * Does something about a member, by the rules of `core/members/roles.ts`. Who asks at the same moment waits: each goes by what the
 * one before has left. @returns Why it may not be, in a sentence; undefined where it was done.
 */
export const changeMembers = (
  db: Db,
  workspaceId: string,
  deed: { act: MemberAct; by: string; about: string },
): Promise<string | undefined> =>
  db.transaction(async (tx) => {
    await tx.select({ id: workspace.id }).from(workspace).where(eq(workspace.id, workspaceId)).for('update')
    const rows = await tx
      .select({ id: member.userId, role: member.role })
      .from(member)
      .where(eq(member.workspaceId, workspaceId))
    const before = new Map(rows.map(({ id, role }) => [id, role]))
    const after = afterMemberAct(before, deed)
    if ('refused' in after) return after.refused
    const of = (id: string) => and(eq(member.workspaceId, workspaceId), eq(member.userId, id))
    for (const id of before.keys()) if (!after.roles.has(id)) await tx.delete(member).where(of(id))
    const set = (id: string, role: Role) => tx.update(member).set({ role }).where(of(id))
    // the owner steps back before another one is made: there is one at any moment
    const changed = [...after.roles].filter(([id, role]) => before.get(id) !== role)
    for (const [id, role] of changed.sort(([, a], [, b]) => Number(a === 'owner') - Number(b === 'owner')))
      await set(id, role)
    return undefined
  })

/** Whether nobody belongs to a workspace yet: the first visitor then makes the owner. */
export async function isEmptyInstall(db: Db): Promise<boolean> {
  const people = await db.select({ id: member.userId }).from(member).limit(1)
  return people.length === 0
}

/**
 * Claims the making of the first owner, for a minute: one visitor at a time, on any number of servers, and nobody waits.
 * What a server left that ended in the middle is put away. @returns Whether it was free, and the install is empty.
 */
export const claimInstall = (db: Db): Promise<boolean> =>
  db.transaction(async (tx) => {
    const stale = sql`${installClaim.claimedAt} < now() - interval '1 minute'`
    const claimed = await tx
      .insert(installClaim)
      .values({})
      .onConflictDoUpdate({ target: installClaim.id, set: { claimedAt: sql`now()` }, setWhere: stale })
      .returning({ id: installClaim.id })
    if (claimed.length === 0) return false
    if (!(await isEmptyInstall(tx))) {
      await tx.delete(installClaim)
      return false
    }
    await tx.delete(user) // accounts without a workspace
    return true
  })

export async function releaseInstallClaim(db: Db): Promise<void> {
  await db.delete(installClaim)
}

/** Makes a workspace and its owner's membership. */
export async function createWorkspace(db: Db, name: string, ownerId: string): Promise<string> {
  return db.transaction(async (tx) => {
    const [row] = await tx.insert(workspace).values({ name }).returning({ id: workspace.id })
    if (!row) throw new Error('insert gave no row')
    await tx.insert(member).values({ workspaceId: row.id, userId: ownerId, role: 'owner' })
    return row.id
  })
}

/** Every workspace: for the server's own upkeep, never for a person's request. */
export async function listWorkspaceIds(db: Db): Promise<string[]> {
  const rows = await db.select({ id: workspace.id }).from(workspace)
  return rows.map((row) => row.id)
}

/** Who makes what is made in a workspace, and how it is given away: what is new says so, where its file says nothing. */
export type WorkspaceFacts = { maker: string; licence: string }

export async function findFacts(db: Db, workspaceId: string): Promise<WorkspaceFacts> {
  const [row] = await db
    .select({ maker: workspace.maker, licence: workspace.licence })
    .from(workspace)
    .where(eq(workspace.id, workspaceId))
  return row ?? { maker: '', licence: '' }
}

export async function renameWorkspace(db: Db, workspaceId: string, name: string): Promise<void> {
  await db.update(workspace).set({ name }).where(eq(workspace.id, workspaceId))
}

export async function saveFacts(db: Db, workspaceId: string, facts: WorkspaceFacts): Promise<void> {
  await db.update(workspace).set(facts).where(eq(workspace.id, workspaceId))
}

/** Whether the starter library is hidden from the rack. */
export async function isStarterHidden(db: Db, workspaceId: string): Promise<boolean> {
  const [row] = await db
    .select({ hidden: workspace.starterHidden })
    .from(workspace)
    .where(eq(workspace.id, workspaceId))
  return row?.hidden ?? false
}

export async function hideStarters(db: Db, workspaceId: string, starterHidden: boolean): Promise<void> {
  await db.update(workspace).set({ starterHidden }).where(eq(workspace.id, workspaceId))
}

/** The sign-ins of a person that have not ended; they belong to people, not to workspaces. */
export async function listSessionIds(db: Db, userId: string): Promise<string[]> {
  const rows = await db.select({ id: session.id }).from(session).where(eq(session.userId, userId))
  return rows.map(({ id }) => id)
}
