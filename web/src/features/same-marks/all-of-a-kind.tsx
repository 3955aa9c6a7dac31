import { SAME_KINDS, type SameKind } from '@satchel/core/same/kinds'
import { useState } from 'react'
import type { useAct } from '../../acts/use-act.ts'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { plural } from '../../components/format.ts'
import { keepBoth, keepOneOfAll } from '../../data/same-marks.ts'

type Props = { kind: SameKind; groups: number; brushes: number; doing: ReturnType<typeof useAct> }

/** What is done with all of a kind at once: what goes is said before. */
export function AllOfAKind({ kind, groups, brushes, doing: { act } }: Props) {
  const [open, setOpen] = useState(false)
  const { word, loses } = SAME_KINDS[kind]
  const count = plural(brushes, 'brush', 'brushes')
  return (
    <div className="mb-3 flex flex-wrap items-center gap-2">
      <span className="text-13 text-quiet">
        In {plural(groups, 'group')} {count} {brushes === 1 ? 'is' : 'are'} {word} as the first:
      </span>
      <Button onClick={() => setOpen(true)}>Keep the first of each</Button>
      <Button kind="quiet" onClick={() => void act(() => keepBoth({ kind }))}>
        Keep all of them
      </Button>
      <Dialog
        open={open}
        onOpenChange={setOpen}
        title={`${count} ${brushes === 1 ? 'goes' : 'go'} to the bin`}
        description={`Wherever they stand, the first of their group stands instead: in sets, pockets, packs, covers and editions, at their sources, in installs. Releases stay as they are. What goes along with each is ${loses}. It can be taken back as one step, for 30 days.`}
      >
        <div className="flex justify-end gap-2">
          <Button kind="quiet" onClick={() => setOpen(false)}>
            Keep them
          </Button>
          <Button
            kind="primary"
            onClick={() => {
              setOpen(false)
              void act(() => keepOneOfAll(kind))
            }}
          >
            Put {count} into the bin
          </Button>
        </div>
      </Dialog>
    </div>
  )
}
