import { Button } from '../components/button.tsx'
import type { Ahead } from './use-ahead.ts'

type Props = {
  /** What is changed, as in "this brush". */
  what: string
  ahead: Pick<Ahead<never>, 'trouble' | 'isUnsavedElsewhere' | 'save' | 'saveOnTop' | 'drop'>
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)

/** Says why a change is not saved, that it is kept, and what can be done; or that another page has such a change. */
export function SaveTrouble({ what, ahead }: Props) {
  const { trouble, save, saveOnTop, drop } = ahead
  if (!trouble)
    return ahead.isUnsavedElsewhere ? (
      <p role="status" className="mb-3 rounded-10 border border-amber bg-raised px-3 py-2 text-13">
        Another page of this browser has changes to {what} that are not saved yet. See to them there first; what is
        changed here meanwhile has to give way to them, or they to it.
      </p>
    ) : null
  return (
    <div
      role="alert"
      className="mb-3 flex flex-wrap items-center gap-x-3 gap-y-2 rounded-10 border border-madder bg-raised px-3 py-2 text-13"
    >
      {trouble.kind === 'overtaken' ? (
        <>
          <p className="flex-[1_1_18rem]">
            {capital(what)} was changed elsewhere while you changed it here. Yours is kept, and not saved yet.
          </p>
          <Button kind="primary" onClick={() => void saveOnTop()}>
            Save mine on top
          </Button>
          <Button onClick={drop}>Take the other</Button>
        </>
      ) : (
        <>
          <p className="flex-[1_1_18rem]">
            {trouble.kind === 'waiting'
              ? `Not saved yet: ${trouble.sentence} Your change is kept, and saved as soon as that works.`
              : `Not saved: ${trouble.sentence} Your change is kept here.`}
          </p>
          <Button onClick={() => void save()}>Try now</Button>
        </>
      )}
    </div>
  )
}
