import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { packBrushesQuery, packQuery } from '../data/packs.ts'
import { BrushNotes } from '../features/hand-out/brush-notes.tsx'

/** Every brush that a pack holds, and what is said of it. */
export function PackBrushesRoute() {
  const { packId = '' } = useParams()
  const pack = useQuery(packQuery(packId))
  const brushes = useQuery(packBrushesQuery(packId))
  if (pack.isError) return <LoadError error={pack.error} onRetry={() => void pack.refetch()} />
  if (brushes.isError) return <LoadError error={brushes.error} onRetry={() => void brushes.refetch()} />
  if (!pack.data || !brushes.data) return <Loading what="the brushes of the pack" />
  return (
    <div className="px-6 pb-8 pt-5">
      <title>{`Brushes of ${pack.data.title} · Gentle Satchel`}</title>
      <Link to={`/hand-out/${packId}`} className="text-13 text-saddle underline underline-offset-2">
        {pack.data.title}
      </Link>
      <PageTitle note={`what ${pack.data.title} holds, and what you say of each`}>Brushes and notes</PageTitle>
      {brushes.data.brushes.length === 0 ? (
        <p className="text-quiet">The pack holds no brush yet.</p>
      ) : (
        <BrushNotes packId={packId} brushes={brushes.data.brushes} />
      )}
    </div>
  )
}
