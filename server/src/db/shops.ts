import { hearSale, type Sale, type SaleEvent } from '@satchel/core/shop/sales'
import { and, asc, count, desc, eq, isNull, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { edition, handOut, pack, purchase, release, shop, shopProduct } from './schema/all.ts'

export type Shop = typeof shop.$inferSelect
type Purchase = typeof purchase.$inferSelect

/** Purchases that a page is told of: the newest. */
const PURCHASES_SHOWN = 500
/** Purchases that are settled in one go. */
const SETTLED_AT_ONCE = 100

export async function insertShop(db: Db, values: typeof shop.$inferInsert): Promise<Shop> {
  const [row] = await db.insert(shop).values(values).returning()
  if (!row) throw new Error('insert gave no row')
  return row
}

/** A shop by the address it tells its sales to: whoever does, has to sign. */
export async function findShop(db: Db, id: string): Promise<Shop | undefined> {
  const [row] = await db.select().from(shop).where(eq(shop.id, id))
  return row
}

export async function listShops(db: Db, workspaceId: string): Promise<Shop[]> {
  return db
    .select()
    .from(shop)
    .where(and(eq(shop.workspaceId, workspaceId), isNull(shop.closedAt)))
    .orderBy(asc(shop.createdAt))
}

/** Takes nothing of a shop any more, or takes it again. @returns Whether it is there. */
export async function setShopClosed(db: Db, workspaceId: string, id: string, closedAt: Date | null): Promise<boolean> {
  const rows = await db
    .update(shop)
    .set({ closedAt })
    .where(and(eq(shop.workspaceId, workspaceId), eq(shop.id, id)))
    .returning({ id: shop.id })
  return rows.length > 0
}

export async function listProducts(db: Db, workspaceId: string) {
  return db
    .select({
      ...{ id: shopProduct.id, shopId: shopProduct.shopId, code: shopProduct.code, packId: shopProduct.packId },
      title: pack.title,
      editionId: shopProduct.editionId,
      edition: edition.name,
    })
    .from(shopProduct)
    .innerJoin(pack, eq(pack.id, shopProduct.packId))
    .leftJoin(edition, eq(edition.id, shopProduct.editionId))
    .where(eq(shopProduct.workspaceId, workspaceId))
    .orderBy(asc(shopProduct.code))
}

/** Says what a product of a shop is; anew where that was said already. */
export async function setProduct(db: Db, values: typeof shopProduct.$inferInsert): Promise<void> {
  const { packId, editionId = null } = values
  await db
    .insert(shopProduct)
    .values(values)
    .onConflictDoUpdate({ target: [shopProduct.shopId, shopProduct.code], set: { packId, editionId } })
}

export async function dropProduct(db: Db, workspaceId: string, id: string): Promise<boolean> {
  const rows = await db
    .delete(shopProduct)
    .where(and(eq(shopProduct.workspaceId, workspaceId), eq(shopProduct.id, id)))
    .returning({ id: shopProduct.id })
  return rows.length > 0
}

export async function countPurchases(db: Db, workspaceId: string): Promise<number> {
  const [row] = await db.select({ n: count() }).from(purchase).where(eq(purchase.workspaceId, workspaceId))
  return row?.n ?? 0
}

/** The newest purchases, with what has become of each. */
export async function listPurchases(db: Db, workspaceId: string) {
  return db
    .select({
      ...{ id: purchase.id, shopId: purchase.shopId, orderName: purchase.orderName, product: purchase.product },
      ...{ buyerName: purchase.buyerName, buyerEmail: purchase.buyerEmail, paidAt: purchase.paidAt },
      ...{ refundedAt: purchase.refundedAt, handOutId: purchase.handOutId },
      shop: shop.name,
      packId: sql<string | null>`coalesce(${release.packId}, ${shopProduct.packId})`,
      title: sql<
        string | null
      >`(select p.title from ${pack} p where p.id = coalesce(${release.packId}, ${shopProduct.packId}))`,
      isWithdrawn: sql<boolean>`${handOut.withdrawnAt} is not null`,
      /** Whether what it would give is in the bin: its pack, or the edition that cuts it. */
      isInBin: sql<boolean>`exists (select 1 from ${pack} p where p.id = ${shopProduct.packId} and p.deleted_at is not null)
        or exists (select 1 from ${edition} e where e.id = ${shopProduct.editionId} and e.deleted_at is not null)`,
    })
    .from(purchase)
    .innerJoin(shop, eq(shop.id, purchase.shopId))
    .leftJoin(shopProduct, and(eq(shopProduct.shopId, purchase.shopId), eq(shopProduct.code, purchase.product)))
    .leftJoin(handOut, eq(handOut.id, purchase.handOutId))
    .leftJoin(release, eq(release.id, handOut.releaseId))
    .where(eq(purchase.workspaceId, workspaceId))
    .orderBy(desc(sql`coalesce(${purchase.paidAt}, ${purchase.refundedAt})`), purchase.id)
    .limit(PURCHASES_SHOWN)
}

const utc = (at: string | null) => (at === null ? null : new Date(at).toISOString())
const saleOf = ({ paidAt, product, buyerName, buyerEmail, refundedAt }: Purchase): Sale => ({
  paid:
    paidAt === null
      ? null
      : { at: utc(paidAt) ?? '', product: product ?? '', name: buyerName ?? '', email: buyerEmail ?? '' },
  refundedAt: utc(refundedAt),
})

/** Notes what a shop tells of an order, beside what it has told already; whoever tells at the same time waits. */
export async function noteSale(db: Db, { id: shopId, workspaceId }: Shop, event: SaleEvent): Promise<void> {
  const orderName = event.data.order
  await db.transaction(async (tx) => {
    await tx.insert(purchase).values({ workspaceId, shopId, orderName }).onConflictDoNothing()
    const [known] = await tx
      .select()
      .from(purchase)
      .where(and(eq(purchase.shopId, shopId), eq(purchase.orderName, orderName)))
      .for('update')
    if (!known) throw new Error('the purchase was not inserted')
    const { paid, refundedAt } = hearSale(saleOf(known), event)
    await tx
      .update(purchase)
      .set({
        refundedAt,
        ...(paid ? { paidAt: paid.at, product: paid.product, buyerName: paid.name, buyerEmail: paid.email } : {}),
      })
      .where(eq(purchase.id, known.id))
    await tx.update(shop).set({ heardAt: new Date() }).where(eq(shop.id, shopId))
  })
}

/** What is to be done of a purchase: the newest good release of what was bought stands beside it. */
export type OpenPurchase = {
  id: string
  workspaceId: string
  buyerName: string
  buyerEmail: string
  handOutId: string | null
  packId: string
  editionId: string | null
  newestId: string
}
const newestOf = (
  packId: unknown,
) => sql`(select r.id, r.created_at from ${release} r where r.pack_id = ${packId} and r.state = 'ready'
  and r.recalled_at is null order by r.created_at desc limit 1)`

/** Purchases that were paid for and are not given yet, where there is something to give. */
export async function listToGive(db: Db): Promise<OpenPurchase[]> {
  const { rows } = await db.execute<OpenPurchase>(sql`
    select p.id, p.workspace_id as "workspaceId", p.buyer_name as "buyerName", p.buyer_email as "buyerEmail",
      p.hand_out_id as "handOutId", s.pack_id as "packId", s.edition_id as "editionId", newest.id as "newestId"
    from ${purchase} p join ${shopProduct} s on s.shop_id = p.shop_id and s.code = p.product
    join ${pack} k on k.id = s.pack_id and k.deleted_at is null
    -- what is cut by an edition that is in the bin is not given whole
    left join ${edition} e on e.id = s.edition_id
    join lateral ${newestOf(sql`s.pack_id`)} newest on true
    where p.paid_at is not null and p.refunded_at is null and p.hand_out_id is null and p.taken_back_at is null
      and e.deleted_at is null
    order by p.paid_at limit ${SETTLED_AT_ONCE}`)
  return rows
}

/**
 * Buyers who have something and were not written to of the newest release that it gives. One that was recalled leaves an older one
 * as the newest: of that nobody is told again.
 */
export async function listToTell(db: Db): Promise<(OpenPurchase & { isFirst: boolean })[]> {
  const { rows } = await db.execute<OpenPurchase & { isFirst: boolean }>(sql`
    with newest as materialized (
      select distinct on (r.pack_id) r.id, r.pack_id, r.created_at from ${release} r
      where r.state = 'ready' and r.recalled_at is null order by r.pack_id, r.created_at desc)
    select p.id, p.workspace_id as "workspaceId", p.buyer_name as "buyerName", p.buyer_email as "buyerEmail",
      p.hand_out_id as "handOutId", p.pack_id as "packId", h.edition_id as "editionId", newest.id as "newestId",
      p.told_of is null as "isFirst"
    from newest join ${purchase} p on p.pack_id = newest.pack_id and (p.told_of is null or p.told_of < newest.created_at)
    join ${handOut} h on h.id = p.hand_out_id
    where h.withdrawn_at is null and h.follows
    order by p.paid_at limit ${SETTLED_AT_ONCE}`)
  return rows
}

/** Ties a purchase to what was given for it, unless that was done meanwhile. */
export async function setGiven(
  db: Db,
  { id, workspaceId, packId }: Pick<OpenPurchase, 'id' | 'workspaceId' | 'packId'>,
  handOutId: string,
): Promise<boolean> {
  const rows = await db
    .update(purchase)
    .set({ handOutId, packId })
    .where(
      and(
        eq(purchase.workspaceId, workspaceId),
        eq(purchase.id, id),
        isNull(purchase.handOutId),
        isNull(purchase.refundedAt),
      ),
    )
    .returning({ id: purchase.id })
  return rows.length > 0
}

export async function setTold(
  db: Db,
  { id, workspaceId }: Pick<OpenPurchase, 'id' | 'workspaceId'>,
  releaseId: string,
): Promise<void> {
  const made = sql`(select r.created_at from ${release} r where r.id = ${releaseId})`
  await db
    .update(purchase)
    .set({ toldOf: made })
    .where(and(eq(purchase.workspaceId, workspaceId), eq(purchase.id, id)))
}

/** Withdraws what was given for purchases that were refunded, each once. @returns The workspaces of which there were some. */
export async function takeBackRefunded(db: Db): Promise<string[]> {
  const { rows } = await db.execute<{ workspaceId: string }>(sql`
    with refunded as (
      update ${purchase} set taken_back_at = now()
      where refunded_at is not null and taken_back_at is null
      returning hand_out_id, workspace_id
    ), taken as (
      update ${handOut} h set withdrawn_at = coalesce(h.withdrawn_at, now()) from refunded
      where h.id = refunded.hand_out_id returning h.id
    )
    select distinct workspace_id as "workspaceId" from refunded`)
  return rows.map(({ workspaceId }) => workspaceId)
}
