import { useQuery } from '@tanstack/react-query'
import { ChevronDown, ChevronUp, Plus, ScanSearch, X } from 'lucide-react'
import { type ReactNode, useRef, useState } from 'react'
import { Link } from 'react-router'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import { LoadError, Loading } from '../../components/states.tsx'
import { toast, toastError } from '../../components/toasts.tsx'
import { freezeSearch, keptSearchesQuery } from '../../data/kept-searches.ts'
import { type Pack, setPackSets, setSingle } from '../../data/packs.ts'
import { outerNames, ownSetsQuery } from '../../data/sets.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { AddSingle } from './add-single.tsx'
import { MeantFor } from './meant-for.tsx'
import { usePackChange } from './use-pack-change.ts'

/** An order that is changed ahead of the server, so that several changes in a row add up, each on what the one before has left. */
function useOrder(saved: string[], save: (next: string[], was: string[]) => Promise<unknown>) {
  const change = usePackChange()
  const [wanted, setWanted] = useState<string[]>()
  const last = useRef<Promise<unknown>>(Promise.resolve())
  const order = wanted ?? saved
  const setOrder = async (next: string[]) => {
    const was = order
    setWanted(next)
    const sent = last.current.then(() => change(() => save(next, was)))
    last.current = sent
    const isSaved = await sent
    setWanted((now) => (now === next || !isSaved ? undefined : now))
  }
  return { order, setOrder: (next: string[]) => void setOrder(next) }
}

/** What is in the pack, in its order; the count says at every moment what would be handed on. */
export function PackContents({ pack }: { pack: Pack }) {
  const single = useOrder(
    pack.single.map(({ id }) => id),
    (next, was) => setSingle(pack.id, next, was),
  )
  return (
    <section aria-labelledby="pack-contents" className="grid content-start gap-3">
      <h2 id="pack-contents" className="font-title text-24">
        What it holds
      </h2>
      <p className="measure" data-testid="pack-count">
        {plural(pack.brushes, 'brush', 'brushes')}
        {pack.single.length > 0 && `, ${pack.single.length} of them single, the others`} of{' '}
        {plural(pack.sets.length, 'set')}: exactly these go out.
      </p>
      {pack.brushes > 0 && (
        <Link to={`/hand-out/${pack.id}/brushes`} className="text-13 text-saddle underline underline-offset-2">
          All of them, and a note on each
        </Link>
      )}
      <Ordered
        {...single}
        label="Single brushes, in this order"
        nameOf={(id) => pack.single.find((each) => each.id === id)?.name}
        onTakeOut={(id) => single.setOrder(single.order.filter((each) => each !== id))}
      />
      <AddSingle taken={single.order} onAdd={(id) => single.setOrder([...single.order, id])} />
      <PackSets pack={pack} />
      <MeantFor pack={pack} />
    </section>
  )
}

function PackSets({ pack }: { pack: Pack }) {
  const sets = useQuery(ownSetsQuery)
  const chosen = useOrder(
    pack.sets.map(({ id }) => id),
    (next, was) => setPackSets(pack.id, next, was),
  )
  if (sets.isPending) return <Loading what="sets" />
  if (sets.isError) return <LoadError error={sets.error} onRetry={() => void sets.refetch()} />
  const byId = new Map(sets.data.sets.map((set) => [set.id, set]))
  const others = sets.data.sets.filter(({ id }) => !chosen.order.includes(id))
  return (
    <div className="grid gap-2">
      <Ordered
        {...chosen}
        label="Sets, in this order"
        nameOf={(id) => byId.get(id)?.name}
        noteOf={(id) => byId.get(id)?.count}
        onTakeOut={(id) => chosen.setOrder(chosen.order.filter((each) => each !== id))}
      />
      {others.length > 0 && <h3 className="text-13 font-medium text-quiet">Sets that are not in it</h3>}
      <ul className="grid gap-1">
        {outerNames(others).map((name) => {
          const inner = others.filter(({ folder }) => folder === name).map(({ id }) => id)
          // one that is left has its own line
          if (inner.length === 1) return null
          return (
            <li key={`outer ${name}`}>
              <Button
                kind="quiet"
                className="w-full !justify-start !border-line"
                onClick={() => chosen.setOrder([...chosen.order, ...inner])}
              >
                <Plus size={18} aria-hidden />
                <span className="flex-1 truncate text-left font-normal">
                  All of <span className="font-title">{name}</span>
                </span>
                <span className="text-12 text-quiet">{plural(inner.length, 'set')}</span>
              </Button>
            </li>
          )
        })}
        {others.map(({ id, name, count }) => (
          <li key={id}>
            <Button
              kind="quiet"
              className="w-full !justify-start !rounded-l-10 !border-line"
              aria-label={`Add the set ${name}, ${plural(count, 'brush', 'brushes')}`}
              onClick={() => chosen.setOrder([...chosen.order, id])}
            >
              <span className="eyelet" aria-hidden />
              <Plus size={18} aria-hidden />
              <span className="flex-1 truncate text-left font-title font-normal">{name}</span>
              <span className="measure text-quiet">{count}</span>
            </Button>
          </li>
        ))}
      </ul>
      <FreezeIntoPack onFrozen={(id) => chosen.setOrder([...chosen.order, id])} />
      {sets.data.sets.length === 0 && <p className="text-quiet">There is no set yet; make one in Sort.</p>}
    </div>
  )
}

/** A pack holds what was found when it was put in: of a kept search a set is made, which fills itself no more. */
function FreezeIntoPack({ onFrozen }: { onFrozen: (setId: string) => void }) {
  const searches = (useQuery(keptSearchesQuery).data?.searches ?? []).filter(({ count }) => count > 0)
  const refresh = useRefresh()
  const freeze = async (id: string, name: string) => {
    try {
      const set = await freezeSearch(id, name)
      await refresh('sets')
      onFrozen(set.id)
      toast(`The set "${name}" holds ${plural(set.count, 'brush', 'brushes')}, and fills itself no more.`)
    } catch (error) {
      toastError(error)
    }
  }
  if (searches.length === 0) return null
  return (
    <>
      <h3 className="text-13 font-medium text-quiet">Kept searches, as they are now</h3>
      <ul className="grid gap-1">
        {searches.map(({ id, name, count }) => (
          <li key={id}>
            <Button
              kind="quiet"
              className="w-full !justify-start !border-line"
              aria-label={`Add what ${name} finds now, ${plural(count, 'brush', 'brushes')}`}
              onClick={() => void freeze(id, name)}
            >
              <ScanSearch size={18} aria-hidden />
              <span className="flex-1 truncate text-left font-normal">{name}</span>
              <span className="measure text-quiet">{count}</span>
            </Button>
          </li>
        ))}
      </ul>
    </>
  )
}

type OrderedProps = {
  label: string
  order: string[]
  setOrder: (next: string[]) => void
  nameOf: (id: string) => string | undefined
  noteOf?: (id: string) => ReactNode
  onTakeOut: (id: string) => void
}

/** A list whose order counts: each line can go up, down, or out. */
function Ordered({ label, order, setOrder, nameOf, noteOf, onTakeOut }: OrderedProps) {
  if (order.length === 0) return null
  const swap = (at: number, to: number) => {
    const [one, other] = [order[at], order[to]]
    if (one !== undefined && other !== undefined) setOrder(order.with(at, other).with(to, one))
  }
  return (
    <div className="grid gap-1">
      <h3 className="text-13 font-medium text-quiet">{label}</h3>
      <ol aria-label={label} className="grid max-h-96 gap-1 overflow-y-auto">
        {order.map((id, at) => {
          const name = nameOf(id) ?? '…'
          return (
            <li
              key={id}
              className="flex items-center gap-1 rounded-l-10 rounded-r-4 border border-saddle bg-raised py-0.5 pl-3 pr-1"
            >
              <span className="eyelet" aria-hidden />
              <span className="ml-1.5 flex-1 truncate font-title">{name}</span>
              {noteOf && <span className="measure text-quiet">{noteOf(id)}</span>}
              <Button kind="quiet" aria-label={`${name}: earlier`} disabled={at === 0} onClick={() => swap(at, at - 1)}>
                <ChevronUp size={18} aria-hidden />
              </Button>
              <Button
                kind="quiet"
                aria-label={`${name}: later`}
                disabled={at === order.length - 1}
                onClick={() => swap(at, at + 1)}
              >
                <ChevronDown size={18} aria-hidden />
              </Button>
              <Button kind="quiet" aria-label={`Take ${name} out of the pack`} onClick={() => onTakeOut(id)}>
                <X size={18} aria-hidden />
              </Button>
            </li>
          )
        })}
      </ol>
    </div>
  )
}
