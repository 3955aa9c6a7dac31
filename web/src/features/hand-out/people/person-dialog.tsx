import { Name } from '@satchel/core/forms/names'
import { MailAddress } from '@satchel/core/people/mail-address'
import { NOTE_MAX_CHARS } from '@satchel/core/people/read-people'
import * as v from 'valibot'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { TextField } from '../../../components/field.tsx'
import { Refused, useForm } from '../../../components/form.tsx'
import { toast, toastError } from '../../../components/toasts.tsx'
import type { HandOut } from '../../../data/packs.ts'
import { changePerson } from '../../../data/people.ts'
import { useRefresh } from '../../../data/use-refresh.ts'

const PersonForm = v.object({
  name: Name,
  email: MailAddress,
  note: v.pipe(v.string(), v.trim(), v.maxLength(NOTE_MAX_CHARS, `a note may have ${NOTE_MAX_CHARS} characters`)),
})

/** What is known of somebody; changed on everything they were handed. */
export function PersonDialog({ handOut, onClose }: { handOut: HandOut | undefined; onClose: () => void }) {
  return (
    <Dialog
      open={handOut !== undefined}
      onOpenChange={(open) => !open && onClose()}
      title={handOut?.name ?? ''}
      description="The name stands on all that they were handed."
    >
      {handOut && <Fields handOut={handOut} onClose={onClose} />}
    </Dialog>
  )
}

function Fields({ handOut, onClose }: { handOut: HandOut; onClose: () => void }) {
  const refresh = useRefresh()
  const { name, email, note } = handOut
  const { form, field, isSending, refused } = useForm({
    schema: PersonForm,
    first: { name, email, note },
    async send(person) {
      const id = handOut.recipientId
      if (!id) throw new Error('This hand-out was made before there was an address book; hand out anew.')
      const { was } = await changePerson(id, person).finally(() => refresh('packs', 'pack'))
      onClose()
      const undo = () =>
        void changePerson(id, was)
          .then(() => refresh('packs', 'pack'))
          .catch(toastError)
      toast(`${person.name} is changed.`, { action: { label: 'Undo', run: undo } })
    },
  })
  return (
    <form {...form} className="grid gap-3">
      <TextField label="Name" {...field('name')} />
      <TextField label="Mail address (if any)" {...field('email')} />
      <TextField label="Note" {...field('note')} />
      <Refused>{refused}</Refused>
      <Button kind="primary" type="submit" disabled={isSending}>
        Keep it
      </Button>
    </form>
  )
}
