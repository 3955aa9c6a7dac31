import { ChevronDown, ChevronRight, MoreHorizontal } from 'lucide-react'
import { type ReactNode, useState } from 'react'
import { formatCount, plural } from '../../../components/format.ts'
import { Menu } from '../../../components/menu.tsx'
import { putInside } from '../../../data/library.ts'
import { useLibraryChange } from '../use-library-change.ts'
import { useFold } from './folders.ts'
import { RenameField } from './rename-field.tsx'

type Inner = { id: string; folder: string }
type Props<Set extends Inner> = {
  name: string
  sets: readonly Set[]
  /** The set that is open: it stays in sight, folded or not. */
  current: string | undefined
  /** Whether all that is in its sets is shown. */
  active: boolean
  onGo: (name: string) => void
  /** It is gone: its sets lie on the rack. */
  onLeave: () => void
  children: (set: Set) => ReactNode
}

/** A set that holds sets: its label opens what is in all of them, and folds them away. */
export function OuterSet<Set extends Inner>({ name, sets, current, active, onGo, onLeave, children }: Props<Set>) {
  const [isFolded, toggle] = useFold(name)
  const [renaming, setRenaming] = useState(false)
  const change = useLibraryChange()
  const Chevron = isFolded ? ChevronRight : ChevronDown
  const ids = sets.map(({ id }) => id)
  const move = (to: string, said: string) =>
    change(() => putInside(ids, to), { said, undo: () => putInside(ids, name) })
  const rename = (to: string) => {
    setRenaming(false)
    if (!to || to === name) return
    void move(to, `"${name}" is called "${to}" now.`).then((isDone) => isDone && active && onGo(to))
  }
  return (
    <li>
      <div
        className={`mb-1 flex items-center gap-1 rounded-4 pr-1 ${active ? 'bg-raised text-saddle' : 'hover:bg-surface'}`}
      >
        <button
          type="button"
          aria-expanded={!isFolded}
          aria-label={`Sets of ${name}`}
          onClick={toggle}
          className="rounded-4 p-1.5 text-quiet"
        >
          <Chevron size={16} aria-hidden className="shrink-0" />
        </button>
        {renaming ? (
          <RenameField name={name} onRename={rename} onLeave={() => setRenaming(false)} className="font-title" />
        ) : (
          <button
            type="button"
            aria-current={active ? 'page' : undefined}
            onClick={() => onGo(name)}
            onDoubleClick={() => setRenaming(true)}
            title={name}
            className="flex min-w-0 flex-1 items-center justify-between gap-2 py-1 text-left font-title"
          >
            <span className="truncate">{name}</span>
            <span className="font-sans text-12 text-quiet">{plural(sets.length, 'set')}</span>
          </button>
        )}
        <Menu
          label={`${name}: what to do`}
          trigger={
            <button
              type="button"
              aria-label={`More for ${name}`}
              className="rounded-4 p-0.5 text-quiet hover:bg-ground"
            >
              <MoreHorizontal size={18} aria-hidden />
            </button>
          }
          items={[
            { label: 'Rename', takesFocus: true, onSelect: () => setRenaming(true) },
            {
              label: `Take its ${plural(sets.length, 'set')} out`,
              onSelect: () =>
                void move('', `${formatCount(sets.length)} of "${name}" lie on the rack.`).then(
                  (isDone) => isDone && active && onLeave(),
                ),
            },
          ]}
        />
      </div>
      <ul aria-label={`Sets inside ${name}`} className="grid grid-cols-1 gap-1 pl-3">
        {sets.filter((set) => !isFolded || set.id === current).map(children)}
      </ul>
    </li>
  )
}
