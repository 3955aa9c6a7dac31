import { useQuery } from '@tanstack/react-query'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { buttonLook } from '../components/button.tsx'
import { Empty, LoadError, Loading } from '../components/states.tsx'
import { brushQuery } from '../data/brush.ts'
import { startGather } from '../data/gather.ts'
import { useRefresh } from '../data/use-refresh.ts'
import { addUploads } from '../features/gather/upload.ts'
import { Tracing } from '../features/trace/tracing.tsx'

/** A brush's picture or stroke as a drawing of curves: as few anchors as are good enough. */
export function TraceRoute() {
  const [search] = useSearchParams()
  const brushId = search.get('brush')
  const brush = useQuery({ ...brushQuery(brushId ?? ''), enabled: brushId !== null })
  const navigate = useNavigate()
  const refresh = useRefresh()
  const takeIn = async (drawing: File) => {
    const { id } = await startGather()
    addUploads(id, [{ path: drawing.name, file: drawing }])
    await refresh('gather')
    await navigate('/gather')
  }
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Trace · Gentle Satchel</title>
      {brushId === null && (
        <Empty
          title="Nothing to trace yet"
          action={
            <Link to="/fit" className={buttonLook('primary')}>
              Choose a brush
            </Link>
          }
        >
          A picture or a painted stroke becomes a drawing of curves, with as few anchors as are good enough. Open a cell
          of Fit, or a brush in Tune, and trace it from there.
        </Empty>
      )}
      {brushId !== null && brush.isPending && <Loading what="the brush" />}
      {brush.isError && <LoadError error={brush.error} onRetry={() => void brush.refetch()} />}
      {brush.data && <Tracing key={brush.data.id} brush={brush.data} onTake={takeIn} />}
    </div>
  )
}
