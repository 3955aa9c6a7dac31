import type { MailKind } from '@satchel/core/mail/template'
import { index, integer, pgTable, primaryKey, text, timestamp, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import { createdAt, inWorkspace, maybeAt } from './columns.ts'
import { handOut } from './hand-outs.ts'

/** A mail that goes out, or went: written whole before it is sent, so that whoever sends it adds nothing. */
export const mail = pgTable(
  'mail',
  {
    /** Names it in its header too. */
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    handOutId: uuid()
      .notNull()
      .references(() => handOut.id, { onDelete: 'cascade' }),
    kind: text().$type<MailKind>().notNull(),
    /** Names the act that wrote it: the same act, sent twice, writes to nobody twice. */
    actId: uuid().notNull(),
    toName: text().notNull(),
    toAddress: text().notNull(),
    subject: text().notNull(),
    /** What it says, sealed, since a link stands in it. */
    contentSealed: text().notNull(),
    /** Where its reader says that no more shall come. */
    stopUrl: text().notNull(),
    /** `sending` is between the server and the next one; where that broke off nobody knows, and it is `unsure`. */
    state: text({ enum: ['waiting', 'sending', 'sent', 'refused', 'unsure', 'called off'] }).notNull(),
    /** What the other server said of it last. */
    said: text().notNull().default(''),
    tries: integer().notNull().default(0),
    nextAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    sentAt: maybeAt(),
    createdAt: createdAt(),
  },
  (t) => [
    uniqueIndex('mail_act').on(t.handOutId, t.actId),
    index('mail_due').on(t.state, t.nextAt),
    index('mail_hand_out').on(t.handOutId, t.createdAt),
  ],
)

/** A workspace's own words for a kind of mail. */
export const mailTemplate = pgTable(
  'mail_template',
  {
    workspaceId: inWorkspace(),
    kind: text().$type<MailKind>().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.kind] })],
)
