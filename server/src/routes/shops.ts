import { Name } from '@satchel/core/forms/names'
import { ProductCode } from '@satchel/core/shop/sales'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { findEdition } from '../db/editions.ts'
import { findPack } from '../db/packs.ts'
import {
  countPurchases,
  dropProduct,
  findShop,
  insertShop,
  listProducts,
  listPurchases,
  listShops,
  setProduct,
  setShopClosed,
} from '../db/shops.ts'
import { notFound, Problem } from '../errors.ts'
import { createShopSecret, openShopSecret, sealShopSecret } from '../shops/sales-address.ts'
import { settlePurchases } from '../shops/settle.ts'
import type { SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

const Uuid = v.pipe(v.string(), v.uuid())
const NewShop = v.object({ name: Name })
const Product = v.object({ code: ProductCode, packId: Uuid, editionId: v.optional(v.nullable(Uuid), null) })
const Closing = v.object({ isClosed: v.boolean() })

/** Shops that sell packs, what their products are, and what was bought. */
export const shopRoutes = (deps: AppDeps) => {
  const { db, events, origin } = deps
  const changed = (workspaceId: string) => events.publish({ workspaceId, topic: 'packs' })
  const addressOf = (id: string) => `${origin}/api/sales/${id}`
  const findOwn = async (workspaceId: string, id: string) => {
    const shop = await findShop(db, id)
    if (shop?.workspaceId !== workspaceId) throw notFound('shop')
    return shop
  }
  return (
    new Hono<SignedIn>()
      .get('/', async (c) => {
        const workspaceId = c.get('workspaceId')
        const [shops, products, purchases, bought] = await Promise.all([
          listShops(db, workspaceId),
          listProducts(db, workspaceId),
          listPurchases(db, workspaceId),
          countPurchases(db, workspaceId),
        ])
        return c.json({
          shops: shops.map(({ id, name, heardAt, createdAt }) => ({
            ...{ id, name, heardAt, createdAt, address: addressOf(id) },
            products: products.filter(({ shopId }) => shopId === id),
          })),
          purchases,
          /** How many there are in all. */
          bought,
          /** The page of the shop that comes with the product, where it runs. */
          standIn: deps.shopPage ?? null,
        })
      })
      .post('/', valid('json', NewShop), async (c) => {
        const workspaceId = c.get('workspaceId')
        const secret = createShopSecret()
        const { name } = c.req.valid('json')
        const { id } = await insertShop(db, {
          workspaceId,
          name,
          secretSealed: sealShopSecret(deps, workspaceId, secret),
        })
        await changed(workspaceId)
        return c.json({ id, address: addressOf(id), secret }, 201)
      })
      // a POST: whoever may only look is told no secrets
      .post('/:id/secret', valid('param', Id), async (c) => {
        const shop = await findOwn(c.get('workspaceId'), c.req.valid('param').id)
        const secret = openShopSecret(deps, shop)
        if (secret === undefined)
          throw new Problem(409, 'This secret was sealed by another secret of the server; make the shop anew.')
        return c.json({ secret })
      })
      .put('/:id/closed', valid('param', Id), valid('json', Closing), async (c) => {
        const workspaceId = c.get('workspaceId')
        const closedAt = c.req.valid('json').isClosed ? new Date() : null
        if (!(await setShopClosed(db, workspaceId, c.req.valid('param').id, closedAt))) throw notFound('shop')
        await changed(workspaceId)
        return c.json({ ok: true })
      })
      .put('/:id/products', valid('param', Id), valid('json', Product), async (c) => {
        const workspaceId = c.get('workspaceId')
        const shop = await findOwn(workspaceId, c.req.valid('param').id)
        const { code, packId, editionId } = c.req.valid('json')
        const pack = await findPack(db, workspaceId, packId)
        if (!pack) throw notFound('pack')
        const edition = editionId === null ? undefined : await findEdition(db, workspaceId, editionId)
        if (editionId !== null && (edition?.packId !== packId || edition.deletedAt)) throw notFound('edition')
        await setProduct(db, { workspaceId, shopId: shop.id, code, packId, editionId })
        // somebody may have bought it before it was said what it is
        await settlePurchases(deps)
        await changed(workspaceId)
        return c.json({ ok: true })
      })
      .delete('/products/:id', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        if (!(await dropProduct(db, workspaceId, c.req.valid('param').id))) throw notFound('product')
        await changed(workspaceId)
        return c.json({ ok: true })
      })
  )
}
