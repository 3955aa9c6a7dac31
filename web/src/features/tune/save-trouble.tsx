import { Button } from '../../components/button.tsx'
import type { Trouble } from './edit-state.ts'

type Props = { trouble: Trouble | undefined; onTry: () => void; onSaveOnTop: () => void; onDrop: () => void }

/** Says why a change is not saved, that it is kept, and what can be done. */
export function SaveTrouble({ trouble, onTry, onSaveOnTop, onDrop }: Props) {
  if (!trouble) return null
  return (
    <div
      role="alert"
      className="mb-3 flex flex-wrap items-center gap-x-3 gap-y-2 rounded-10 border border-madder bg-raised px-3 py-2 text-13"
    >
      {trouble.kind === 'overtaken' ? (
        <>
          <p className="flex-[1_1_18rem]">
            This brush was changed elsewhere while you changed it here. Yours is kept, and not saved yet.
          </p>
          <Button kind="primary" onClick={onSaveOnTop}>
            Save mine on top
          </Button>
          <Button onClick={onDrop}>Take the other</Button>
        </>
      ) : (
        <>
          <p className="flex-[1_1_18rem]">
            {trouble.kind === 'waiting'
              ? `Not saved yet: ${trouble.sentence} Your change is kept, and saved as soon as that works.`
              : `Not saved: ${trouble.sentence} Your change is kept here.`}
          </p>
          <Button onClick={onTry}>Try now</Button>
        </>
      )}
    </div>
  )
}

/** Says that another page of this browser holds changes of this brush that could not be saved. */
export function UnsavedElsewhere() {
  return (
    <p role="status" className="mb-3 rounded-10 border border-amber bg-raised px-3 py-2 text-13">
      Another page of this browser has changes to this brush that are not saved yet. See to them there first; what is
      changed here meanwhile has to give way to them, or they to it.
    </p>
  )
}
