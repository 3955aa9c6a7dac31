import { NewWorkspace } from '@satchel/core/forms/members'
import { Pencil } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { TextField } from '../../components/field.tsx'
import { FormEnd, useForm } from '../../components/form.tsx'
import { renameWorkspace } from '../../data/members.ts'
import { useMemberChange } from './use-member-change.ts'

/** Gives the workspace another name; who makes what is new in it stays. */
export function RenameWorkspace({ name }: { name: string }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Button kind="quiet" onClick={() => setOpen(true)}>
        <Pencil size={18} aria-hidden /> Rename the workspace
      </Button>
      {open && <RenameDialog name={name} onClose={() => setOpen(false)} />}
    </>
  )
}

function RenameDialog({ name: was, onClose }: { name: string; onClose: () => void }) {
  const change = useMemberChange()
  const { form, field, isSending, refused } = useForm({
    schema: NewWorkspace,
    first: { name: was },
    async send({ name }) {
      await renameWorkspace(name)
      onClose()
      await change(
        async () => undefined,
        `The workspace is called "${name}" now.`,
        () => renameWorkspace(was),
      )
    },
  })
  return (
    <Dialog
      open
      onOpenChange={(isOpen) => !isOpen && onClose()}
      title="Rename the workspace"
      description="Members see its name. What was released says who made it as before."
    >
      <form {...form} className="grid gap-3">
        <TextField label="Name of the workspace" {...field('name')} />
        <FormEnd refused={refused} isSending={isSending} send="Rename it" />
      </form>
    </Dialog>
  )
}
