import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { TextField } from '../../components/field.tsx'
import { plural } from '../../components/format.ts'
import { toTags } from './tags.ts'

/** Adds tags to many brushes, or takes them away. */
export function TagDialog({
  open,
  count,
  onClose,
  onTag,
}: {
  open: boolean
  count: number
  onClose: () => void
  onTag: (add: string[], remove: string[]) => void
}) {
  const [add, setAdd] = useState('')
  const [remove, setRemove] = useState('')
  const close = () => {
    setAdd('')
    setRemove('')
    onClose()
  }
  return (
    <Dialog open={open} onOpenChange={(now) => !now && close()} title={`Tag ${plural(count, 'brush', 'brushes')}`}>
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault()
          onTag(toTags(add), toTags(remove))
          close()
        }}
      >
        <TextField
          label="Add tags"
          hint="Several with commas between"
          value={add}
          onChange={(event) => setAdd(event.target.value)}
        />
        <TextField label="Take tags away" value={remove} onChange={(event) => setRemove(event.target.value)} />
        <div className="flex justify-end gap-2">
          <Button onClick={close}>Leave it</Button>
          <Button kind="primary" type="submit" disabled={!add.trim() && !remove.trim()}>
            Tag {plural(count, 'brush', 'brushes')}
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
