import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { putInside } from '../../../data/library.ts'
import { type OwnSet, outerNames, ownSetsQuery } from '../../../data/sets.ts'
import { useLibraryChange } from '../use-library-change.ts'
import { type SetOption, SetPicker } from './set-picker.tsx'

type Props = { set: Pick<OwnSet, 'id' | 'name' | 'folder'>; onClose: () => void }

/** Which set a set is put inside: one that holds sets already, or a new one. */
export default function PutInside({ set, onClose }: Props) {
  const sets = useQuery(ownSetsQuery).data?.sets ?? []
  const [at, setAt] = useState<SetOption<string>>()
  const change = useLibraryChange()
  const outer = outerNames(sets).filter((name) => name !== set.folder)
  const optionsOf = (typed: string): SetOption<string>[] => {
    const wanted = typed.toLowerCase()
    const found = outer.filter((name) => name.toLowerCase().includes(wanted))
    const isKnown = outerNames(sets).some((name) => name.toLowerCase() === wanted)
    return [
      ...found.map((name) => ({ key: name, label: name, mark: '' as const, target: name })),
      ...(typed && !isKnown ? [{ key: 'new', label: `New: "${typed}"`, mark: '' as const, target: typed }] : []),
    ]
  }
  const put = (name: string) =>
    void change(() => putInside([set.id], name).then(onClose), {
      said: `"${set.name}" lies in "${name}" now.`,
      undo: () => putInside([set.id], set.folder),
    })
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Put ${set.name} inside …`}
      description="A set that holds sets: opened, it shows what is in all of them."
    >
      <SetPicker
        label="Find it, or name a new one"
        none="No set holds sets yet; type a name for one."
        optionsOf={optionsOf}
        onAt={setAt}
        onChoose={put}
      />
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button kind="primary" disabled={!at} onClick={() => at && put(at.target)}>
          Put it inside{at && <span className="max-w-40 truncate"> {at.target}</span>}
        </Button>
      </div>
    </Dialog>
  )
}
