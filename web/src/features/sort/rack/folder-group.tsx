import { ChevronDown, ChevronRight } from 'lucide-react'
import type { ReactNode } from 'react'
import { formatCount } from '../../../components/format.ts'
import { useFold } from './folders.ts'

type Grouped = { id: string; folder: string }
type Props<InFolder extends Grouped> = {
  folder: string
  sets: readonly InFolder[]
  /** The set that is open: it stays in sight, folded or not. */
  current: string | undefined
  children: (set: InFolder) => ReactNode
}

/** The sets of one folder under its name, which folds them away. */
export function FolderGroup<InFolder extends Grouped>({ folder, sets, current, children }: Props<InFolder>) {
  const [isFolded, toggle] = useFold(folder)
  if (folder === '') return sets.map(children)
  const Chevron = isFolded ? ChevronRight : ChevronDown
  return (
    <li>
      <button
        type="button"
        aria-expanded={!isFolded}
        onClick={toggle}
        className="flex w-full items-center gap-1.5 rounded-4 px-1 py-1 text-left text-13 text-quiet hover:bg-surface"
      >
        <Chevron size={16} aria-hidden className="shrink-0" />
        <span className="min-w-0 flex-1 truncate" title={folder}>
          {folder}
        </span>
        <span className="measure">{formatCount(sets.length)}</span>
      </button>
      <ul aria-label={`Sets of ${folder}`} className="grid gap-1 pl-3">
        {sets.filter((set) => !isFolded || set.id === current).map(children)}
      </ul>
    </li>
  )
}
