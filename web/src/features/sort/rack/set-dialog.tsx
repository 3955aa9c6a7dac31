import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { plural } from '../../../components/format.ts'
import { ownSetsQuery } from '../../../data/sets.ts'

type Props = {
  open: boolean
  how: 'copy' | 'move'
  count: number
  onClose: () => void
  onChoose: (target: { id: string } | { name: string }) => void
}

/** Where the chosen brushes should go: type to find a set, or to make a new one. */
export function SetDialog({ open, how, count, onClose, onChoose }: Props) {
  const { data } = useQuery(ownSetsQuery)
  const [typed, setTyped] = useState('')
  const [at, setAt] = useState(0)
  const name = typed.trim()
  const found = (data?.sets ?? []).filter((set) => set.name.toLowerCase().includes(name.toLowerCase()))
  const exact = found.some((set) => set.name.toLowerCase() === name.toLowerCase())
  const options = [
    ...found.map((set) => ({ key: set.id, label: set.name, target: { id: set.id } })),
    ...(name && !exact ? [{ key: 'new', label: `New set "${name}"`, target: { name } }] : []),
  ]
  const choose = (index: number) => {
    const option = options[index]
    if (!option) return
    setTyped('')
    setAt(0)
    onChoose(option.target)
  }
  return (
    <Dialog
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title={`${how === 'copy' ? 'Copy' : 'Move'} ${plural(count, 'brush', 'brushes')} to a set`}
    >
      <input
        aria-label="Find a set or name a new one"
        placeholder="Find a set or name a new one"
        role="combobox"
        aria-expanded="true"
        aria-controls="set-options"
        aria-activedescendant={options[at] ? `set-option-${at}` : undefined}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value)
          setAt(0)
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') setAt(Math.min(options.length - 1, at + 1))
          else if (event.key === 'ArrowUp') setAt(Math.max(0, at - 1))
          else if (event.key === 'Enter') choose(at)
          else return
          event.preventDefault()
        }}
        className="rounded-4 border border-line bg-raised px-3 py-2"
      />
      <div id="set-options" role="listbox" aria-label="Sets" className="grid max-h-[40vh] gap-0.5 overflow-y-auto">
        {options.map((option, i) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the combobox above takes the keys
          <div
            key={option.key}
            id={`set-option-${i}`}
            role="option"
            tabIndex={-1}
            aria-selected={i === at}
            onClick={() => choose(i)}
            className={`flex items-center gap-2 rounded-4 px-3 py-1.5 font-title ${i === at ? 'bg-ground' : 'hover:bg-ground'}`}
          >
            <span className="eyelet" aria-hidden /> {option.label}
          </div>
        ))}
      </div>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button kind="primary" disabled={options.length === 0} onClick={() => choose(at)}>
          {how === 'copy' ? 'Copy' : 'Move'} {plural(count, 'brush', 'brushes')}
        </Button>
      </div>
    </Dialog>
  )
}
