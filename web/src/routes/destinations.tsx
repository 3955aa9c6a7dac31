import { type Destination, parseDestination } from '@satchel/core/destinations/destination'
import { parseJson } from '@satchel/core/formats/json'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { ArrowLeft, Copy, Download, FileUp, Trash2 } from 'lucide-react'
import { useRef, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { Button, buttonLook } from '../components/button.tsx'
import { PageTitle } from '../components/page-title.tsx'
import { saveFile } from '../components/save-file.ts'
import { LoadError, Loading } from '../components/states.tsx'
import { toast, toastError } from '../components/toasts.tsx'
import { DestinationForm } from '../features/fit/destination-form.tsx'
import {
  addDestination,
  changeDestination,
  destinationsQuery,
  dropDestination,
  type KnownDestination,
} from '../features/fit/queries.ts'
import { TryPanel } from '../features/fit/try-panel.tsx'

/** The painting apps that brushes can go to: those that come with the product, and the curator's own. */
export function DestinationsRoute() {
  const [search, setSearch] = useSearchParams()
  const client = useQueryClient()
  const destinations = useQuery(destinationsQuery)
  const all = destinations.data?.destinations ?? []
  const shown = all.find(({ id }) => id === search.get('id')) ?? all[0]
  const file = useRef<HTMLInputElement>(null)
  const add = useMutation({
    mutationFn: (description: Destination) => addDestination(description),
    onSuccess: async ({ id }) => {
      await client.invalidateQueries({ queryKey: ['fit'] })
      setSearch({ id })
    },
    onError: toastError,
  })
  const take = async (picked: File) => {
    try {
      add.mutate(parseDestination(parseJson(await picked.text(), 'destination')))
    } catch (error) {
      const why = error instanceof Error ? error.message : String(error)
      toast(`"${picked.name}" describes no destination: ${why}`, { tone: 'bad' })
    }
  }
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Destinations · Gentle Satchel</title>
      <PageTitle
        note="what each painting app can take, and where its files go"
        aside={
          <>
            <input
              ref={file}
              type="file"
              accept="application/json"
              data-testid="choose-destination"
              className="sr-only"
              aria-label="A description as JSON"
              tabIndex={-1}
              onChange={(event) => {
                const [picked] = event.target.files ?? []
                if (picked) void take(picked)
                event.target.value = ''
              }}
            />
            <Button onClick={() => file.current?.click()}>
              <FileUp size={18} aria-hidden /> From a file
            </Button>
            <Link to="/fit" className={buttonLook()}>
              <ArrowLeft size={18} aria-hidden /> Fit
            </Link>
          </>
        }
      >
        Destinations
      </PageTitle>
      {destinations.isPending && <Loading what="destinations" />}
      {destinations.isError && <LoadError error={destinations.error} onRetry={() => void destinations.refetch()} />}
      {shown && (
        <div className="grid gap-6 wide:grid-cols-[200px_minmax(0,1fr)]">
          <nav aria-label="Destinations" className="grid content-start gap-1">
            {all.map(({ id, isOwn, description }) => (
              <button
                key={id}
                type="button"
                aria-current={id === shown.id}
                onClick={() => setSearch({ id })}
                className={`rounded-4 px-2 py-1.5 text-left leading-tight hover:bg-raised ${id === shown.id ? 'bg-raised font-semibold text-saddle' : ''}`}
              >
                {description.name} {description.appVersion}
                <span className="block text-12 font-normal text-quiet">
                  {isOwn ? 'your own' : 'comes with the product'}
                </span>
              </button>
            ))}
          </nav>
          <Shown key={shown.id} destination={shown} onCopy={(description) => add.mutate(description)} />
        </div>
      )}
    </div>
  )
}

type ShownProps = { destination: KnownDestination; onCopy: (description: Destination) => void }

function Shown({ destination, onCopy }: ShownProps) {
  const client = useQueryClient()
  const { id, isOwn } = destination
  const saved = destination.description as Destination
  const [draft, setDraft] = useState(saved)
  /** What the draft was made on. */
  const [base, setBase] = useState({ version: destination.version, description: saved })
  const isChanged = JSON.stringify(draft) !== JSON.stringify(base.description)
  const isElsewhere = destination.version !== base.version
  const take = () => {
    setBase({ version: destination.version, description: saved })
    setDraft(saved)
  }
  // saved elsewhere meanwhile: where nothing was changed here, it is simply shown
  if (isElsewhere && !isChanged) take()
  const done = () => client.invalidateQueries({ queryKey: ['fit'] })
  const save = useMutation({
    mutationFn: async () => {
      const description = { ...draft, afterCopying: draft.afterCopying.filter((step) => step.trim() !== '') }
      const { version } = await changeDestination(id, description, destination.version)
      setBase({ version, description })
      setDraft(description)
    },
    // what was refused may be another one by now
    onSettled: done,
  })
  const drop = useMutation({ mutationFn: () => dropDestination(id), onSuccess: done, onError: toastError })
  return (
    <div className="grid gap-6 xl:grid-cols-[minmax(0,1fr)_320px]">
      <div className="grid content-start gap-4">
        <div className="flex flex-wrap items-center gap-2">
          {isOwn && (
            <Button kind="primary" disabled={!isChanged || save.isPending} onClick={() => save.mutate()}>
              {isElsewhere && isChanged ? 'Save mine all the same' : 'Save'}
            </Button>
          )}
          {isOwn && isChanged && (
            <Button kind="quiet" onClick={take}>
              {isElsewhere ? 'Take what was saved elsewhere' : 'Give up changes'}
            </Button>
          )}
          <Button onClick={() => onCopy({ ...draft, name: `${draft.name}, copied` })}>
            <Copy size={18} aria-hidden /> Copy it
          </Button>
          <Button
            onClick={() =>
              saveFile(new Blob([JSON.stringify(draft, null, 2)], { type: 'application/json' }), `${draft.name}.json`)
            }
          >
            <Download size={18} aria-hidden /> Save as JSON
          </Button>
          {isOwn && (
            <Button kind="danger" disabled={drop.isPending} onClick={() => drop.mutate()}>
              <Trash2 size={18} aria-hidden /> Take it away
            </Button>
          )}
        </div>
        {isElsewhere && isChanged && !save.isPending && (
          <p role="alert" className="text-13 text-amber">
            This destination was saved elsewhere while it was changed here. Nothing of yours is lost: save it over that,
            or take what was saved.
          </p>
        )}
        {save.error && (
          <p role="alert" className="text-13 text-madder">
            {save.error.message}
          </p>
        )}
        {!isOwn && (
          <p className="text-13 text-quiet">{saved.about} It stays as it is; copy it to describe an app of your own.</p>
        )}
        <fieldset disabled={!isOwn} className="min-w-0">
          <DestinationForm value={draft} onChange={setDraft} />
        </fieldset>
      </div>
      <TryPanel description={draft} />
    </div>
  )
}
