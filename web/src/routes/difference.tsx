import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { SelectField } from '../components/field.tsx'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { useAddress } from '../components/use-address.ts'
import { differenceQuery, NOW, packQuery } from '../data/packs.ts'
import { DifferenceView } from '../features/hand-out/difference-view.tsx'

/** What is another in one release of a pack than in another, or in the pack as it is now. */
export function DifferenceRoute() {
  const { packId = '' } = useParams()
  const [params, choosePart] = useAddress()
  const pack = useQuery(packQuery(packId))
  const releases = pack.data?.releases ?? []
  const to = params.get('to') ?? NOW
  const from = params.get('from') ?? releases.find(({ id }) => id !== to)?.id ?? ''
  const difference = useQuery(differenceQuery(packId, { from, to }))
  if (pack.isPending) return <Loading what="the pack" />
  if (pack.isError) return <LoadError error={pack.error} onRetry={() => void pack.refetch()} />
  const choices = releases.map(({ id, version }) => ({ value: id, label: version }))
  const choose = (next: { from?: string; to?: string }) => choosePart({ from, to, ...next })
  return (
    <div className="px-6 pb-8 pt-5">
      <title>{`What changed in ${pack.data.title} · Gentle Satchel`}</title>
      <Link to={`/hand-out/${packId}`} className="text-13 text-saddle underline underline-offset-2">
        {pack.data.title}
      </Link>
      <PageTitle note={`between two releases of ${pack.data.title}`}>What changed</PageTitle>
      {releases.length === 0 ? (
        <p className="text-quiet">It was not released yet, so there is nothing to tell it apart from.</p>
      ) : (
        <div className="grid max-w-5xl gap-6">
          <div className="grid grid-cols-2 gap-3 sm:max-w-md">
            <SelectField
              label="From"
              value={from}
              choices={choices}
              onChange={(event) => choose({ from: event.target.value })}
            />
            <SelectField
              label="To"
              value={to}
              choices={[{ value: NOW, label: 'the pack as it is now' }, ...choices]}
              onChange={(event) => choose({ to: event.target.value })}
            />
          </div>
          {difference.isPending && <Loading what="what changed" />}
          {difference.isError && <LoadError error={difference.error} onRetry={() => void difference.refetch()} />}
          {difference.data && <DifferenceView difference={difference.data} packId={packId} from={from} to={to} />}
        </div>
      )}
    </div>
  )
}
