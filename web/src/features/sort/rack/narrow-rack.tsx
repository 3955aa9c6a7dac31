import { useQuery } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { formatCount } from '../../../components/format.ts'
import { keptSearchesQuery } from '../../../data/kept-searches.ts'
import { setsQuery } from '../../../data/sets.ts'
import { addressOf, isSameSearch } from '../find/filter.ts'
import type { RackProps } from './rack.tsx'

const SHELVES = [
  { value: 'all', label: 'All brushes' },
  { value: 'loose', label: 'In no set' },
  { value: 'grains', label: 'Grains and strips' },
  { value: 'same', label: 'Same marks' },
  { value: 'bin', label: 'Bin' },
]

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
    else {
      const search = searches.find(({ id }) => id === value)
      if (search) void navigate(addressOf(search.filter, search.sort))
      else onGo({ setId: value, sort: 'set' })
    }
  }
  return (
    <select
      aria-label="Set"
      value={shelf === 'set' ? (current ?? '') : (kept?.id ?? shelf)}
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
      {data?.sets.map((set) => (
        <option key={set.id} value={set.id}>
          {set.name} ({formatCount(set.count)})
        </option>
      ))}
    </select>
  )
}
