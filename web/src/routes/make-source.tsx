import { useQuery } from '@tanstack/react-query'
import { useParams } from 'react-router'
import { LoadError, Loading } from '../components/states.tsx'
import { type Source, sourceQuery } from '../data/sources.ts'
import { SourcePage } from '../features/make/source-page.tsx'
import { TouchTipDialog } from './touch-tip-dialog.tsx'

export function MakeSourceRoute() {
  const { sourceId = '' } = useParams()
  const source = useQuery(sourceQuery(sourceId))
  if (source.isPending) return <Loading what="the source" />
  if (source.isError) return <LoadError error={source.error} onRetry={() => void source.refetch()} />
  // the wire's type has lost which settings belong to which step
  return (
    <SourcePage key={sourceId} source={source.data as Source} touchTip={(props) => <TouchTipDialog {...props} />} />
  )
}
