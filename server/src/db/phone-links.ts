import { and, eq, gt, isNull, lt, or, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { phoneLink, workspace } from './schema/all.ts'

export type PhoneLink = typeof phoneLink.$inferSelect

/** Adds a link, and forgets those of the workspace that ended long ago. */
export async function addPhoneLink(
  db: Db,
  link: { workspaceId: string; tokenHash: string; endsAt: Date },
  forgetBefore: Date,
): Promise<PhoneLink> {
  await db.delete(phoneLink).where(and(eq(phoneLink.workspaceId, link.workspaceId), lt(phoneLink.endsAt, forgetBefore)))
  const [made] = await db.insert(phoneLink).values(link).returning()
  if (!made) throw new Error('no link was added')
  return made
}

export async function findPhoneLink(db: Db, workspaceId: string, id: string): Promise<PhoneLink | undefined> {
  const [row] = await db
    .select()
    .from(phoneLink)
    .where(and(eq(phoneLink.workspaceId, workspaceId), eq(phoneLink.id, id)))
  return row
}

/** The link behind a secret, and whose ledger it leads to. */
export async function findPhoneLinkByToken(db: Db, tokenHash: string) {
  const [row] = await db
    .select({ link: phoneLink, workspace: workspace.name })
    .from(phoneLink)
    .innerJoin(workspace, eq(workspace.id, phoneLink.workspaceId))
    .where(eq(phoneLink.tokenHash, tokenHash))
  return row
}

/** Gives an open link to the phone that asks first. @returns Whether it is this phone's, now or already. */
export async function holdPhoneLink(db: Db, link: PhoneLink, holderHash: string): Promise<boolean> {
  const held = await db
    .update(phoneLink)
    .set({ holderHash })
    .where(
      and(
        eq(phoneLink.workspaceId, link.workspaceId),
        eq(phoneLink.id, link.id),
        gt(phoneLink.endsAt, new Date()),
        or(isNull(phoneLink.holderHash), eq(phoneLink.holderHash, holderHash)),
      ),
    )
    .returning({ id: phoneLink.id })
  return held.length > 0
}

/** Counts a photograph that is about to come. @returns Which one it is, from 1; undefined where there are enough. */
export async function countPhotograph(db: Db, link: PhoneLink, most: number): Promise<number | undefined> {
  const [row] = await db
    .update(phoneLink)
    .set({ photographs: sql`${phoneLink.photographs} + 1` })
    .where(
      and(
        eq(phoneLink.workspaceId, link.workspaceId),
        eq(phoneLink.id, link.id),
        gt(phoneLink.endsAt, new Date()),
        lt(phoneLink.photographs, most),
      ),
    )
    .returning({ photographs: phoneLink.photographs })
  return row?.photographs
}

/** Ends a link now. @returns Whether there is such a link. */
export async function endPhoneLink(db: Db, workspaceId: string, id: string): Promise<boolean> {
  const ended = await db
    .update(phoneLink)
    .set({ endsAt: sql`least(${phoneLink.endsAt}, now())` })
    .where(and(eq(phoneLink.workspaceId, workspaceId), eq(phoneLink.id, id)))
    .returning({ id: phoneLink.id })
  return ended.length > 0
}
