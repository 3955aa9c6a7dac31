import { NewWorkspace } from '@satchel/core/forms/members'
import { Dialog } from '../../components/dialog.tsx'
import { TextField } from '../../components/field.tsx'
import { FormEnd, useForm } from '../../components/form.tsx'
import { makeWorkspace } from '../../data/members.ts'

/** Makes another workspace, with a library of its own, and goes there. */
export function NewWorkspaceDialog({ onClose }: { onClose: () => void }) {
  const { form, field, isSending, refused } = useForm({
    schema: NewWorkspace,
    first: { name: '' },
    async send({ name }) {
      await makeWorkspace(name)
      window.location.assign('/sort')
    },
  })
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Another workspace"
      description="It has a library, packs and members of its own, and you own it."
    >
      <form {...form} className="grid gap-3">
        <TextField label="Name of the workspace" hint="A studio, a class, or simply you." {...field('name')} />
        <FormEnd refused={refused} isSending={isSending} send="Make it and go there" sending="Making it …" />
      </form>
    </Dialog>
  )
}
