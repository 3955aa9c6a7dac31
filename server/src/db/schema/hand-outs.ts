import { StoredPart } from '@satchel/core/pack/contents'
import { boolean, index, integer, pgTable, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import * as v from 'valibot'
import { createdAt, inWorkspace, maybeAt, parsed } from './columns.ts'
import { edition, editionBuild } from './editions.ts'
import { release } from './packs.ts'
import { recipient } from './recipients.ts'

/**
 * A release given to one person or group through a link. The link is found by its hash, and kept sealed, so that a curator
 * can copy it again and a copy of the database cannot be read.
 */
export const handOut = pgTable(
  'hand_out',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    releaseId: uuid()
      .notNull()
      .references(() => release.id, { onDelete: 'cascade' }),
    /** Who has it, where that is somebody of the address book. */
    recipientId: uuid().references(() => recipient.id, { onDelete: 'set null' }),
    name: text().notNull(),
    tokenHash: text().notNull().unique(),
    /** Absent of links that were given before they could be copied again. */
    tokenSealed: text(),
    /** How the release is cut for them; all of it where that is not said. */
    editionId: uuid().references(() => edition.id),
    /** Whether it goes on to each newer release of its pack. */
    follows: boolean().notNull().default(false),
    /** Names the act that made it: the same act, sent twice, makes nothing twice. */
    batchId: uuid(),
    endsAt: maybeAt(),
    downloadLimit: integer(),
    downloads: integer().notNull().default(0),
    withdrawnAt: maybeAt(),
    createdAt: createdAt(),
  },
  (t) => [
    index('hand_out_release').on(t.releaseId),
    index('hand_out_recipient').on(t.recipientId),
    uniqueIndex('hand_out_batch').on(t.batchId, t.recipientId),
  ],
)

/** What somebody with a link writes to the maker: what did not work. */
export const handOutNote = pgTable(
  'hand_out_note',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    handOutId: uuid()
      .notNull()
      .references(() => handOut.id, { onDelete: 'cascade' }),
    /** Which release it is about. */
    releaseId: uuid().references(() => release.id, { onDelete: 'set null' }),
    /** The app, by its name; empty where none was named. */
    app: text().notNull(),
    text: text().notNull(),
    /** Names the note: the same one, sent twice, is there once. */
    sentId: uuid().notNull(),
    createdAt: createdAt(),
    readAt: maybeAt(),
  },
  (t) => [
    uniqueIndex('hand_out_note_sent').on(t.handOutId, t.sentId),
    index('hand_out_note_new').on(t.workspaceId, t.readAt),
  ],
)

/** What was fetched through a hand-out, and when. `grantHash` names the download, which its holder may go on with for a while. */
export const delivery = pgTable(
  'delivery',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    handOutId: uuid()
      .notNull()
      .references(() => handOut.id, { onDelete: 'cascade' }),
    /** Which release it is: a hand-out that follows gives others later. */
    releaseId: uuid().references(() => release.id, { onDelete: 'set null' }),
    /** Which download of it, where it was one of an edition. */
    buildId: uuid().references(() => editionBuild.id, { onDelete: 'set null' }),
    /** What of it; everything where that is not said. */
    part: parsed((stored) => v.parse(StoredPart, stored)),
    /** The app it was fetched for, by its name; none of what is for any. */
    app: text(),
    at: createdAt(),
    grantHash: text(),
    /** Names the bytes that it was begun with: another name in them, or another key, and it cannot be gone on with. */
    etag: text(),
    /** Granted and not sent yet; sent to its last byte; broken off before that, which counts against no limit. */
    state: text({ enum: ['open', 'sent', 'broken'] })
      .notNull()
      .default('sent'),
  },
  (t) => [
    index('delivery_hand_out').on(t.handOutId, t.at),
    index('delivery_release').on(t.releaseId),
    uniqueIndex('delivery_grant').on(t.grantHash),
  ],
)
