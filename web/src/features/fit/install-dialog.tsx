import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { ownSetsQuery } from '../../api/sets.ts'
import { tallyQuery } from '../../api/tally.ts'
import { Button } from '../../components/button.tsx'
import { Choices } from '../../components/controls.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { SelectField, TextField } from '../../components/field.tsx'
import { plural } from '../../components/format.ts'
import { loadBrushIds, startInstall } from './install-queries.ts'
import type { KnownDestination } from './queries.ts'

type Props = {
  destinations: readonly KnownDestination[]
  /** One brush alone, where it is meant. */
  brush?: { id: string; name: string } | undefined
  destinationId?: string | undefined
  onClose: () => void
}

/** What is to be installed where. Nothing is written into a folder yet. */
export function InstallDialog({ destinations, brush, destinationId, onClose }: Props) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const sets = useQuery(ownSetsQuery).data?.sets ?? []
  const all = useQuery(tallyQuery).data?.brushes ?? 0
  const able = destinations.filter(({ description }) => description.standIn)
  const [to, setTo] = useState(destinationId ?? able[0]?.id ?? '')
  const [what, setWhat] = useState<'brush' | 'set' | 'library'>(brush ? 'brush' : 'set')
  const [chosenSet, setChosenSet] = useState<string>()
  const set = sets.find(({ id }) => id === chosenSet) ?? sets[0]
  const counts = { brush: 1, set: set?.count ?? 0, library: all }
  const names = { brush: brush?.name ?? '', set: set?.name ?? '', library: 'Whole library' }
  const [name, setName] = useState('')
  const called = name.trim() || names[what]
  const start = useMutation({
    mutationFn: async () => {
      const brushIds = brush && what === 'brush' ? [brush.id] : await loadBrushIds(what === 'set' ? set?.id : undefined)
      return startInstall({ name: called, destinationId: to, brushIds })
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['fit', 'installs'] })
      onClose()
      await navigate('/fit/installs')
    },
  })
  const count = counts[what]
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Install"
      description="The files are written and looked through first; the folder of the app stays as it is until you put them in."
    >
      <SelectField
        label="Into"
        value={to}
        onChange={(event) => setTo(event.target.value)}
        choices={able.map(({ id, description: { name, appVersion } }) => ({
          value: id,
          label: `${name} ${appVersion}`,
        }))}
      />
      <Choices
        label="What"
        value={what}
        choices={[
          ...(brush ? [{ value: 'brush' as const, label: `"${brush.name}" alone` }] : []),
          { value: 'set', label: 'one set' },
          { value: 'library', label: 'the whole library' },
        ]}
        onChange={setWhat}
      />
      {what === 'set' && (
        <SelectField
          label="Set"
          value={set?.id ?? ''}
          onChange={(event) => setChosenSet(event.target.value)}
          choices={sets.map(({ id, name, count }) => ({ value: id, label: `${name} (${count})` }))}
        />
      )}
      <TextField
        label="What it is called, as a library there"
        value={name}
        placeholder={names[what]}
        maxLength={60}
        onChange={(event) => setName(event.target.value)}
      />
      {start.error && (
        <p role="alert" className="text-13 text-madder">
          {start.error.message}
        </p>
      )}
      <Button
        kind="primary"
        disabled={count === 0 || to === '' || called === '' || start.isPending}
        onClick={() => start.mutate()}
      >
        Write {plural(count, 'brush', 'brushes')} for{' '}
        {destinations.find(({ id }) => id === to)?.description.name ?? 'nobody'}
      </Button>
    </Dialog>
  )
}
