import { Day } from '@satchel/core/editions/moments'
import { Name } from '@satchel/core/forms/names'
import * as v from 'valibot'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { TextField } from '../../../components/field.tsx'
import { Refused, useForm } from '../../../components/form.tsx'

const TermForm = v.object({ name: Name, firstDay: Day })

type Props = {
  name: string
  /** The day that is proposed. */
  first: string
  onClose: () => void
  onMake: (name: string, firstDay: string) => Promise<unknown>
}

/** The same class once more, with its days moved. */
export function NextTermDialog({ name, first, onClose, onMake }: Props) {
  const { form, field, isSending, refused } = useForm({
    schema: TermForm,
    first: { name: `${name}, next term`, firstDay: first },
    async send(values) {
      await onMake(values.name, values.firstDay)
      onClose()
    },
  })
  return (
    <Dialog
      open
      onOpenChange={(now) => !now && onClose()}
      title={`${name}, once more`}
      description="All lessons move by as many days, and stay at the same time of the day, over summer time too."
    >
      <form {...form} className="grid gap-3">
        <TextField label="Name" {...field('name')} />
        <TextField label="First lesson on" type="date" {...field('firstDay')} />
        <Refused>{refused}</Refused>
        <Button kind="primary" type="submit" disabled={isSending}>
          Make the kit
        </Button>
      </form>
    </Dialog>
  )
}
