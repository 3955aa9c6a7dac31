import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { packQuery } from '../data/packs.ts'
import { peopleQuery } from '../data/people.ts'
import { PeopleNotes } from '../features/hand-out/people/notes.tsx'
import { PeoplePage } from '../features/hand-out/people/people-page.tsx'

/** Everybody who has a pack. */
export function PeopleRoute() {
  const { packId = '' } = useParams()
  const pack = useQuery(packQuery(packId))
  const people = useQuery(peopleQuery(packId))
  if (pack.isError) return <LoadError error={pack.error} onRetry={() => void pack.refetch()} />
  if (people.isError) return <LoadError error={people.error} onRetry={() => void people.refetch()} />
  if (!pack.data || !people.data) return <Loading what="the people" />
  return (
    <div className="px-6 pb-8 pt-5">
      <title>{`People · ${pack.data.title} · Gentle Satchel`}</title>
      <Link to={`/hand-out/${packId}`} className="text-13 text-saddle underline underline-offset-2">
        {pack.data.title}
      </Link>
      <PageTitle note={`who has ${pack.data.title}, each through a link of their own`}>People</PageTitle>
      <div className="grid gap-8">
        <PeopleNotes packId={packId} />
        <PeoplePage pack={pack.data} handOuts={people.data} />
      </div>
    </div>
  )
}
