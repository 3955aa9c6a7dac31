import { Link } from 'react-router'
import { buttonLook } from '../../../components/button.tsx'
import { formatCount, plural } from '../../../components/format.ts'
import type { NewerPack } from '../../../data/gather.ts'
import { tellCounts } from './standing-words.ts'

/** Packs in the ledger of which something was taken before: what comes of it, what is asked, and what they have no more. */
export function NewerPacks({ packs }: { packs: readonly NewerPack[] }) {
  return (
    <section aria-label="Packs that you have" className="mb-3 grid gap-2">
      {packs.map((pack) => {
        const asked = (pack.counts.joins ?? 0) + (pack.counts.open ?? 0)
        return (
          <div
            key={pack.id}
            className="flex flex-wrap items-center gap-x-4 gap-y-1 rounded-10 border border-slate bg-surface px-3 py-2 text-13"
          >
            <span className="min-w-0 flex-[1_1_22rem]">
              <strong className="font-title text-15">{[pack.title, pack.release].join(' ').trim()}</strong>{' '}
              <span className="text-quiet">{pack.had && `(you have ${pack.had})`}</span>
              <span className="block">{tellCounts(pack, formatCount)}</span>
              {pack.isStrange && (
                <strong className="block text-amber">
                  It is not signed by whoever signed {pack.had || 'the one you have'}: what it changes is passed over
                  unless you take it.
                </strong>
              )}
              {pack.gone.count > 0 && <Gone gone={pack.gone} />}
            </span>
            {asked > 0 && (
              <Link to="/gather/newer" className={buttonLook()}>
                Look at {plural(asked, 'brush', 'brushes')} changed by both
              </Link>
            )}
          </div>
        )
      })}
    </section>
  )
}

function Gone({ gone: { count, named } }: Pick<NewerPack, 'gone'>) {
  const more = count - named.length
  return (
    <details>
      <summary className="cursor-pointer text-quiet">
        {plural(count, 'brush that you have is', 'brushes that you have are')} not in it, and{' '}
        {count === 1 ? 'stays' : 'stay'} as {count === 1 ? 'it is' : 'they are'}
      </summary>
      <p className="mt-1">
        {named.map(({ name }) => name).join(', ')}
        {more > 0 && ` and ${formatCount(more)} more`}
      </p>
    </details>
  )
}
