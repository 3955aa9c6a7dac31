import type { DeliveryStatus } from '@satchel/core/mail/delivery-status'
import type { MailKind, MailTemplate } from '@satchel/core/mail/template'
import { and, asc, count, eq, inArray, isNull, lte, or, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { inParts, isAnyOf } from './many.ts'
import { handOut, mail, mailTemplate, recipient, release } from './schema/all.ts'

export type Mail = typeof mail.$inferSelect

/** Mails that are written to somebody of these hand-outs: who has which, and where. */
export async function listAddressees(db: Db, workspaceId: string, packId: string, ids: readonly string[]) {
  return db
    .select({
      id: handOut.id,
      name: handOut.name,
      email: sql<string>`coalesce(${recipient.email}, '')`,
      recipientId: handOut.recipientId,
      noMailAt: recipient.noMailAt,
      tokenSealed: handOut.tokenSealed,
      endsAt: handOut.endsAt,
      withdrawnAt: handOut.withdrawnAt,
      editionId: handOut.editionId,
      follows: handOut.follows,
      releaseId: handOut.releaseId,
    })
    .from(handOut)
    .innerJoin(release, eq(release.id, handOut.releaseId))
    .leftJoin(recipient, eq(recipient.id, handOut.recipientId))
    .where(and(eq(handOut.workspaceId, workspaceId), eq(release.packId, packId), isAnyOf(handOut.id, ids)))
    .orderBy(handOut.id)
}
export type Addressee = Awaited<ReturnType<typeof listAddressees>>[number]

/** Writes mails down to be sent; of the same act nobody gets two. @returns How many are new. */
export async function insertMails(db: Db, rows: readonly (typeof mail.$inferInsert)[]): Promise<number> {
  let made = 0
  for (const some of inParts(mail, rows))
    made += (await db.insert(mail).values(some).onConflictDoNothing().returning({ id: mail.id })).length
  return made
}

/** The next mail of a workspace that is due, now on its way. */
export async function takeMail(db: Db, workspaceId: string): Promise<Mail | undefined> {
  return db.transaction(async (tx) => {
    const [due] = await tx
      .select({ id: mail.id })
      .from(mail)
      .where(and(eq(mail.workspaceId, workspaceId), eq(mail.state, 'waiting'), lte(mail.nextAt, sql`now()`)))
      .orderBy(asc(mail.nextAt), asc(mail.id))
      .limit(1)
      .for('update', { skipLocked: true })
    if (!due) return undefined
    const [taken] = await tx
      .update(mail)
      .set({ state: 'sending', tries: sql`${mail.tries} + 1` })
      .where(and(eq(mail.workspaceId, workspaceId), eq(mail.id, due.id)))
      .returning()
    return taken
  })
}

/** Says how a mail fared that was on its way. */
export async function endMail(
  db: Db,
  { workspaceId, id }: Pick<Mail, 'workspaceId' | 'id'>,
  end: { state: 'sent' | 'refused' | 'waiting' | 'unsure'; said: string; nextAt?: Date; sentAt?: Date },
): Promise<void> {
  await db
    .update(mail)
    .set(end)
    .where(and(eq(mail.workspaceId, workspaceId), eq(mail.id, id), eq(mail.state, 'sending')))
}

/** Mails that were on their way when whoever sent them was lost: nobody knows whether they arrived. */
export async function loseMails(db: Db, workspaceId: string): Promise<number> {
  const lost = await db
    .update(mail)
    .set({ state: 'unsure', said: 'The server ended while this was being sent.' })
    .where(and(eq(mail.workspaceId, workspaceId), eq(mail.state, 'sending')))
    .returning({ id: mail.id })
  return lost.length
}

/**
 * Notes what is told later of a mail that went out: that it came back, or that it is late. What is settled already stays so.
 * @returns Whose mail it was; undefined where nothing follows from it.
 */
export async function noteReturned(
  db: Db,
  id: string,
  { action, code, why }: DeliveryStatus,
): Promise<string | undefined> {
  const words = [code, why].filter(Boolean).join(', ') || 'no reason is said'
  const change = {
    failed: { state: 'refused' as const, said: `It came back: ${words}` },
    delayed: { said: `It is late: ${words}` },
    delivered: { state: 'sent' as const },
    relayed: undefined,
    expanded: undefined,
  }[action]
  if (!change) return undefined
  const [row] = await db
    .update(mail)
    .set(change)
    .where(and(eq(mail.id, id), inArray(mail.state, ['sending', 'sent', 'unsure'])))
    .returning({ workspaceId: mail.workspaceId })
  return row?.workspaceId
}

/** How many mails of a workspace wait. */
export async function countWaiting(db: Db, workspaceId: string): Promise<number> {
  const [row] = await db
    .select({ n: count() })
    .from(mail)
    .where(and(eq(mail.workspaceId, workspaceId), eq(mail.state, 'waiting')))
  return row?.n ?? 0
}

/** Workspaces that have a mail which is due, or was on its way. */
export async function listMailing(db: Db): Promise<string[]> {
  const isDue = or(eq(mail.state, 'sending'), and(eq(mail.state, 'waiting'), lte(mail.nextAt, sql`now()`)))
  const rows = await db.selectDistinct({ workspaceId: mail.workspaceId }).from(mail).where(isDue)
  return rows.map(({ workspaceId }) => workspaceId)
}

/** Calls off mails that still wait: to some hand-outs, or all. @returns How many. */
export async function callOffMails(db: Db, workspaceId: string, ids: readonly string[]): Promise<number> {
  const rows = await db
    .update(mail)
    .set({ state: 'called off', said: 'You called it off.' })
    .where(and(eq(mail.workspaceId, workspaceId), eq(mail.state, 'waiting'), isAnyOf(mail.handOutId, ids)))
    .returning({ id: mail.id })
  return rows.length
}

/** A person wants no more mails, or does again; what still waits for them is called off. @returns Whether they are known. */
export async function setNoMail(db: Db, workspaceId: string, id: string, noMailAt: Date | null): Promise<boolean> {
  return db.transaction(async (tx) => {
    const rows = await tx
      .update(recipient)
      .set({ noMailAt })
      .where(
        and(
          eq(recipient.workspaceId, workspaceId),
          eq(recipient.id, id),
          noMailAt ? isNull(recipient.noMailAt) : undefined,
        ),
      )
      .returning({ id: recipient.id })
    if (noMailAt)
      await tx
        .update(mail)
        .set({ state: 'called off', said: 'They want no more mails.' })
        .where(
          and(
            eq(mail.workspaceId, workspaceId),
            eq(mail.state, 'waiting'),
            sql`${mail.handOutId} in (select h.id from ${handOut} h where h.recipient_id = ${id})`,
          ),
        )
    return rows.length > 0
  })
}

export async function listTemplates(db: Db, workspaceId: string) {
  return db
    .select({ kind: mailTemplate.kind, subject: mailTemplate.subject, body: mailTemplate.body })
    .from(mailTemplate)
    .where(eq(mailTemplate.workspaceId, workspaceId))
}

export async function keepTemplate(
  db: Db,
  workspaceId: string,
  kind: MailKind,
  { subject, body }: MailTemplate,
): Promise<void> {
  await db
    .insert(mailTemplate)
    .values({ workspaceId, kind, subject, body })
    .onConflictDoUpdate({ target: [mailTemplate.workspaceId, mailTemplate.kind], set: { subject, body } })
}
