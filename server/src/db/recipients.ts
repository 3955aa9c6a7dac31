import { personKey } from '@satchel/core/people/read-people'
import { and, eq, ne, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { inParts } from './many.ts'
import { handOut, recipient } from './schema/all.ts'

export type NewRecipient = { name: string; email: string; note: string }

/**
 * The people of an address book, made where they are not in it yet; what is said of them now covers what was said before.
 * @returns Their ids by their keys.
 */
export async function ensureRecipients(
  db: Db,
  workspaceId: string,
  people: readonly NewRecipient[],
): Promise<Map<string, string>> {
  const byKey = new Map(people.map((person) => [personKey(person), person]))
  // in one order, so that two who add the same people wait for each other, and never crosswise
  const rows = [...byKey].sort(([a], [b]) => (a < b ? -1 : 1)).map(([key, person]) => ({ workspaceId, key, ...person }))
  const ids = new Map<string, string>()
  for (const some of inParts(recipient, rows)) {
    const made = await db
      .insert(recipient)
      .values(some)
      .onConflictDoUpdate({
        target: [recipient.workspaceId, recipient.key],
        set: {
          name: sql`excluded.name`,
          note: sql`case when excluded.note = '' then ${recipient.note} else excluded.note end`,
        },
      })
      .returning({ id: recipient.id, key: recipient.key })
    for (const { id, key } of made) ids.set(key, id)
  }
  return ids
}

/**
 * Changes what is known of a person, and the name on what they were handed.
 * @returns What it was before; undefined where there is no such person; "taken" where somebody else has
 * that address, or that name and no address.
 */
export async function updateRecipient(
  db: Db,
  workspaceId: string,
  id: string,
  to: NewRecipient,
): Promise<NewRecipient | 'taken' | undefined> {
  const isIt = and(eq(recipient.workspaceId, workspaceId), eq(recipient.id, id))
  return db.transaction(async (tx) => {
    const [was] = await tx.select().from(recipient).where(isIt).for('update')
    if (!was) return undefined
    const key = personKey(to)
    const [other] = await tx
      .select({ id: recipient.id })
      .from(recipient)
      .where(and(eq(recipient.workspaceId, workspaceId), eq(recipient.key, key), ne(recipient.id, id)))
    if (other) return 'taken'
    await tx
      .update(recipient)
      .set({ ...to, key })
      .where(isIt)
    await tx
      .update(handOut)
      .set({ name: to.name })
      .where(and(eq(handOut.workspaceId, workspaceId), eq(handOut.recipientId, id)))
    return { name: was.name, email: was.email, note: was.note }
  })
}
