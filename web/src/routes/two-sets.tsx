import { useQuery } from '@tanstack/react-query'
import { ArrowLeft, ArrowLeftRight } from 'lucide-react'
import { Link } from 'react-router'
import { Button, buttonLook } from '../components/button.tsx'
import { SelectField } from '../components/field.tsx'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { useAddress } from '../components/use-address.ts'
import { besideQuery, ownSetsQuery } from '../data/sets.ts'
import { SetParts } from '../features/two-sets/set-parts.tsx'

/** Two sets beside each other: what stands only in one, only in the other, and in both. */
export function TwoSetsRoute() {
  const [search, change] = useAddress()
  const sets = useQuery(ownSetsQuery).data?.sets ?? []
  const one = search.get('one') ?? ''
  const other = search.get('other') ?? ''
  const beside = useQuery(besideQuery(one, other))
  const choices = [{ value: '', label: 'Choose a set' }, ...sets.map(({ id, name }) => ({ value: id, label: name }))]
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Two sets · Sort · Gentle Satchel</title>
      <PageTitle
        note={beside.data && `${beside.data.one.name} and ${beside.data.other.name}`}
        aside={
          <Link to="/sort" className={buttonLook()}>
            <ArrowLeft size={18} aria-hidden /> Sort
          </Link>
        }
      >
        Two sets
      </PageTitle>
      <div className="mb-5 flex flex-wrap items-end gap-3">
        <SelectField
          label="One"
          value={one}
          choices={choices}
          onChange={({ target }) => change({ one: target.value })}
        />
        <Button
          aria-label="Exchange them"
          title="Exchange them"
          disabled={!one && !other}
          onClick={() => change({ one: other, other: one })}
        >
          <ArrowLeftRight size={18} aria-hidden />
        </Button>
        <SelectField
          label="The other"
          value={other}
          choices={choices}
          onChange={({ target }) => change({ other: target.value })}
        />
      </div>
      {one && other && beside.isPending && <Loading what="both sets" />}
      {beside.isError && <LoadError error={beside.error} onRetry={() => void beside.refetch()} />}
      {beside.data && <SetParts beside={beside.data} />}
      {(!one || !other) && <p className="text-quiet">Choose two sets, and what they have in common stands here.</p>}
    </div>
  )
}
