import { EndDay, LimitText, Newer } from '@satchel/core/forms/hand-out'
import * as v from 'valibot'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { SelectField, TextField } from '../../../components/field.tsx'
import { Refused, useForm } from '../../../components/form.tsx'
import { plural } from '../../../components/format.ts'
import type { HandOut, Pack } from '../../../data/packs.ts'
import type { HandOutChange } from '../../../data/people.ts'
import { EditionField } from '../edition-field.tsx'
import { givable } from './many-dialog.tsx'

const AS_IS = 'as it is'
const TermsForm = v.object({
  newer: v.union([Newer, v.literal('')]),
  releaseId: v.string(),
  editionId: v.string(),
  endsAt: EndDay,
  downloadLimit: LimitText,
})

type Props = {
  pack: Pack
  chosen: readonly HandOut[]
  open: boolean
  onClose: () => void
  onChange: (to: Omit<HandOutChange, 'id'>) => Promise<unknown>
}

/** What many hand-outs give, changed in one act: only what is filled in. */
export function TermsDialog(props: Props) {
  const { chosen, open, onClose } = props
  return (
    <Dialog
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title={`Change ${plural(chosen.length, 'hand-out')}`}
      description="What is left empty stays as it is for each."
    >
      <Fields {...props} />
    </Dialog>
  )
}

function Fields({ pack, onClose, onChange }: Props) {
  const { form, field, isSending, refused } = useForm({
    schema: TermsForm,
    first: { newer: '', releaseId: '', editionId: AS_IS, endsAt: '', downloadLimit: '' },
    async send({ newer, releaseId, editionId, endsAt, downloadLimit }) {
      await onChange({
        ...(newer === '' ? {} : { follows: newer === 'follow' }),
        ...(releaseId === '' ? {} : { releaseId }),
        ...(editionId === AS_IS ? {} : { editionId: editionId || null }),
        ...(endsAt === null ? {} : { endsAt }),
        ...(downloadLimit === null ? {} : { downloadLimit }),
      })
      onClose()
    },
  })
  const asIs = { value: '', label: 'as it is' }
  return (
    <form {...form} className="grid gap-3">
      <SelectField
        label="When a newer release is out"
        choices={[
          asIs,
          { value: 'follow', label: 'their link gives the newest one' },
          { value: 'stay', label: 'they keep the one they have' },
        ]}
        {...field('newer')}
      />
      <SelectField
        label="Release"
        choices={[asIs, ...givable(pack).map(({ id, version }) => ({ value: id, label: version }))]}
        {...field('releaseId')}
      />
      <EditionField packId={pack.id} more={[{ value: AS_IS, label: 'as it is' }]} {...field('editionId')} />
      <TextField label="Ends on" type="date" {...field('endsAt')} />
      <TextField label="Most downloads each" inputMode="numeric" {...field('downloadLimit')} />
      <Refused>{refused}</Refused>
      <Button kind="primary" type="submit" disabled={isSending}>
        Change them
      </Button>
    </form>
  )
}
