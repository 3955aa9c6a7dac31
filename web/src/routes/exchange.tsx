import { useQuery } from '@tanstack/react-query'
import { ArrowLeft, ExternalLink, Search } from 'lucide-react'
import { Link, useSearchParams } from 'react-router'
import { Button, buttonLook } from '../components/button.tsx'
import { PageTitle } from '../components/page-title.tsx'
import { Empty, LoadError, Loading } from '../components/states.tsx'
import { exchangesQuery } from '../data/exchanges.ts'
import { ItemList } from '../features/exchange/item-list.tsx'
import { NewerOnes } from '../features/exchange/newer-there.tsx'

/** An exchange beside the library: what makers share there. */
export function ExchangeRoute() {
  const [search, setSearch] = useSearchParams()
  const all = useQuery(exchangesQuery)
  const exchanges = all.data?.exchanges ?? []
  const here = exchanges.find(({ host }) => host === search.get('at')) ?? exchanges[0]
  const [q, like] = [search.get('q') ?? '', search.get('like') ?? undefined]
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Exchange · Gather · Gentle Satchel</title>
      <PageTitle
        note={here?.host}
        aside={
          <>
            <Link to="/gather" className={buttonLook()}>
              <ArrowLeft size={18} aria-hidden /> Gather
            </Link>
            {here && (
              <a href={here.page} target="_blank" rel="noreferrer" className={buttonLook()}>
                <ExternalLink size={18} aria-hidden /> Its own page
              </a>
            )}
          </>
        }
      >
        Exchange
      </PageTitle>
      {all.isPending && <Loading what="the exchanges" />}
      {all.isError && <LoadError error={all.error} onRetry={() => void all.refetch()} />}
      {all.data && !here && (
        <Empty title="No exchange is reached from here">
          Makers share releases with strangers at exchanges. Who runs this server says which are reached:
          SATCHEL_EXCHANGES holds their addresses.
        </Empty>
      )}
      {all.data && <NewerOnes newer={all.data.newer} />}
      {here && (
        <>
          <form
            className="mb-4 flex flex-wrap gap-2"
            onSubmit={(event) => {
              event.preventDefault()
              const words = new FormData(event.currentTarget).get('q')
              setSearch({ at: here.host, ...(words ? { q: String(words) } : {}) })
            }}
          >
            <input
              key={q}
              name="q"
              defaultValue={q}
              maxLength={200}
              aria-label="Words to look for"
              placeholder="A name, a maker, what it is"
              className="min-w-60 rounded-4 border border-line bg-raised px-3 py-1.5"
            />
            <Button type="submit">
              <Search size={18} aria-hidden /> Look for it
            </Button>
            {exchanges.length > 1 &&
              exchanges.map(({ host }) => (
                <Link
                  key={host}
                  to={`?at=${encodeURIComponent(host)}`}
                  aria-current={host === here.host ? 'page' : undefined}
                  className={buttonLook()}
                >
                  {host}
                </Link>
              ))}
          </form>
          {like && (
            <p className="mb-3 text-quiet">
              Collections with a brush that looks like the one of the library, the most alike first.
            </p>
          )}
          <ItemList host={here.host} wish={like ? { like } : { q }} />
        </>
      )}
    </div>
  )
}
