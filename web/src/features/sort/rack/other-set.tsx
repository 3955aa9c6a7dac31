import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { mergeSet, partSets } from '../../../data/library.ts'
import { ownSetsQuery } from '../../../data/sets.ts'
import { useLibraryChange } from '../use-library-change.ts'
import { type SetOption, SetPicker } from './set-picker.tsx'

export type WithAnother = 'merge' | 'compare'
type Own = { id: string; name: string }
type Props = {
  set: Own
  how: WithAnother
  onClose: () => void
  /** The set is off the rack. */
  onGone: (into: string) => void
}

/** What is done with a set and another one: all of it goes there, or both are laid beside each other. */
export default function OtherSet({ set, how, onClose, onGone }: Props) {
  const sets = useQuery(ownSetsQuery).data?.sets ?? []
  const [at, setAt] = useState<SetOption<Own>>()
  const other = at?.target
  const change = useLibraryChange()
  const navigate = useNavigate()
  const optionsOf = (typed: string): SetOption<Own>[] =>
    sets
      .filter(({ id, name }) => id !== set.id && name.toLowerCase().includes(typed.toLowerCase()))
      .map((own) => ({ key: own.id, label: own.name, mark: own.mark, target: own }))
  const go = (to: Own) => {
    if (how === 'compare') {
      onClose()
      void navigate(`/sort/sets?one=${set.id}&other=${to.id}`)
      return
    }
    let done: Awaited<ReturnType<typeof mergeSet>> | undefined
    const merge = async () => {
      done = await mergeSet(set.id, to.id)
      onClose()
      onGone(to.id)
    }
    void change(merge, {
      said: `"${set.name}" is part of "${to.name}" now.`,
      undo: async () => done && partSets(set.id, to.id, done),
    })
  }
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={how === 'merge' ? `Merge ${set.name} into …` : `Compare ${set.name} with …`}
      {...(how === 'merge'
        ? {
            description: 'Its brushes come behind those of the other set, each once; packs that hold it hold that one.',
          }
        : {})}
    >
      <SetPicker label="Find a set" optionsOf={optionsOf} onAt={setAt} onChoose={go} />
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button kind="primary" disabled={!other} onClick={() => other && go(other)}>
          {how === 'merge' ? 'Merge' : 'Compare'}
          {other && (
            <span className="max-w-40 truncate"> {how === 'merge' ? `into ${other.name}` : `with ${other.name}`}</span>
          )}
        </Button>
      </div>
    </Dialog>
  )
}
