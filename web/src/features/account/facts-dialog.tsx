import { Facts } from '@satchel/core/forms/account'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useController } from 'react-hook-form'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { TextField } from '../../components/field.tsx'
import { Refused, useForm } from '../../components/form.tsx'
import { LicenceField } from '../../components/licence-field.tsx'
import { LoadError, Loading } from '../../components/states.tsx'
import { factsQuery, saveFacts, type WorkspaceFacts } from '../../data/account.ts'
import { licencesQuery } from '../../data/licences.ts'

/** Who makes what is made in a workspace, and how it is given away. */
export function FactsDialog({ workspace, onClose }: { workspace: string; onClose: () => void }) {
  const facts = useQuery(factsQuery)
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Maker and licence"
      description={`What is made or gathered in ${workspace} from now on says this, where its file says nothing itself. What is there already stays as it is; packs of others keep their own.`}
    >
      {facts.isPending && <Loading what="maker and licence" />}
      {facts.isError && <LoadError error={facts.error} onRetry={() => void facts.refetch()} />}
      {facts.data && <FactsForm facts={facts.data} onClose={onClose} />}
    </Dialog>
  )
}

function FactsForm({ facts, onClose }: { facts: WorkspaceFacts; onClose: () => void }) {
  const client = useQueryClient()
  const licences = useQuery(licencesQuery).data
  const { form, field, control, isSending, refused } = useForm({
    schema: Facts,
    first: facts,
    async send(changed) {
      client.setQueryData(factsQuery.queryKey, await saveFacts(changed))
      onClose()
    },
  })
  const licence = useController({ control, name: 'licence' }).field
  return (
    <form {...form} className="grid gap-3">
      <TextField label="Maker" {...field('maker')} />
      <LicenceField value={licence.value} licences={licences} onChange={licence.onChange} />
      <Refused>{refused}</Refused>
      <div className="flex justify-end gap-2">
        <Button kind="quiet" onClick={onClose}>
          Leave it as it is
        </Button>
        <Button kind="primary" type="submit" disabled={isSending}>
          Keep
        </Button>
      </div>
    </form>
  )
}
