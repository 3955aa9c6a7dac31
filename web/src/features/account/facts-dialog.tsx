import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { TextField } from '../../components/field.tsx'
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
  const [maker, setMaker] = useState(facts.maker)
  const [licence, setLicence] = useState(facts.licence)
  const save = useMutation({
    mutationFn: () => saveFacts({ maker: maker.trim(), licence }),
    onSuccess: async (saved) => {
      client.setQueryData(factsQuery.queryKey, saved)
      onClose()
    },
  })
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        save.mutate()
      }}
    >
      <TextField label="Maker" value={maker} maxLength={120} onChange={(event) => setMaker(event.target.value)} />
      <LicenceField value={licence} licences={licences} onChange={setLicence} />
      {save.error && (
        <p role="alert" className="text-13 text-madder">
          {save.error.message}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button kind="quiet" onClick={onClose}>
          Leave it as it is
        </Button>
        <Button kind="primary" type="submit" disabled={save.isPending}>
          Keep
        </Button>
      </div>
    </form>
  )
}
