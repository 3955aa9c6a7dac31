import { asc, eq, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { installClaim, member, session, user, workspace } from './schema/all.ts'

/** The workspace a signed-in person works in. */
export async function findMembership(db: Db, userId: string) {
  const [row] = await db
    .select({ workspaceId: member.workspaceId, role: member.role, workspace: workspace.name })
    .from(member)
    .innerJoin(workspace, eq(workspace.id, member.workspaceId))
    .where(eq(member.userId, userId))
    .orderBy(asc(workspace.createdAt))
    .limit(1)
  return row
}

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
