import { useQuery } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { Link } from 'react-router'
import { useAct } from '../acts/use-act.ts'
import { buttonLook } from '../components/button.tsx'
import { plural } from '../components/format.ts'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { followedQuery } from '../data/followed.ts'
import { FollowButton } from '../features/followed/follow-button.tsx'
import { FollowedCard } from '../features/followed/followed-card.tsx'
import { HowToFollow } from '../features/followed/how-to-follow.tsx'

/** Folders that artists draw in: what they brought, what is asked, and what is missed. */
export function FollowedRoute() {
  const followed = useQuery(followedQuery)
  const doing = useAct()
  const folders = followed.data?.folders
  const asked = folders?.reduce((sum, each) => sum + each.asked.length, 0) ?? 0
  return (
    <div className="flex flex-col px-6 pb-8 pt-5">
      <title>Followed folders · Gather · Gentle Satchel</title>
      <PageTitle
        note={asked > 0 ? `${plural(asked, 'question')} to answer` : undefined}
        aside={
          <>
            <Link to="/gather" className={buttonLook()}>
              <ArrowLeft size={18} aria-hidden /> Gather
            </Link>
            <FollowButton />
          </>
        }
      >
        Followed folders
      </PageTitle>
      {followed.isPending && <Loading what="the folders" />}
      {followed.isError && <LoadError error={followed.error} onRetry={() => void followed.refetch()} />}
      <div className="grid max-w-5xl grid-cols-[minmax(0,1fr)] gap-4">
        {folders?.map((folder) => (
          <FollowedCard key={folder.id} folder={folder} onTakeBack={doing.takeBack} />
        ))}
        {folders && <HowToFollow isFirst={folders.length === 0} />}
      </div>
    </div>
  )
}
