import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { PageTitle } from '../components/page-title.tsx'
import { Empty, LoadError, Loading } from '../components/states.tsx'
import { editionsQuery } from '../data/editions.ts'
import { EditionBench } from '../features/hand-out/editions/edition-bench.tsx'

/** One edition of a pack, to be cut. */
export function EditionRoute() {
  const { packId = '', editionId = '' } = useParams()
  const editions = useQuery(editionsQuery(packId))
  if (editions.isError) return <LoadError error={editions.error} onRetry={() => void editions.refetch()} />
  if (!editions.data) return <Loading what="the edition" />
  const { newest } = editions.data
  const edition = editions.data.editions.find(({ id }) => id === editionId)
  const back = (
    <Link to={`/hand-out/${packId}/editions`} className="text-13 text-saddle underline underline-offset-2">
      Editions{newest && ` of ${newest.title}`}
    </Link>
  )
  if (!edition || !newest)
    return (
      <Empty title={newest ? 'This edition is not here any more' : 'There is no release to cut it from'} action={back}>
        {newest
          ? 'It was put into the bin, or its address was not copied whole.'
          : 'Every release of its pack was recalled; release it anew.'}
      </Empty>
    )
  return (
    <div className="px-6 pb-8 pt-5">
      <title>{`${edition.name} · Editions · Gentle Satchel`}</title>
      {back}
      <PageTitle note={edition.plan.kit ? 'a class kit' : 'an edition'}>{edition.name}</PageTitle>
      <EditionBench key={edition.id} packId={packId} edition={edition} from={newest} />
    </div>
  )
}
