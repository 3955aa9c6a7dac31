import { useMutation, useQuery } from '@tanstack/react-query'
import { Lightbulb } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button, buttonLook } from '../../components/button.tsx'
import { Choices } from '../../components/controls.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { LikenessRing } from '../../components/likeness-ring.tsx'
import { LoadError, Loading } from '../../components/states.tsx'
import { toastError } from '../../components/toasts.tsx'
import { betterQuery, type Cell, cellPicture, cellQuery, type KnownDestination, saveChoices } from '../../data/fit.ts'
import { useRefresh } from '../../data/use-refresh.ts'

type Props = {
  brushId: string
  destination: KnownDestination
  onClose: () => void
  /** Installs this brush alone. */
  onInstall: (name: string) => void
}

/** How one brush arrives at one destination: the same strokes before and after, what is kept, and what else could be done. */
export function CellDialog({ brushId, destination, onClose, onInstall }: Props) {
  const cell = useQuery(cellQuery(brushId, destination.id))
  const { name } = destination.description
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={`${cell.data?.name ?? 'A brush'} in ${name}`}
      description={
        destination.description.standIn
          ? `Written, read back by the simulated ${name}, and painted by it.`
          : `As the description says that ${name} would paint it.`
      }
      shape="wide"
    >
      {cell.isPending && <Loading what="the likeness" />}
      {cell.isError && <LoadError error={cell.error} onRetry={() => void cell.refetch()} />}
      {cell.data && <CellBody cell={cell.data} brushId={brushId} destination={destination} />}
      {cell.data && (
        <div className="flex flex-wrap gap-2">
          <Button onClick={() => onInstall(cell.data.name)}>Install this brush</Button>
          <Link to={`/fit/trace?brush=${brushId}`} className={buttonLook()}>
            Trace it
          </Link>
        </div>
      )}
    </Dialog>
  )
}

type BodyProps = { cell: Cell; brushId: string; destination: KnownDestination }

function CellBody({ cell, brushId, destination }: BodyProps) {
  const { result } = cell
  if ('refused' in result) return <p className="text-madder">It cannot be sent there: {result.refused}</p>
  return (
    <>
      <Pictures cell={cell} brushId={brushId} destinationId={destination.id} />
      <p className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <LikenessRing score={cell.score} />
        <span className="text-13 text-quiet">
          structure <span className="measure">{result.ssim.toFixed(2)}</span>, colour difference{' '}
          <span className="measure">{result.deltaE.toFixed(1)}</span>
        </span>
        <span className="text-13 text-quiet">{result.files.map(({ path }) => path).join(', ')}</span>
      </p>
      {result.ignored.length > 0 && (
        <p role="alert" className="text-13 text-madder">
          {result.ignored.map(({ path, why }) => `${path}: ${why}`).join('; ')}
        </p>
      )}
      <div className="grid gap-4 sm:grid-cols-3">
        <Carried title="Kept" none="Nothing that it uses is kept." items={result.kept} />
        <Carried title="Approximated" none="Nothing has to be." items={result.approximated} />
        <Carried title="Left behind" none="Nothing is." items={result.left} />
      </div>
      <Better key={cell.key} cell={cell} brushId={brushId} destination={destination} />
      <OtherWays cell={cell} brushId={brushId} destination={destination} />
    </>
  )
}

const SHOWN = { before: 'before', after: 'after', difference: 'where they differ' } as const

function Pictures({ cell, brushId, destinationId }: { cell: Cell; brushId: string; destinationId: string }) {
  return (
    <div className="grid gap-3 sm:grid-cols-3">
      {(Object.keys(SHOWN) as (keyof typeof SHOWN)[]).map((what) => (
        <figure key={what} className="grid gap-1">
          <img
            src={cellPicture(brushId, destinationId, what, cell.key)}
            alt={`The strokes ${SHOWN[what]}`}
            width={480}
            height={300}
            className="well h-auto w-full"
          />
          <figcaption className="text-12 text-quiet">{SHOWN[what]}</figcaption>
        </figure>
      ))}
    </div>
  )
}

type Item = { thing: string; called: string; how?: string | undefined }

function Carried({ title, none, items }: { title: string; none: string; items: readonly Item[] }) {
  return (
    <section>
      <h3 className="mb-1 text-13 font-semibold">
        {title} {items.length > 0 && <span className="measure text-quiet">{items.length}</span>}
      </h3>
      {items.length === 0 && <p className="text-13 text-quiet">{none}</p>}
      <ul className="grid gap-1 text-13">
        {items.map(({ thing, called, how }) => (
          <li key={`${thing} ${called}`}>
            {called}
            {how && <span className="block text-12 text-quiet">{how}</span>}
          </li>
        ))}
      </ul>
    </section>
  )
}

/** What it could do without: measured only when somebody asks. */
function Better({ cell, brushId, destination }: BodyProps) {
  const [isAsked, setAsked] = useState(false)
  const better = useQuery({ ...betterQuery(brushId, destination.id, cell.key), enabled: isAsked })
  if ('refused' in cell.result || cell.result.approximated.length + cell.result.left.length === 0) return null
  if (!isAsked)
    return (
      <Button className="justify-self-start" onClick={() => setAsked(true)}>
        <Lightbulb size={18} aria-hidden /> What would make it better?
      </Button>
    )
  return (
    <section className="grid gap-1">
      <h3 className="text-13 font-semibold">What would make it better</h3>
      {better.isPending && <Loading what="what it could do without" />}
      {better.isError && <LoadError error={better.error} onRetry={() => void better.refetch()} />}
      {better.data && 'refused' in better.data && <p className="text-13 text-madder">{better.data.refused}</p>}
      {better.data && 'improvements' in better.data && (
        <ul className="grid gap-1 text-13">
          {better.data.improvements.length === 0 && (
            <li className="text-quiet">Nothing that it does without makes it arrive better.</li>
          )}
          {better.data.improvements.map(({ thing, called, score }) => (
            <li key={thing}>
              A copy without {called} would arrive with <span className="measure">{score.toFixed(0)}</span> instead of{' '}
              <span className="measure">{cell.score.toFixed(0)}</span>.
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

type Scope = 'brush' | 'set' | 'all'

/** Questions with more than one answer: likeness has picked one, and the curator may pick another. */
function OtherWays({ cell, brushId, destination }: BodyProps) {
  const refresh = useRefresh()
  const [scope, setScope] = useState<Scope>('brush')
  const { result, answers } = cell
  const { set } = answers
  const at = { brush: { brushId }, set: set ? { setId: set.id } : {}, all: {} }[scope]
  const save = useMutation({
    mutationFn: (choices: Record<string, string>) => saveChoices({ destinationId: destination.id, ...at, choices }),
    onSuccess: () => refresh('fit'),
    onError: toastError,
  })
  if ('refused' in result) return null
  const open = result.ways.filter(({ options }) => options.length > 1)
  if (open.length === 0) return <p className="text-13 text-quiet">There is one way to send it, and this is it.</p>
  const own = answers.of[scope] as Record<string, string>
  const scoreOf = (way: string, value: string) =>
    result.tried.find((each) => each.way === way && each.value === value)?.score
  return (
    <section className="grid gap-3">
      <h3 className="text-13 font-semibold">Other ways</h3>
      {open.map(({ name, called, options, chosen }) => (
        <Choices
          key={name}
          label={called}
          value={chosen}
          choices={options.map(({ value, label }) => {
            const score = scoreOf(name, value)
            return { value, label: score === undefined ? label : `${label} (${score.toFixed(0)})` }
          })}
          onChange={(value) => save.mutate({ ...own, [name]: value })}
        />
      ))}
      <Choices
        label="What is chosen goes for"
        value={scope}
        choices={[
          { value: 'brush', label: 'this brush' },
          ...(set ? [{ value: 'set' as const, label: `the set ${set.name}` }] : []),
          { value: 'all', label: `every brush that goes to ${destination.description.name}` },
        ]}
        onChange={setScope}
      />
      {Object.keys(own).length > 0 && (
        <Button kind="quiet" className="justify-self-start" onClick={() => save.mutate({})}>
          Let likeness choose again
        </Button>
      )}
    </section>
  )
}
