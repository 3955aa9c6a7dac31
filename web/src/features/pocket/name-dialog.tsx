import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { TextField } from '../../components/field.tsx'

type Props = { open: boolean; title: string; start: string; onClose: () => void; onName: (name: string) => void }

/** Asks for a pocket's name. */
export function NameDialog({ open, title, start, onClose, onName }: Props) {
  const [name, setName] = useState(start)
  const usable = name.trim() !== ''
  return (
    <Dialog open={open} onOpenChange={(on) => !on && onClose()} title={title}>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          if (!usable) return
          onName(name.trim())
          onClose()
        }}
      >
        <TextField label="Name" value={name} maxLength={120} onChange={(event) => setName(event.target.value)} />
        <Button kind="primary" type="submit" disabled={!usable}>
          {start ? 'Rename it' : 'Make the pocket'}
        </Button>
      </form>
    </Dialog>
  )
}
