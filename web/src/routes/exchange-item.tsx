import { useQuery } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { Link, useParams } from 'react-router'
import { buttonLook } from '../components/button.tsx'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { exchangeItemQuery } from '../data/exchanges.ts'
import { ItemView } from '../features/exchange/item-view.tsx'

/** One collection of an exchange. */
export function ExchangeItemRoute() {
  const { host = '', item = '' } = useParams()
  const page = useQuery(exchangeItemQuery(host, item))
  const title = page.data?.title ?? 'Collection'
  return (
    <div className="px-6 pb-8 pt-5">
      <title>{`${title} · Exchange · Gentle Satchel`}</title>
      <PageTitle
        note={page.data?.exchange}
        aside={
          <Link to={`/gather/exchange?at=${encodeURIComponent(host)}`} className={buttonLook()}>
            <ArrowLeft size={18} aria-hidden /> Exchange
          </Link>
        }
      >
        {title}
      </PageTitle>
      {page.isPending && <Loading what="the collection" />}
      {page.isError && <LoadError error={page.error} onRetry={() => void page.refetch()} />}
      {page.data && <ItemView key={page.data.id} host={host} page={page.data} />}
    </div>
  )
}
