import { useQuery } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { formatCount } from '../../../components/format.ts'
import { keptSearchesQuery } from '../../../data/kept-searches.ts'
import { outerNames, setsQuery } from '../../../data/sets.ts'
import { addressOf, isSameSearch } from '../find/filter.ts'
import type { RackProps } from './rack.tsx'

const SHELVES = [
  { value: 'all', label: 'All brushes' },
  { value: 'loose', label: 'In no set' },
  { value: 'grains', label: 'Grains and strips' },
  { value: 'same', label: 'Same marks' },
  { value: 'bin', label: 'Bin' },
]

/** What stands before the name of a set that holds sets, where ids stand otherwise. */
const OUTER = 'outer '

/** Where there is no room for the rack: the same shelves in one list. */
export function NarrowRack({ current, shelf, filter, onGo }: RackProps) {
  const searches = useQuery(keptSearchesQuery).data?.searches ?? []
  const kept = searches.find((search) => isSameSearch(filter, search.filter))
  const { data } = useQuery(setsQuery)
  const navigate = useNavigate()
  const go = (value: string) => {
    if (value === 'grains') void navigate('/sort/grains')
    else if (value === 'same') void navigate('/sort/same')
    else if (value === 'all') onGo({})
    else if (value === 'loose') onGo({ loose: '1' })
    else if (value === 'bin') onGo({ bin: '1' })
    else if (value.startsWith(OUTER)) onGo({ inFolder: value.slice(OUTER.length) })
    else {
      const search = searches.find(({ id }) => id === value)
      if (search) void navigate(addressOf(search.filter, search.sort))
      else onGo({ setId: value, sort: 'set' })
    }
  }
  return (
    <select
      aria-label="Set"
      value={shelf === 'set' ? (current ?? '') : shelf === 'outer' ? OUTER + filter.inFolder : (kept?.id ?? shelf)}
      onChange={(event) => go(event.target.value)}
      className="mb-2 rounded-4 border border-line bg-raised px-2 py-1.5 font-title wide:hidden"
    >
      {SHELVES.map(({ value, label }) => (
        <option key={value} value={value}>
          {label}
        </option>
      ))}
      {searches.map(({ id, name, count }) => (
        <option key={id} value={id}>
          Search: {name} ({formatCount(count)})
        </option>
      ))}
      {outerNames(data?.sets ?? []).map((name) => (
        <option key={name} value={OUTER + name}>
          All sets of {name}
        </option>
      ))}
      {data?.sets.map((set) => (
        <option key={set.id} value={set.id}>
          {set.name} ({formatCount(set.count)})
        </option>
      ))}
    </select>
  )
}
