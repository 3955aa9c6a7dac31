import { type Destination, parseDestination } from '@satchel/core/destinations/destination'
import { parseJson } from '@satchel/core/formats/json'
import { useMutation, useQuery } from '@tanstack/react-query'
import { ArrowLeft, FileUp } from 'lucide-react'
import { useRef } from 'react'
import { Link, useSearchParams } from 'react-router'
import { Button, buttonLook } from '../../components/button.tsx'
import { PageTitle } from '../../components/page-title.tsx'
import { LoadError, Loading } from '../../components/states.tsx'
import { toast, toastError } from '../../components/toasts.tsx'
import { addDestination, destinationsQuery } from '../../data/fit.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { DestinationBench } from './destination-bench.tsx'

/** The painting apps that brushes can go to: those that come with the product, and the curator's own. */
export function DestinationsPage() {
  const [search, setSearch] = useSearchParams()
  const refresh = useRefresh()
  const destinations = useQuery(destinationsQuery)
  const all = destinations.data?.destinations ?? []
  const shown = all.find(({ id }) => id === search.get('id')) ?? all[0]
  const file = useRef<HTMLInputElement>(null)
  const add = useMutation({
    mutationFn: (description: Destination) => addDestination(description),
    onSuccess: async ({ id }) => {
      await refresh('fit')
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
          <DestinationBench key={shown.id} destination={shown} onCopy={(description) => add.mutate(description)} />
        </div>
      )}
    </div>
  )
}
