import * as v from 'valibot'
import { toOneLine } from '../formats/text.ts'
import { NAME_MAX_CHARS } from '../limits.ts'
import { MailAddress } from '../people/mail-address.ts'

/** What a shop says of an order or a product, as a key. */
const Key = v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(200))
/** A product of a shop as its keeper writes it. */
export const ProductCode = v.pipe(
  v.string(),
  v.trim(),
  v.regex(/^[A-Za-z0-9._-]{1,60}$/, 'a product’s code has letters, digits, dots and dashes, 60 at most'),
)
const Moment = v.pipe(v.string(), v.isoTimestamp())
const Text = v.pipe(v.string(), v.maxLength(2000))

/** What a shop tells of a sale: the payload that Standard Webhooks recommends, a kind, a time, and what it is about. */
export const SaleEvent = v.variant('type', [
  v.object({
    type: v.literal('purchase.paid'),
    timestamp: Moment,
    data: v.object({ order: Key, product: Key, buyer: v.object({ name: Text, email: Text }) }),
  }),
  v.object({ type: v.literal('purchase.refunded'), timestamp: Moment, data: v.object({ order: Key }) }),
])
export type SaleEvent = v.InferOutput<typeof SaleEvent>

/** Kinds of events there may be more of by now: those are passed over. */
export const AnyEvent = v.object({ type: v.pipe(v.string(), v.maxLength(200)) })
export const isSale = ({ type }: v.InferOutput<typeof AnyEvent>): boolean =>
  SaleEvent.options.some((option) => option.entries.type.literal === type)

/** What is known of an order. */
export type Sale = {
  /** What was bought and by whom, once that was told. */
  paid: { at: string; product: string; name: string; email: string } | null
  /** When the money went back: that is for good. */
  refundedAt: string | null
}
export const NO_SALE: Sale = { paid: null, refundedAt: null }

/**
 * What is known of an order after one more event. Events come late, twice, and in any order: whatever the order, the same ones come
 * to the same. Of two that say otherwise the later counts.
 */
export function hearSale(known: Sale, event: SaleEvent): Sale {
  if (event.type === 'purchase.refunded') {
    const { timestamp: at } = event
    return {
      ...known,
      refundedAt: known.refundedAt !== null && known.refundedAt <= utc(at) ? known.refundedAt : utc(at),
    }
  }
  const { product, buyer } = event.data
  const email = buyer.email.trim()
  const paid = {
    at: utc(event.timestamp),
    product: toOneLine(product, 200),
    name: toOneLine(buyer.name, NAME_MAX_CHARS).trim() || 'A buyer',
    email: v.is(MailAddress, email) ? email : '',
  }
  return known.paid && orderOf(known.paid) >= orderOf(paid) ? known : { ...known, paid }
}

const utc = (timestamp: string) => new Date(timestamp).toISOString()
const orderOf = ({ at, ...said }: NonNullable<Sale['paid']>) =>
  JSON.stringify([at, said.product, said.name, said.email])

/** What somebody has bought stands open, is given, or is taken back. */
export const isGiven = ({ paid, refundedAt }: Sale): boolean => paid !== null && refundedAt === null
