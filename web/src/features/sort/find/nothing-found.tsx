import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { BrushExample } from '../../../components/brush-example.tsx'
import { buttonLook } from '../../../components/button.tsx'
import { Empty } from '../../../components/states.tsx'
import type { Filter } from '../../../data/filter.ts'
import { exampleQuery } from '../../../data/starters.ts'
import { splitFilter } from './filter.ts'

export function NothingFound({ filter }: { filter: Filter }) {
  if (filter.bin) return <EmptyBin />
  const { place, search } = splitFilter(filter)
  const { setId, inFolder } = place
  if (inFolder && Object.keys(search).length === 0) return <EmptyOuterSet name={inFolder} />
  if (Object.keys(search).length > 0 || place.loose) {
    return (
      <Empty
        title="No brush is like that"
        action={
          <Link to={`/sort?${new URLSearchParams(place)}`} className={buttonLook()}>
            Show all again
          </Link>
        }
      >
        Nothing fits the search and filters above.
      </Empty>
    )
  }
  return setId ? <EmptySet /> : <EmptyLibrary />
}

function EmptyBin() {
  const example = useQuery(exampleQuery('bin'))
  return (
    <Empty
      title="The bin is empty"
      action={
        <Link to="/sort" className={buttonLook()}>
          Back to the library
        </Link>
      }
    >
      What you put away with the key Delete waits here for 30 days with all its versions, and can be brought back.
      <BrushExample brush={example.data}>
        For example a copy of "{example.data?.name}": brought back, it lies in its sets again
      </BrushExample>
    </Empty>
  )
}

function EmptyOuterSet({ name }: { name: string }) {
  return (
    <Empty
      title={`Nothing lies in "${name}"`}
      action={
        <Link to="/sort" className={buttonLook()}>
          Show all brushes
        </Link>
      }
    >
      Its sets hold no brush, or it has another name by now. A set is put inside it from its own menu on the rack.
    </Empty>
  )
}

function EmptySet() {
  const example = useQuery(exampleQuery('set'))
  return (
    <Empty
      title="An empty set"
      action={
        <Link to="/sort" className={buttonLook('primary')}>
          Choose brushes
        </Link>
      }
    >
      A set holds what is used together, and one brush may be in many. Choose some in the library and press c, or drag
      them onto this set's label.
      <BrushExample brush={example.data}>For example "{example.data?.name}", to begin a set of leaves</BrushExample>
    </Empty>
  )
}

function EmptyLibrary() {
  const example = useQuery(exampleQuery('library'))
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
      <BrushExample brush={example.data}>
        For example "{example.data?.name}", by {example.data?.maker}
      </BrushExample>
    </Empty>
  )
}
