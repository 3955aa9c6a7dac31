import { useQuery } from '@tanstack/react-query'
import { useParams } from 'react-router'
import { LoadError, Loading } from '../components/states.tsx'
import { brushQuery } from '../data/brush.ts'
import { FramesPage } from '../features/frames/frames-page.tsx'

/** The frames of one brush in a row: their order, how they stand beside each other, and what makes them alike. */
export function FramesRoute() {
  const { brushId = '' } = useParams()
  const brush = useQuery(brushQuery(brushId))
  if (brush.isPending) return <Loading what="the frames" />
  if (brush.isError) return <LoadError error={brush.error} onRetry={() => void brush.refetch()} />
  return <FramesPage key={brushId} brush={brush.data} />
}
