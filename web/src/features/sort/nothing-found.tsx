import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { setsQuery } from '../../api/sets.ts'
import { buttonLook } from '../../components/button.tsx'
import { Empty } from '../../components/states.tsx'
import type { Filter } from './filter.ts'
import { brushPageQuery } from './queries.ts'

export function NothingFound({ filter }: { filter: Filter }) {
  if (filter.bin)
    return (
      <Empty title="The bin is empty">
        Brushes you put into the bin wait here for 30 days and can be brought back.
      </Empty>
    )
  const { setId, ...others } = filter
  if (Object.keys(others).length > 0) {
    return (
      <Empty
        title="No brush is like that"
        action={
          <Link to={setId ? `/sort?setId=${setId}` : '/sort'} className={buttonLook()}>
            Show all again
          </Link>
        }
      >
        Nothing fits the search and filters above.
      </Empty>
    )
  }
  if (setId)
    return (
      <Empty title="An empty set">Choose brushes in the library and press c, or drag them onto this set's label.</Empty>
    )
  return (
    <Empty
      title="An empty library"
      action={
        <Link to="/gather" className={buttonLook('primary')}>
          Gather the first brushes
        </Link>
      }
    >
      Every brush you take in lies here with its stroke, to be sorted into sets. The starter library on the rack has
      forty to paint with until then.
      <StarterExample />
    </Empty>
  )
}

/** One brush of the starter library, to show what belongs here. */
function StarterExample() {
  const sets = useQuery(setsQuery)
  const set = sets.data?.sets.find(({ starter }) => starter)
  const page = useQuery({ ...brushPageQuery({ setId: set?.id ?? '' }, 'set', 0), enabled: set !== undefined })
  const brush = page.data?.brushes[2]
  if (!brush) return null
  return (
    <Link
      to={`/tune/${brush.id}`}
      className="mx-auto mt-4 grid w-fit gap-1 rounded-10 border border-line bg-surface p-3 hover:border-saddle"
    >
      <img
        src={`/api/brushes/${brush.id}/stroke.png?w=420&h=52&v=${brush.version}-${brush.revision}`}
        alt=""
        width={420}
        height={52}
        className="well max-w-full"
      />
      <span className="text-13">
        For example "{brush.name}", by {brush.maker}
      </span>
    </Link>
  )
}
