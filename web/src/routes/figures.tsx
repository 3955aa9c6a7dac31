import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { packQuery } from '../data/packs.ts'
import { figuresQuery } from '../data/people.ts'
import { FiguresPage } from '../features/hand-out/people/figures-page.tsx'

/** Who has which version of a pack, and when it was fetched. */
export function FiguresRoute() {
  const { packId = '' } = useParams()
  const { timeZone } = Intl.DateTimeFormat().resolvedOptions()
  const pack = useQuery(packQuery(packId))
  const figures = useQuery(figuresQuery(packId, timeZone))
  if (pack.isError) return <LoadError error={pack.error} onRetry={() => void pack.refetch()} />
  if (figures.isError) return <LoadError error={figures.error} onRetry={() => void figures.refetch()} />
  if (!pack.data || !figures.data) return <Loading what="the figures" />
  return (
    <div className="px-6 pb-8 pt-5">
      <title>{`Figures · ${pack.data.title} · Gentle Satchel`}</title>
      <Link to={`/hand-out/${packId}`} className="text-13 text-saddle underline underline-offset-2">
        {pack.data.title}
      </Link>
      <PageTitle note={`counts, days and apps, and nothing else of anybody; days as in ${timeZone}`}>Figures</PageTitle>
      <FiguresPage packId={packId} title={pack.data.title} figures={figures.data} />
    </div>
  )
}
