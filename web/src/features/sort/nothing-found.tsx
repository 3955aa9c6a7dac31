import { Link } from 'react-router'
import { buttonLook } from '../../components/button.tsx'
import { Empty } from '../../components/states.tsx'
import type { Filter } from './filter.ts'

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
      Every brush you take in lies here with its stroke, to be sorted into sets.
    </Empty>
  )
}
