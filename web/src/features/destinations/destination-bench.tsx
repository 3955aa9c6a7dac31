import type { Destination } from '@satchel/core/destinations/destination'
import { useMutation } from '@tanstack/react-query'
import { Copy, Download, Trash2 } from 'lucide-react'
import { SaveTrouble } from '../../ahead/save-trouble.tsx'
import { Button } from '../../components/button.tsx'
import { saveFile } from '../../components/save-file.ts'
import { toastError } from '../../components/toasts.tsx'
import { dropDestination, type KnownDestination } from '../../data/fit.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { DestinationForm } from './destination-form.tsx'
import { TryPanel } from './try-panel.tsx'
import { useDestination } from './use-destination.ts'

type Props = { destination: KnownDestination; onCopy: (description: Destination) => void }

/** One destination: its description, which the curator changes where it is one of their own, tried on a brush meanwhile. */
export function DestinationBench({ destination, onCopy }: Props) {
  const refresh = useRefresh()
  const { id, isOwn, description } = destination
  const ahead = useDestination(destination)
  const draft = ahead.value
  const drop = useMutation({
    mutationFn: () => dropDestination(id),
    async onSuccess() {
      ahead.drop()
      await refresh('fit')
    },
    onError: toastError,
  })
  return (
    <div className="grid gap-6 xl:grid-cols-[minmax(0,1fr)_320px]">
      <div className="grid content-start gap-4">
        <div className="flex flex-wrap items-center gap-2">
          {isOwn && (
            <Button
              kind="primary"
              disabled={!ahead.isChanged || ahead.phase === 'saving' || ahead.phase === 'overtaken'}
              onClick={() => void ahead.save()}
            >
              Save
            </Button>
          )}
          {isOwn && ahead.isChanged && ahead.phase !== 'overtaken' && (
            <Button kind="quiet" onClick={ahead.drop}>
              Give up changes
            </Button>
          )}
          <Button onClick={() => onCopy({ ...draft, name: `${draft.name}, copied` })}>
            <Copy size={18} aria-hidden /> Copy it
          </Button>
          <Button
            onClick={() =>
              saveFile(new Blob([JSON.stringify(draft, null, 2)], { type: 'application/json' }), `${draft.name}.json`)
            }
          >
            <Download size={18} aria-hidden /> Save as JSON
          </Button>
          {isOwn && (
            <Button kind="danger" disabled={drop.isPending} onClick={() => drop.mutate()}>
              <Trash2 size={18} aria-hidden /> Take it away
            </Button>
          )}
        </div>
        <SaveTrouble what="this destination" ahead={ahead} />
        {!isOwn && (
          <p className="text-13 text-quiet">
            {description.about} It stays as it is; copy it to describe an app of your own.
          </p>
        )}
        <fieldset disabled={!isOwn} className="min-w-0">
          <DestinationForm value={draft} onChange={ahead.change} />
        </fieldset>
      </div>
      <TryPanel description={draft} />
    </div>
  )
}
