import { useQuery } from '@tanstack/react-query'
import { Link, Navigate, useParams } from 'react-router'
import { BrushExample } from '../components/brush-example.tsx'
import { buttonLook } from '../components/button.tsx'
import { Empty, LoadError, Loading } from '../components/states.tsx'
import { brushQuery, firstBrushQuery } from '../data/brush.ts'
import { exampleQuery } from '../data/starters.ts'
import { TunePage } from '../features/tune/tune-page.tsx'

export function TuneRoute() {
  const { brushId } = useParams()
  return brushId ? <OneBrush key={brushId} id={brushId} /> : <AnyBrush />
}

/** Where no brush was chosen: the last one tuned here, else the newest. */
function AnyBrush() {
  const last = sessionStorage.getItem('satchel-last-tuned')
  const first = useQuery({ ...firstBrushQuery, enabled: !last })
  const example = useQuery({ ...exampleQuery('tune'), enabled: first.data?.brushes.length === 0 })
  if (last) return <Navigate to={`/tune/${last}`} replace />
  if (first.isPending) return <Loading what="a brush" />
  if (first.isError) return <LoadError error={first.error} onRetry={() => void first.refetch()} />
  const [brush] = first.data.brushes
  if (brush) return <Navigate to={`/tune/${brush.id}`} replace />
  return (
    <Empty
      title="Nothing to tune yet"
      action={
        <Link to="/gather" className={buttonLook('primary')}>
          Gather the first brushes
        </Link>
      }
    >
      Here a brush's strokes follow every change of its recipe. Take some brushes in first, or tune one of the starter
      library.
      <BrushExample brush={example.data}>For example "{example.data?.name}"</BrushExample>
    </Empty>
  )
}

function OneBrush({ id }: { id: string }) {
  const brush = useQuery(brushQuery(id))
  if (brush.isPending) return <Loading what="the brush" />
  if (brush.isError) {
    sessionStorage.removeItem('satchel-last-tuned')
    return <LoadError error={brush.error} onRetry={() => void brush.refetch()} />
  }
  sessionStorage.setItem('satchel-last-tuned', id)
  return <TunePage brush={brush.data} />
}
