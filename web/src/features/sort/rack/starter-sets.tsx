import { useQuery } from '@tanstack/react-query'
import { ChevronDown, ChevronRight } from 'lucide-react'
import { formatCount } from '../../../components/format.ts'
import { hideStarters } from '../../../data/library.ts'
import { tallyQuery } from '../../../data/tally.ts'
import { useLibraryChange } from '../use-library-change.ts'

type Props = {
  sets: readonly { id: string; name: string; count: number }[]
  current: string | undefined
  onGo: (setId: string) => void
}

/** What comes with every workspace: shown or hidden as a whole, to be copied from; no part of counts and packs. */
export function StarterSets({ sets, current, onGo }: Props) {
  const { data } = useQuery(tallyQuery)
  const change = useLibraryChange()
  const isHidden = data?.starterHidden ?? true
  const Chevron = isHidden ? ChevronRight : ChevronDown
  return (
    <section aria-label="Starter library" className="grid gap-0.5 border-b border-line pb-2">
      <button
        type="button"
        aria-expanded={!isHidden}
        onClick={() => void change(() => hideStarters(!isHidden))}
        className="flex items-center gap-1.5 rounded-4 px-2.5 py-1.5 text-left hover:bg-surface"
      >
        <span className="flex-1">Starter library</span>
        <span className="text-13 text-quiet">{isHidden ? 'show' : 'hide'}</span>
        <Chevron size={16} aria-hidden />
      </button>
      {!isHidden &&
        sets.map(({ id, name, count }) => (
          <button
            key={id}
            type="button"
            aria-current={id === current ? 'page' : undefined}
            onClick={() => onGo(id)}
            className={`flex items-center justify-between gap-2 rounded-4 py-1 pl-5 pr-2.5 text-left ${id === current ? 'bg-raised font-semibold text-saddle' : 'hover:bg-surface'}`}
          >
            <span className="truncate">{name.replace(/^Starter: /, '')}</span>
            <span className="measure text-quiet">{formatCount(count)}</span>
          </button>
        ))}
    </section>
  )
}
