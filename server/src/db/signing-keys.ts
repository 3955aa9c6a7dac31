import { and, desc, eq, isNull } from 'drizzle-orm'
import type { Db } from './database.ts'
import { signingKey } from './schema/all.ts'

export type SigningKey = typeof signingKey.$inferSelect

/** Every key of a workspace, the one that signs first, then those that are retired, the latest first. */
export async function listSigningKeys(db: Db, workspaceId: string): Promise<SigningKey[]> {
  const rows = await db
    .select()
    .from(signingKey)
    .where(eq(signingKey.workspaceId, workspaceId))
    .orderBy(desc(signingKey.createdAt))
  return [...rows.filter(({ retiredAt }) => retiredAt === null), ...rows.filter(({ retiredAt }) => retiredAt !== null)]
}

/** The key that signs what is new; undefined where there is none yet. */
export async function findSigningKey(db: Db, workspaceId: string): Promise<SigningKey | undefined> {
  const [row] = await db
    .select()
    .from(signingKey)
    .where(and(eq(signingKey.workspaceId, workspaceId), isNull(signingKey.retiredAt)))
  return row
}

type NewKey = Pick<SigningKey, 'workspaceId' | 'publicKey' | 'sealed'>

/** Adds a workspace's first key; of two at once one stays. */
export async function addFirstKey(db: Db, key: NewKey): Promise<void> {
  await db.insert(signingKey).values(key).onConflictDoNothing()
}

/** Puts another key in the place of the one that signs, which is kept as retired. */
export async function replaceSigningKey(db: Db, key: NewKey): Promise<void> {
  await db.transaction(async (tx) => {
    await tx
      .update(signingKey)
      .set({ retiredAt: new Date() })
      .where(and(eq(signingKey.workspaceId, key.workspaceId), isNull(signingKey.retiredAt)))
    await tx.insert(signingKey).values(key)
  })
}
