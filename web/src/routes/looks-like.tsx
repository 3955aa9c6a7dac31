import { useQuery } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { buttonLook } from '../components/button.tsx'
import { plural } from '../components/format.ts'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { useAddress } from '../components/use-address.ts'
import { brushQuery } from '../data/brush.ts'
import { LIKE_BY, type LikeBy, likeQuery, looksQuery, type Wanted } from '../data/looks.ts'
import { LikeResults } from '../features/looks-like/like-results.tsx'
import { WantedPanel } from '../features/looks-like/wanted-panel.tsx'

const isBy = (text: string | null): text is LikeBy => text !== null && text in LIKE_BY

/** Brushes that look like one of them, like a picture, or like what is drawn on the spot. */
export function LooksLikeRoute() {
  const [search, change] = useAddress()
  const [picture, setPicture] = useState<Extract<Wanted, { picture: Blob }>>()
  const chosenBy = search.get('by')
  const by = isBy(chosenBy) ? chosenBy : 'mark'
  const brushId = search.get('brush')
  const wanted: Wanted | undefined = picture ?? (brushId ? { brushId } : undefined)
  const brush = useQuery(brushQuery(brushId ?? undefined))
  const likes = useQuery(likeQuery(wanted, by))
  const unmeasured = useQuery(looksQuery).data?.unmeasured ?? 0
  return (
    <div className="flex min-h-0 flex-col px-6 pb-6 pt-5 wide:h-[calc(100dvh-112px)]">
      <title>Looks like · Sort · Gentle Satchel</title>
      <PageTitle
        note={likes.data && `${plural(likes.data.likes.length, 'brush', 'brushes')}, the likest first`}
        aside={
          <Link to="/sort" className={buttonLook()}>
            <ArrowLeft size={18} aria-hidden /> Sort
          </Link>
        }
      >
        Looks like
      </PageTitle>
      <div className="grid min-h-0 flex-1 grid-cols-1 gap-5 wide:grid-cols-[280px_minmax(0,1fr)]">
        <WantedPanel
          by={by}
          brushId={picture ? undefined : (brushId ?? undefined)}
          onBy={(next) => change({ by: next === 'mark' ? undefined : next })}
          onPicture={setPicture}
        />
        <section aria-label="Brushes that look like it" className="flex min-h-0 flex-col">
          {by === 'stroke' && unmeasured > 0 && (
            <p role="status" className="mb-3 text-13 text-quiet">
              {plural(unmeasured, 'stroke')} {unmeasured === 1 ? 'is' : 'are'} not measured yet, and cannot be found by
              {unmeasured === 1 ? ' its' : ' their'} looks; that is under way.
            </p>
          )}
          {wanted === undefined ? (
            <p className="max-w-prose text-quiet">
              Choose a picture or draw one: whatever looks most like it stands here. To look for what is like a brush,
              choose it in Sort and press "Looks like".
            </p>
          ) : likes.isPending ? (
            <Loading what="what looks like it" />
          ) : likes.isError ? (
            <LoadError error={likes.error} onRetry={() => void likes.refetch()} />
          ) : (
            <LikeResults
              likes={likes.data.likes}
              by={by}
              name={`Like ${picture?.name ?? brush.data?.name ?? 'a brush'}`}
            />
          )}
        </section>
      </div>
    </div>
  )
}
