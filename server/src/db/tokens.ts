import type { TokenScope } from '@satchel/core/members/tokens'
import { and, count, desc, eq, gt, isNull, lt, or, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { apiToken, member, user, workspace } from './schema/all.ts'

const isOpen = () => and(isNull(apiToken.endedAt), gt(apiToken.expiresAt, sql`now()`))

export async function insertToken(
  db: Db,
  workspaceId: string,
  made: { userId: string; name: string; scope: TokenScope; tokenHash: string; days: number },
) {
  const { days, ...row } = made
  const [added] = await db
    .insert(apiToken)
    .values({ workspaceId, ...row, expiresAt: sql`now() + make_interval(days => ${days})` })
    .returning({ id: apiToken.id, expiresAt: apiToken.expiresAt })
  if (!added) throw new Error('insert gave no row')
  return added
}

/** Open tokens of a workspace, the latest first. @param userId Those of one person alone. */
export const listTokens = (db: Db, workspaceId: string, userId?: string) =>
  db
    .select({
      id: apiToken.id,
      name: apiToken.name,
      scope: apiToken.scope,
      person: user.name,
      createdAt: apiToken.createdAt,
      expiresAt: apiToken.expiresAt,
      usedAt: apiToken.usedAt,
    })
    .from(apiToken)
    .innerJoin(user, eq(user.id, apiToken.userId))
    .where(
      and(
        eq(apiToken.workspaceId, workspaceId),
        userId === undefined ? undefined : eq(apiToken.userId, userId),
        isOpen(),
      ),
    )
    .orderBy(desc(apiToken.createdAt), desc(apiToken.id))

export async function countTokens(db: Db, workspaceId: string, userId: string): Promise<number> {
  const [row] = await db
    .select({ n: count() })
    .from(apiToken)
    .where(and(eq(apiToken.workspaceId, workspaceId), eq(apiToken.userId, userId), isOpen()))
  return row?.n ?? 0
}

/** Ends a token. @param userId One of that person alone. @returns What it was called; undefined where there is none. */
export async function endToken(db: Db, workspaceId: string, id: string, userId?: string): Promise<string | undefined> {
  const [ended] = await db
    .update(apiToken)
    .set({ endedAt: sql`now()` })
    .where(
      and(
        eq(apiToken.workspaceId, workspaceId),
        eq(apiToken.id, id),
        userId === undefined ? undefined : eq(apiToken.userId, userId),
        isOpen(),
      ),
    )
    .returning({ name: apiToken.name })
  return ended?.name
}

/** Whose an open token is, while they belong to its workspace. It is found by its secret, whatever workspace it is of. */
export async function findToken(db: Db, tokenHash: string) {
  const [row] = await db
    .select({
      id: apiToken.id,
      scope: apiToken.scope,
      workspaceId: apiToken.workspaceId,
      workspace: workspace.name,
      role: member.role,
      person: { id: user.id, name: user.name, email: user.email },
    })
    .from(apiToken)
    .innerJoin(member, and(eq(member.workspaceId, apiToken.workspaceId), eq(member.userId, apiToken.userId)))
    .innerJoin(user, eq(user.id, apiToken.userId))
    .innerJoin(workspace, eq(workspace.id, apiToken.workspaceId))
    .where(and(eq(apiToken.tokenHash, tokenHash), isOpen()))
  return row
}

/** Notes that a token is used, once a minute at most. */
export async function noteTokenUsed(db: Db, id: string): Promise<void> {
  await db
    .update(apiToken)
    .set({ usedAt: sql`now()` })
    .where(and(eq(apiToken.id, id), or(isNull(apiToken.usedAt), lt(apiToken.usedAt, sql`now() - interval '1 minute'`))))
}
