import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { plural } from '../../../components/format.ts'
import { ownSetsQuery } from '../../../data/sets.ts'
import { type SetOption, SetPicker } from './set-picker.tsx'

type Target = { id: string } | { name: string }
type Props = {
  how: 'copy' | 'move'
  count: number
  onClose: () => void
  onChoose: (target: Target) => void
}

/** Where the chosen brushes should go: type to find a set, or to make a new one. */
export default function SetDialog({ how, count, onClose, onChoose }: Props) {
  const sets = useQuery(ownSetsQuery).data?.sets ?? []
  const [at, setAt] = useState<SetOption<Target>>()
  const optionsOf = (name: string): SetOption<Target>[] => {
    const found = sets.filter((set) => set.name.toLowerCase().includes(name.toLowerCase()))
    const exact = found.some((set) => set.name.toLowerCase() === name.toLowerCase())
    return [
      ...found.map((set) => ({ key: set.id, label: set.name, mark: set.mark, target: { id: set.id } })),
      ...(name && !exact ? [{ key: 'new', label: `New set "${name}"`, mark: '' as const, target: { name } }] : []),
    ]
  }
  return (
    <Dialog
      open
      onOpenChange={(now) => !now && onClose()}
      title={`${how === 'copy' ? 'Copy' : 'Move'} ${plural(count, 'brush', 'brushes')} to a set`}
    >
      <SetPicker label="Find a set or name a new one" optionsOf={optionsOf} onAt={setAt} onChoose={onChoose} />
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button kind="primary" disabled={!at} onClick={() => at && onChoose(at.target)}>
          {how === 'copy' ? 'Copy' : 'Move'} {plural(count, 'brush', 'brushes')}
        </Button>
      </div>
    </Dialog>
  )
}
