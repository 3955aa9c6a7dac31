import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { findShop, noteSale } from '../db/shops.ts'
import { Problem } from '../errors.ts'
import { noteSecurity } from '../security-log.ts'
import { openShopSecret, readSale } from '../shops/sales-address.ts'
import { settlePurchases } from '../shops/settle.ts'
import { Id, valid } from './validate.ts'

const HEADERS = ['webhook-id', 'webhook-timestamp', 'webhook-signature'] as const
const HEADER = v.pipe(v.string(), v.maxLength(1000))

/** Where shops tell of their sales. Nobody is signed in there: each message is. */
export const saleRoutes = (deps: AppDeps) =>
  new Hono().post('/:id', valid('param', Id), async (c) => {
    const { id } = c.req.valid('param')
    await deps.limits.takeLink(id)
    const shop = await findShop(deps.db, id)
    if (!shop) throw new Problem(404, 'No shop tells its sales here; copy the address anew.')
    if (shop.closedAt) throw new Problem(410, 'This shop was let go of; what it tells is not taken any more.')
    const secret = openShopSecret(deps, shop)
    if (secret === undefined)
      throw new Problem(
        409,
        'The secret of this shop cannot be opened here; make the shop anew and give it the new one.',
      )
    const headers = Object.fromEntries(
      HEADERS.flatMap((name) => {
        const said = c.req.header(name)
        return said !== undefined && v.is(HEADER, said) ? [[name, said]] : []
      }),
    )
    let sale: ReturnType<typeof readSale>
    try {
      sale = readSale(secret, await c.req.text(), headers)
    } catch (error) {
      noteSecurity(deps.log, 'request refused', {
        ...{ workspace: shop.workspaceId, path: c.req.path, method: c.req.method },
        status: error instanceof Problem ? error.status : 500,
      })
      throw error
    }
    if (!sale) return c.json({ taken: false })
    await noteSale(deps.db, shop, sale)
    // what follows from it is done again by whoever looks next, where it breaks off here
    await settlePurchases(deps).catch((error: unknown) => deps.log.error({ err: error }, 'purchases'))
    await deps.events.publish({ workspaceId: shop.workspaceId, topic: 'packs' })
    return c.json({ taken: true })
  })
