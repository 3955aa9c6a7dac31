import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { Button } from '../../components/button.tsx'
import { Choices } from '../../components/controls.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { SelectField, TextField } from '../../components/field.tsx'
import { plural } from '../../components/format.ts'
import { editionsQuery } from '../../data/editions.ts'
import { countQuery, type KnownDestination } from '../../data/fit.ts'
import { type InstallSource, loadBrushIds, loadPackIds, releasesQuery, startInstall } from '../../data/installs.ts'
import { packsQuery } from '../../data/packs.ts'
import { ownSetsQuery } from '../../data/sets.ts'
import { tallyQuery } from '../../data/tally.ts'
import { useRefresh } from '../../data/use-refresh.ts'

/** Stands for every destination there is. */
const ALL = 'all'
/** Stands for the brushes of a pack as they are by now. */
const AS_IT_IS = 'now'

type Props = {
  destinations: readonly KnownDestination[]
  /** One brush alone, where it is meant. */
  brush?: { id: string; name: string } | undefined
  destinationId?: string | undefined
  onClose: () => void
}

/** What is to be installed where. Nothing is written into a folder yet. */
export function InstallDialog({ destinations, brush, destinationId, onClose }: Props) {
  const refresh = useRefresh()
  const navigate = useNavigate()
  const sets = useQuery(ownSetsQuery).data?.sets ?? []
  const all = useQuery(tallyQuery).data?.brushes ?? 0
  const [to, setTo] = useState(destinationId ?? destinations[0]?.id ?? ALL)
  const [what, setWhat] = useState<'brush' | 'set' | 'pack' | 'library'>(brush ? 'brush' : 'set')
  const [chosenSet, setChosenSet] = useState<string>()
  const set = sets.find(({ id }) => id === chosenSet) ?? sets[0]
  const packs = useQuery(packsQuery).data?.packs ?? []
  const [chosenPack, setChosenPack] = useState<string>()
  const pack = packs.find(({ id }) => id === chosenPack) ?? packs[0]
  const released = useQuery(releasesQuery(what === 'pack' ? pack?.id : undefined))
  const releases = released.data ?? []
  const [chosenRelease, setChosenRelease] = useState<string>()
  // what was released is what others have; a pack without a release is taken as it is by now
  const release =
    chosenRelease === AS_IT_IS ? undefined : (releases.find(({ id }) => id === chosenRelease) ?? releases[0])
  const editions = useQuery({ ...editionsQuery(pack?.id ?? ''), enabled: what === 'pack' && pack !== undefined }).data
    ?.editions
  const [chosenEdition, setChosenEdition] = useState<string>()
  const edition = what === 'pack' ? editions?.find(({ id }) => id === chosenEdition) : undefined
  const counts = { brush: 1, set: set?.count ?? 0, pack: release?.brushes ?? pack?.brushes ?? 0, library: all }
  const names = {
    brush: brush?.name ?? '',
    set: set?.name ?? '',
    pack: edition?.name ?? pack?.title ?? '',
    library: 'Whole library',
  }
  const [name, setName] = useState('')
  const chosen = to === ALL ? destinations : destinations.filter(({ id }) => id === to)
  const called = name.trim() || names[what]
  const sourceOf: Record<typeof what, () => Promise<InstallSource>> = {
    brush: async () => ({ brushIds: brush ? [brush.id] : [] }),
    set: async () => ({ brushIds: await loadBrushIds(set?.id ?? '') }),
    pack: async () =>
      edition
        ? { editionId: edition.id }
        : release
          ? { releaseId: release.id }
          : { brushIds: await loadPackIds(pack?.id ?? '') },
    library: async () => ({ brushIds: await loadBrushIds(undefined) }),
  }
  const source = useQuery({
    queryKey: [
      'brushes',
      'install-source',
      what,
      { brush: brush?.id, set: set?.id, pack: pack?.id, of: release?.id, edition: edition?.id },
    ],
    queryFn: sourceOf[what],
  })
  const counted = useQuery(
    countQuery(
      source.data,
      chosen.map(({ id }) => id),
    ),
  ).data
  const count = counts[what]
  const unknown = counted && count * chosen.length - counted.measured
  const start = useMutation({
    mutationFn: async () => {
      const wanted = await sourceOf[what]()
      for (const { id } of chosen) await startInstall({ name: called, destinationId: id, ...wanted })
    },
    onSuccess: async () => {
      await refresh(['fit', 'installs'])
      onClose()
      await navigate('/fit/installs')
    },
  })
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Install"
      description="The files are written first, to be looked through; no folder is changed until you put them in, or take them as a zip."
    >
      <SelectField
        label="Into"
        value={to}
        onChange={(event) => setTo(event.target.value)}
        choices={[
          ...destinations.map(({ id, description: { name, appVersion } }) => ({
            value: id,
            label: `${name} ${appVersion}`,
          })),
          { value: ALL, label: 'every destination' },
        ]}
      />
      <Choices
        label="What"
        value={what}
        choices={[
          ...(brush ? [{ value: 'brush' as const, label: `"${brush.name}" alone` }] : []),
          { value: 'set', label: 'one set' },
          ...(packs.length > 0 ? [{ value: 'pack' as const, label: 'a pack' }] : []),
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
      {what === 'pack' && (
        <SelectField
          label="Pack"
          value={pack?.id ?? ''}
          onChange={(event) => setChosenPack(event.target.value)}
          choices={packs.map(({ id, title, brushes }) => ({ value: id, label: `${title} (${brushes})` }))}
        />
      )}
      {what === 'pack' && editions && editions.length > 0 && (
        <SelectField
          label="For"
          value={edition?.id ?? ALL}
          onChange={(event) => setChosenEdition(event.target.value)}
          choices={[
            { value: ALL, label: 'everybody: all of it' },
            ...editions.map(({ id, name }) => ({ value: id, label: `${name}: what it gives now, until it ends` })),
          ]}
        />
      )}
      {what === 'pack' && !edition && releases.length > 0 && (
        <SelectField
          label="Release"
          value={release?.id ?? AS_IT_IS}
          onChange={(event) => setChosenRelease(event.target.value)}
          choices={[
            ...releases.map(({ id, version }, i) => ({
              value: id,
              label: i === 0 ? `${version}, the newest` : version,
            })),
            { value: AS_IT_IS, label: 'none: as its brushes are by now' },
          ]}
        />
      )}
      <TextField
        label="What it is called, as a library there"
        value={name}
        placeholder={names[what]}
        maxLength={60}
        onChange={(event) => setName(event.target.value)}
      />
      {counted && !edition && (
        <p className="text-13 text-quiet">
          {counted.measured > 0 && `${plural(counted.files, 'file')} of what is measured`}
          {unknown !== undefined &&
            unknown > 0 &&
            `${counted.measured > 0 ? '; how many the other' : 'How many files'} ${plural(unknown, 'fit')} make is not known yet: they are measured first`}
          {counted.measured > 0 && '. Brushes that share a grain bring its file once.'}
        </p>
      )}
      {start.error && (
        <p role="alert" className="text-13 text-madder">
          {start.error.message}
        </p>
      )}
      <Button
        kind="primary"
        disabled={
          count === 0 ||
          (what === 'pack' && !released.isSuccess) ||
          chosen.length === 0 ||
          called === '' ||
          start.isPending
        }
        onClick={() => start.mutate()}
      >
        Write {edition ? `what "${edition.name}" gives` : plural(count, 'brush', 'brushes')} for{' '}
        {chosen.length === 1 ? chosen[0]?.description.name : plural(chosen.length, 'destination')}
      </Button>
    </Dialog>
  )
}
