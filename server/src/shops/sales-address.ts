import { randomBytes } from 'node:crypto'
import { AnyEvent, isSale, SaleEvent } from '@satchel/core/shop/sales'
import { Webhook, WebhookVerificationError } from 'standardwebhooks'
import * as v from 'valibot'
import type { Shop } from '../db/shops.ts'
import type { Deps } from '../deps.ts'
import { Problem } from '../errors.ts'

const SECRET_BYTES = 32
const PURPOSE = 'shop '

/** A secret of a shop, as Standard Webhooks writes it. */
export const createShopSecret = (): string => `whsec_${randomBytes(SECRET_BYTES).toString('base64')}`
export const sealShopSecret = ({ links }: Pick<Deps, 'links'>, workspaceId: string, secret: string): string =>
  links.close(workspaceId, PURPOSE + secret)
/** @returns Nothing where it was sealed by another secret of the server. */
export function openShopSecret({ links }: Pick<Deps, 'links'>, shop: Pick<Shop, 'workspaceId' | 'secretSealed'>) {
  const text = links.open(shop.workspaceId, shop.secretSealed)
  return text?.startsWith(PURPOSE) ? text.slice(PURPOSE.length) : undefined
}

/**
 * What a shop tells, once its signature and its time are checked (Standard Webhooks): five minutes before and after are taken.
 * @returns Nothing of a kind that means nothing here.
 * @throws {Problem} 401 where it is not signed so; 422 where it is no sale.
 */
export function readSale(secret: string, body: string, headers: Record<string, string>): SaleEvent | undefined {
  try {
    new Webhook(secret).verify(body, headers, { jsonParse: false })
  } catch (error) {
    if (!(error instanceof WebhookVerificationError)) throw error
    throw new Problem(401, `This was not taken: ${error.message}. Check the secret and the clock of the shop.`)
  }
  const unfit = new Problem(422, 'This tells of no sale: the kind, the time, the order, or who bought what is missing.')
  let said: unknown
  try {
    said = JSON.parse(body)
  } catch {
    throw unfit
  }
  const known = v.safeParse(AnyEvent, said)
  if (!known.success) throw unfit
  if (!isSale(known.output)) return undefined
  const sale = v.safeParse(SaleEvent, said)
  if (!sale.success) throw unfit
  return sale.output
}
