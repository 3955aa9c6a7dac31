import { sql } from 'drizzle-orm'
import { index, pgTable, text, timestamp, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import { createdAt, inWorkspace, maybeAt, named } from './columns.ts'
import { edition } from './editions.ts'
import { handOut } from './hand-outs.ts'
import { pack } from './packs.ts'

/** A shop that sells packs of a workspace. It tells of its sales by webhooks, signed by a secret that both know. */
export const shop = pgTable('shop', {
  id: uuid().primaryKey().defaultRandom(),
  workspaceId: inWorkspace(),
  name: named().notNull(),
  secretSealed: text().notNull(),
  /** When it last told something. */
  heardAt: maybeAt(),
  /** What it tells from then on is not taken any more; what was bought stays. */
  closedAt: maybeAt(),
  createdAt: createdAt(),
})

/** What a product of a shop is: a pack, or what an edition gives of it. */
export const shopProduct = pgTable(
  'shop_product',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    shopId: uuid()
      .notNull()
      .references(() => shop.id, { onDelete: 'cascade' }),
    /** What the shop calls it. */
    code: text().notNull(),
    packId: uuid()
      .notNull()
      .references(() => pack.id, { onDelete: 'cascade' }),
    editionId: uuid().references(() => edition.id, { onDelete: 'set null' }),
    createdAt: createdAt(),
  },
  (t) => [uniqueIndex('shop_product_code').on(t.shopId, t.code)],
)

/** An order, as far as its shop has told of it, and what has come of it. */
export const purchase = pgTable(
  'purchase',
  {
    /** Names the act of giving, and of writing: done twice, it gives and writes once. */
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    shopId: uuid()
      .notNull()
      .references(() => shop.id, { onDelete: 'cascade' }),
    /** What the shop calls the order. */
    orderName: text().notNull(),
    product: text(),
    buyerName: text(),
    buyerEmail: text(),
    paidAt: timestamp({ withTimezone: true, mode: 'string' }),
    refundedAt: timestamp({ withTimezone: true, mode: 'string' }),
    handOutId: uuid().references(() => handOut.id, { onDelete: 'set null' }),
    /** The pack that was given for it. */
    packId: uuid().references(() => pack.id, { onDelete: 'set null' }),
    /** When the release was made that its buyer was last written of; nothing before the first letter. */
    toldOf: maybeAt(),
    /** When the refund took the hand-out back: once, so that a curator may give it again. */
    takenBackAt: maybeAt(),
    createdAt: createdAt(),
  },
  (t) => [
    uniqueIndex('purchase_order').on(t.shopId, t.orderName),
    index('purchase_hand_out').on(t.handOutId),
    index('purchase_listed').on(t.workspaceId, t.createdAt),
    // what is looked for every few seconds: few of many
    index('purchase_to_give')
      .on(t.paidAt)
      .where(sql`hand_out_id is null and paid_at is not null and refunded_at is null`),
    index('purchase_to_take').on(t.refundedAt).where(sql`refunded_at is not null and taken_back_at is null`),
    index('purchase_to_tell').on(t.packId, t.toldOf),
  ],
)
