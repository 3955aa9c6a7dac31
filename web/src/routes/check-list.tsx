import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { checkQuery } from '../data/check-list.ts'
import { CheckListBody } from '../features/check-list/check-list-body.tsx'

/** What is to be said of a pack before it is released, and what mends it. */
export function CheckListRoute() {
  const { packId = '' } = useParams()
  const check = useQuery(checkQuery(packId))
  if (check.isPending) return <Loading what="the check list" />
  if (check.isError) return <LoadError error={check.error} onRetry={() => void check.refetch()} />
  const { title } = check.data
  return (
    <div className="px-6 pb-8 pt-5">
      <title>{`Check list of ${title} · Gentle Satchel`}</title>
      <Link to={`/hand-out/${packId}`} className="text-13 text-saddle underline underline-offset-2">
        {title}
      </Link>
      <PageTitle note={`what is to be said of ${title} before it is released`}>Check list</PageTitle>
      <CheckListBody packId={packId} check={check.data} />
    </div>
  )
}
