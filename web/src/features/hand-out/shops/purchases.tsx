import { format } from 'date-fns'
import { Link } from 'react-router'
import { plural } from '../../../components/format.ts'
import type { Purchase } from '../../../data/shops.ts'

type Standing = { mark: string; word: string; look: string }

/** How a purchase stands: told by a word and a mark, the colour comes on top. */
function standingOf({ refundedAt, isWithdrawn, isInBin, handOutId, paidAt, packId, product }: Purchase): Standing {
  if (refundedAt) {
    // a curator may have given it again since
    if (handOutId && !isWithdrawn) return { mark: '●', word: 'money back, given all the same', look: 'text-amber' }
    return { mark: '✕', word: 'money back', look: 'text-madder' }
  }
  if (handOutId)
    return isWithdrawn
      ? { mark: '✕', word: 'withdrawn', look: 'text-madder' }
      : { mark: '●', word: 'has it', look: 'text-moss' }
  if (!paidAt) return { mark: '◌', word: 'not paid for', look: 'text-quiet' }
  if (isInBin) return { mark: '◌', word: 'waits: what it gives is in the bin', look: 'text-amber' }
  const word = packId === null ? `waits: which pack is "${product}"?` : 'waits for a release'
  return { mark: '◌', word, look: 'text-amber' }
}

/** What was bought, the newest first, and what has become of it. */
export function Purchases({ purchases, bought }: { purchases: readonly Purchase[]; bought: number }) {
  return (
    <section aria-label="Purchases" className="grid gap-2">
      <h2 className="font-title text-24">Purchases</h2>
      <p className="text-13 text-quiet">
        {bought === 0
          ? 'Nothing was bought so far.'
          : `${plural(bought, 'purchase')}, the newest${bought > purchases.length ? ` ${purchases.length}` : ''} first`}
      </p>
      <ul className="divide-y divide-line">
        {purchases.map((purchase) => {
          const { id, buyerName, buyerEmail, orderName, shop, title, product, packId, paidAt, refundedAt } = purchase
          const { mark, word, look } = standingOf(purchase)
          const at = paidAt ?? refundedAt
          return (
            <li key={id} className="grid gap-x-4 py-2 sm:grid-cols-[2fr_2fr_1fr_1.5fr]">
              <span className="min-w-0">
                <strong className="block truncate">{buyerName ?? 'not told yet'}</strong>
                <span className="block truncate text-13 text-quiet">
                  {buyerEmail || 'no address that mail reaches'}
                </span>
              </span>
              <span className="min-w-0">
                {packId ? (
                  <Link className="text-saddle underline underline-offset-2" to={`/hand-out/${packId}/people`}>
                    {title}
                  </Link>
                ) : (
                  (product ?? '')
                )}
                <span className="block truncate text-13 text-quiet">
                  {orderName} of {shop}
                </span>
              </span>
              <span className="text-13">{at && format(new Date(at), 'd MMM yyyy')}</span>
              <span className={look}>
                <span aria-hidden>{mark}</span> {word}
              </span>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
