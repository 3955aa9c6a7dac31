import { useQuery } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { plural } from '../../components/format.ts'
import { LoadError, Loading } from '../../components/states.tsx'
import { type Pack, setPackSets } from '../../data/packs.ts'
import { ownSetsQuery } from '../../data/sets.ts'
import { usePackChange } from './use-pack-change.ts'

/** Which sets are in the pack; the count says at every moment what would be handed on. */
export function PackSets({ pack }: { pack: Pack }) {
  const sets = useQuery(ownSetsQuery)
  const change = usePackChange()
  // ahead of the server, so that several ticks in a row add up
  const [wanted, setWanted] = useState<string[]>()
  const last = useRef<Promise<unknown>>(Promise.resolve())
  if (sets.isPending) return <Loading what="sets" />
  if (sets.isError) return <LoadError error={sets.error} onRetry={() => void sets.refetch()} />
  const chosen = wanted ?? pack.sets.map((set) => set.id)
  const toggle = async (id: string) => {
    const next = chosen.includes(id) ? chosen.filter((each) => each !== id) : [...chosen, id]
    setWanted(next)
    // ticks go one after another, each on what the one before has left
    const sent = last.current.then(() => change(() => setPackSets(pack.id, next, chosen)))
    last.current = sent
    const isSaved = await sent
    setWanted((now) => (now === next || !isSaved ? undefined : now))
  }
  return (
    <section aria-labelledby="pack-sets" className="grid content-start gap-2">
      <h2 id="pack-sets" className="font-title text-24">
        Sets
      </h2>
      <p className="text-quiet" data-testid="pack-count">
        {plural(pack.brushes, 'brush', 'brushes')} of {plural(pack.sets.length, 'set')}: exactly these go out.
      </p>
      <ul className="grid gap-1">
        {sets.data.sets.map((set) => (
          <li key={set.id}>
            <label
              className={`flex items-center gap-2.5 rounded-l-10 rounded-r-4 border px-3 py-1.5 ${chosen.includes(set.id) ? 'border-saddle bg-raised' : 'border-line bg-surface'}`}
            >
              <span className="eyelet" aria-hidden />
              <input
                type="checkbox"
                checked={chosen.includes(set.id)}
                onChange={() => void toggle(set.id)}
                className="h-4 w-4"
              />
              <span className="flex-1 truncate font-title">{set.name}</span>
              <span className="measure text-quiet">{set.count}</span>
            </label>
          </li>
        ))}
      </ul>
      {sets.data.sets.length === 0 && <p className="text-quiet">There is no set yet; make one in Sort.</p>}
    </section>
  )
}
