import { useQuery } from '@tanstack/react-query'
import { useLocation, useParams } from 'react-router'
import { LoadError, Loading } from '../components/states.tsx'
import { packQuery } from '../data/packs.ts'
import { linksQuery, peopleQuery, stateOf } from '../data/people.ts'
import { Cards } from '../features/hand-out/people/cards.tsx'

/** Links of hand-outs as cards to print: of those that were chosen, or of all that are out. */
export function CardsRoute() {
  const { packId = '' } = useParams()
  const { state } = useLocation()
  const pack = useQuery(packQuery(packId))
  const people = useQuery(peopleQuery(packId))
  const chosen = (state as { ids?: string[] } | null)?.ids
  const ids = chosen ?? people.data?.filter((each) => stateOf(each).word === 'out').map(({ id }) => id)
  const links = useQuery(linksQuery(ids))
  if (pack.isError) return <LoadError error={pack.error} onRetry={() => void pack.refetch()} />
  if (people.isError) return <LoadError error={people.error} onRetry={() => void people.refetch()} />
  if (links.isError) return <LoadError error={links.error} onRetry={() => void links.refetch()} />
  if (!pack.data || !links.data) return <Loading what="the cards" />
  return (
    <>
      <title>{`Cards · ${pack.data.title} · Gentle Satchel`}</title>
      <Cards pack={pack.data} links={links.data} />
    </>
  )
}
