import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { packsQuery } from '../data/packs.ts'
import { shopsQuery } from '../data/shops.ts'
import { ShopsPage } from '../features/hand-out/shops/shops-page.tsx'

/** Shops that sell packs. */
export function ShopsRoute() {
  const shops = useQuery(shopsQuery)
  const packs = useQuery(packsQuery)
  if (shops.isError) return <LoadError error={shops.error} onRetry={() => void shops.refetch()} />
  if (packs.isError) return <LoadError error={packs.error} onRetry={() => void packs.refetch()} />
  if (!shops.data || !packs.data) return <Loading what="the shops" />
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Shops · Gentle Satchel</title>
      <Link to="/hand-out" className="text-13 text-saddle underline underline-offset-2">
        Hand out
      </Link>
      <PageTitle note="who sells packs, and who has bought them">Shops</PageTitle>
      <ShopsPage {...shops.data} packs={packs.data.packs} />
    </div>
  )
}
