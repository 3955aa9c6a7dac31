import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import type { Brush } from '../../../data/brush.ts'
import { TipChoice } from './tip-choice.tsx'

type Props = {
  open: boolean
  onOpenChange: (open: boolean) => void
  brush: Brush
  onSwap: (tipFrom: string) => Promise<unknown>
}

/** Another tip for the same recipe. */
export function TipDialog({ open, onOpenChange, brush, onSwap }: Props) {
  const [chosen, setChosen] = useState<{ id: string; name: string }>()
  const swap = useMutation({ mutationFn: onSwap, onSuccess: () => onOpenChange(false) })
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="Swap the tip"
      description="The recipe, name, sets and pins stay. It becomes a version, so undo brings the old tip back."
    >
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          if (chosen) swap.mutate(chosen.id)
        }}
      >
        <TipChoice chosen={chosen} onChoose={setChosen} without={brush.id} />
        {swap.error && (
          <p role="alert" className="text-13 text-madder">
            {swap.error.message}
          </p>
        )}
        <Button kind="primary" type="submit" disabled={!chosen || swap.isPending}>
          {chosen ? `Take the tip of "${chosen.name}"` : 'Choose a brush first'}
        </Button>
      </form>
    </Dialog>
  )
}
