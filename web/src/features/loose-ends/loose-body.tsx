import { useMutation } from '@tanstack/react-query'
import { Wrench } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import { Empty } from '../../components/states.tsx'
import { toast, toastError } from '../../components/toasts.tsx'
import type { LooseEnds, Mending } from '../../data/loose-ends.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { LooseList } from './loose-list.tsx'
import { RenameRuleForm } from './rename-rule.tsx'

/** How many lead nowhere, and of how many the mend is sure. */
export function noteOf({ ends, brushes }: LooseEnds, sure: number): string {
  if (ends.length === 0) return `${plural(brushes, 'brush', 'brushes')}, none of them broken`
  return `${plural(ends.length, 'reference leads', 'references lead')} nowhere; ${sure} ${sure === 1 ? 'mend is' : 'mends are'} sure`
}

type Props = {
  loose: LooseEnds
  sure: number
  /** What is said where there are none. */
  none: string
  onMend: (mending: Mending) => Promise<{ id: string; mended: number }>
  onUndo: (id: string) => Promise<{ stayed: string[] }>
}

/** Loose ends with what may be meant, one press for all sure ones, a rule for many, and the way back. */
export function LooseBody({ loose: { ends, rules, paths, mends }, sure, none, onMend, onUndo }: Props) {
  const ask = useRefresh()
  const [chosen, setChosen] = useState<ReadonlyMap<string, string>>(new Map())
  const refresh = () => ask('fit', 'gather', 'tally')
  const undo = useMutation({
    mutationFn: onUndo,
    onSuccess: ({ stayed }) =>
      toast(
        stayed.length === 0
          ? 'As it was before.'
          : `As it was before, but for ${stayed.slice(0, 3).join(', ')}${stayed.length > 3 ? ` and ${stayed.length - 3} more` : ''}: somebody has changed them since.`,
      ),
    onError: toastError,
    onSettled: refresh,
  })
  const mend = useMutation({
    mutationFn: onMend,
    onSuccess: ({ id, mended }) => {
      setChosen(new Map())
      toast(`${plural(mended, 'reference')} mended.`, { action: { label: 'Undo', run: () => undo.mutate(id) } })
    },
    onError: toastError,
    onSettled: refresh,
  })
  const isBusy = mend.isPending || undo.isPending
  const picked = [...chosen].filter(([, path]) => path !== '').map(([key, path]) => ({ key, path }))
  return (
    <>
      {ends.length === 0 ? (
        <Empty title="No loose ends">{none}</Empty>
      ) : (
        <>
          <div className="mb-4 flex flex-wrap gap-2">
            {sure > 0 && (
              <Button kind="primary" disabled={isBusy} onClick={() => mend.mutate({ sure: true })}>
                <Wrench size={18} aria-hidden /> Mend all {sure.toLocaleString('en')} sure ones
              </Button>
            )}
            {picked.length > 0 && (
              <Button disabled={isBusy} onClick={() => mend.mutate({ chosen: picked })}>
                Mend the {picked.length.toLocaleString('en')} chosen
              </Button>
            )}
          </div>
          <RenameRuleForm
            {...{ ends, paths, isBusy }}
            suggested={rules[0]}
            onMend={({ from, to }) => mend.mutate({ rule: { from, to } })}
          />
          <LooseList
            // what nobody can be sure of comes first: it waits for the curator
            ends={[...ends].sort((a, b) => Number(a.isSure) - Number(b.isSure))}
            chosen={chosen}
            onChoose={(key, path) => setChosen(new Map(chosen).set(key, path))}
          />
        </>
      )}
      {mends.length > 0 && (
        <section aria-label="Mended before" className="mt-6">
          <h2 className="mb-1 text-13 text-quiet">Mended before</h2>
          <ul className="grid gap-1 text-13">
            {mends.map(({ id, ends: count, createdAt }) => (
              <li key={id} className="flex items-center gap-3">
                {plural(count, 'reference')}, {new Date(createdAt).toLocaleString('en')}
                <button
                  type="button"
                  disabled={isBusy}
                  onClick={() => undo.mutate(id)}
                  className="text-saddle underline disabled:opacity-50"
                >
                  Undo
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  )
}
