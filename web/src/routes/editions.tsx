import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { editionsQuery } from '../data/editions.ts'
import { packQuery } from '../data/packs.ts'
import { EditionsPage } from '../features/hand-out/editions/editions-page.tsx'

/** How a pack is cut for those who get it. */
export function EditionsRoute() {
  const { packId = '' } = useParams()
  const pack = useQuery(packQuery(packId))
  const editions = useQuery(editionsQuery(packId))
  if (pack.isError) return <LoadError error={pack.error} onRetry={() => void pack.refetch()} />
  if (editions.isError) return <LoadError error={editions.error} onRetry={() => void editions.refetch()} />
  if (!pack.data || !editions.data) return <Loading what="the editions" />
  return (
    <div className="px-6 pb-8 pt-5">
      <title>{`Editions · ${pack.data.title} · Gentle Satchel`}</title>
      <Link to={`/hand-out/${packId}`} className="text-13 text-saddle underline underline-offset-2">
        {pack.data.title}
      </Link>
      <PageTitle note={`how ${pack.data.title} is cut for those who get it`}>Editions</PageTitle>
      <EditionsPage packId={packId} editions={editions.data.editions} newest={editions.data.newest} />
    </div>
  )
}
