import { useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { TextField } from '../../../components/field.tsx'
import type { Brush } from '../../../data/brush.ts'
import { TipChoice } from './tip-choice.tsx'

export type CopyWish = { name: string; maker: string; tipFrom?: string }

type Props = {
  open: boolean
  onOpenChange: (open: boolean) => void
  brush: Brush
  busy: boolean
  onCopy: (wish: CopyWish) => void
}

/** A copy under another name, signed, perhaps with the tip of another brush. */
export function CopyDialog({ open, onOpenChange, brush, busy, onCopy }: Props) {
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="Copy this brush"
      description="The copy keeps the whole recipe and remembers where it came from. Its history begins anew."
    >
      {open && <CopyForm brush={brush} busy={busy} onCopy={onCopy} />}
    </Dialog>
  )
}

function CopyForm({ brush, busy, onCopy }: Pick<Props, 'brush' | 'busy' | 'onCopy'>) {
  const [name, setName] = useState(`${brush.name}, copy`)
  const [maker, setMaker] = useState(brush.maker)
  const [tip, setTip] = useState<{ id: string; name: string }>()
  const empty = name.trim() === ''
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault()
        if (!empty) onCopy({ name: name.trim(), maker: maker.trim(), ...(tip ? { tipFrom: tip.id } : {}) })
      }}
    >
      <TextField
        label="Name"
        value={name}
        maxLength={120}
        error={empty ? 'A name is needed.' : undefined}
        onChange={(event) => setName(event.target.value)}
      />
      <TextField label="Signed by" value={maker} maxLength={120} onChange={(event) => setMaker(event.target.value)} />
      <TipChoice chosen={tip} onChoose={setTip} without={brush.id} />
      <Button kind="primary" type="submit" disabled={empty || busy}>
        Make the copy
      </Button>
    </form>
  )
}
