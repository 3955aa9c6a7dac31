import { useQuery } from '@tanstack/react-query'
import { useEffect, useId, useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { plural } from '../../../components/format.ts'
import { LoadError } from '../../../components/states.tsx'
import { changeLookQuery, changeMany } from '../../../data/many.ts'
import { ChangeFields } from './change-fields.tsx'
import { ChangeLookView } from './change-look.tsx'
import { CHOICES, choiceOf, type Draft, toChange } from './drafts.ts'

/** How long nothing is typed before it is worked out what that comes to. */
const STILL_MS = 300

const [FIRST] = CHOICES.flatMap(({ choices }) => choices)

type Props = {
  ids: string[]
  onClose: () => void
  /** Does it, says so, and offers the way back. */
  act: (what: () => Promise<{ id: string; said: string }>) => Promise<boolean>
}

/** Changes one thing of many brushes, and shows before what that comes to. */
export default function ChangeDialog({ ids, onClose, act }: Props) {
  const choice = useId()
  const [draft, setDraft] = useState<Draft>(FIRST?.draft ?? { kind: 'maker', maker: '' })
  const [isBusy, setBusy] = useState(false)
  const change = toChange(draft)
  const still = useStill(change, STILL_MS)
  const look = useQuery({
    ...changeLookQuery(choice, ids, still ?? { kind: 'maker', maker: '' }),
    enabled: still !== undefined,
  })
  const isKnown = still !== undefined && JSON.stringify(still) === JSON.stringify(change) && look.data !== undefined
  const count = isKnown ? look.data.changes : undefined
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      shape="wide"
      title={`Change ${plural(ids.length, 'brush', 'brushes')}`}
      description="One thing at a time, of all of them; everything else of each stays. It is one step, and can be taken back."
    >
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          if (!change || !count) return
          setBusy(true)
          void act(() => changeMany(ids, change)).then((isDone) => (isDone ? onClose() : setBusy(false)))
        }}
      >
        <div className="grid gap-3 sm:max-w-[26rem]">
          <label className="grid gap-1 text-13 font-medium text-quiet">
            What changes
            <select
              value={choiceOf(draft)}
              onChange={(event) => {
                const next = CHOICES.flatMap(({ choices }) => choices).find(({ value }) => value === event.target.value)
                if (next) setDraft(next.draft)
              }}
              className="w-full rounded-4 border border-line bg-raised px-2.5 py-1.5 text-15 font-normal text-ink"
            >
              {CHOICES.map(({ group, choices }) => (
                <optgroup key={group} label={group}>
                  {choices.map(({ value, label }) => (
                    <option key={value} value={value}>
                      {label}
                    </option>
                  ))}
                </optgroup>
              ))}
            </select>
          </label>
          <ChangeFields key={choiceOf(draft)} draft={draft} onChange={setDraft} />
        </div>
        <div className="min-h-24 border-t border-line pt-3" aria-busy={!isKnown && change !== undefined}>
          {change === undefined && <p className="text-13 text-quiet">Fill it in to see what it comes to.</p>}
          {look.isError && <LoadError error={look.error} onRetry={() => void look.refetch()} />}
          {still && look.data && <ChangeLookView look={look.data} change={still} />}
          {change !== undefined && !look.isError && !look.data && (
            <p className="text-13 text-quiet">Looking at all of them …</p>
          )}
        </div>
        <div className="flex justify-end gap-2">
          <Button kind="quiet" onClick={onClose}>
            Leave them
          </Button>
          <Button kind="primary" type="submit" disabled={isBusy || !count}>
            {isBusy ? 'Changing …' : count ? `Change ${plural(count, 'brush', 'brushes')}` : 'Change them'}
          </Button>
        </div>
      </form>
    </Dialog>
  )
}

/** A value once it has not changed for a while. */
function useStill<Value>(value: Value, ms: number): Value {
  const [still, setStill] = useState(value)
  const key = JSON.stringify(value)
  // biome-ignore lint/correctness/useExhaustiveDependencies: what it says counts, not which object says it
  useEffect(() => {
    const timer = setTimeout(() => setStill(value), ms)
    return () => clearTimeout(timer)
  }, [key, ms])
  return still
}
