import { ChevronDown, ChevronRight } from 'lucide-react'
import { type ReactNode, useState } from 'react'
import { Link } from 'react-router'
import { plural } from '../../components/format.ts'
import { changePicture, type Difference } from '../../data/packs.ts'

type Two = { packId: string; from: string; to: string }
type Fact = { label: string; from: string; to: string }
type Changed = Difference['brushes']['changed'][number]

/** All that is another in one release than in the other, a part a kind; kinds without any are left out. */
export function DifferenceView({ difference, ...two }: { difference: Difference } & Two) {
  const { facts, brushes, sets, pockets, materials } = difference
  const count =
    [facts, pockets, materials, sets.new, sets.gone, ...Object.values(brushes)].reduce(
      (sum, { length }) => sum + length,
      0,
    ) + (sets.reordered ? 1 : 0)
  if (count === 0) return <p role="status">Nothing differs: they hold the same, to the last pixel.</p>
  return (
    <div className="grid gap-6">
      <Names title="New" brushes={brushes.new} />
      <Names title="Gone" brushes={brushes.gone} linked={false} />
      <Part title="Renamed" count={brushes.renamed.length}>
        {brushes.renamed.map(({ id, name, from }) => (
          <li key={id}>
            <del className="text-quiet">{from}</del> is <BrushLink id={id} name={name} /> now
          </li>
        ))}
      </Part>
      <Part title="Changed" count={brushes.changed.length}>
        {brushes.changed.map((each) => (
          <ChangedBrush key={each.id} changed={each} {...two} />
        ))}
      </Part>
      <Part title="Moved" count={brushes.moved.length}>
        {brushes.moved.map(({ id, name, from, to }) => (
          <li key={id}>
            <BrushLink id={id} name={name} />: from {from} to {to}
          </li>
        ))}
      </Part>
      <Part title="Sets" count={sets.new.length + sets.gone.length + (sets.reordered ? 1 : 0)}>
        {sets.new.map((name) => (
          <li key={`new ${name}`}>New: {name}</li>
        ))}
        {sets.gone.map((name) => (
          <li key={`gone ${name}`}>Gone: {name}</li>
        ))}
        {sets.reordered && <li>They follow one another in another order.</li>}
      </Part>
      <Part title="About the pack" count={facts.length}>
        <Facts facts={facts} />
      </Part>
      <Part title="Grains, strips and pockets" count={materials.length + pockets.length}>
        <Facts facts={[...materials, ...pockets]} />
      </Part>
    </div>
  )
}

function Part({ title, count, children }: { title: string; count: number; children: ReactNode }) {
  if (count === 0) return null
  return (
    <section aria-label={title} className="grid gap-2">
      <h2 className="font-title text-24">
        {title} <span className="measure text-quiet">{count}</span>
      </h2>
      <ul className="grid gap-1.5">{children}</ul>
    </section>
  )
}

const BrushLink = ({ id, name }: { id: string; name: string }) => (
  <Link to={`/tune/${id}`} className="font-medium underline decoration-line underline-offset-2">
    {name}
  </Link>
)

function Names({
  title,
  brushes,
  linked = true,
}: {
  title: string
  brushes: { id: string; name: string }[]
  linked?: boolean
}) {
  return (
    <Part title={title} count={brushes.length}>
      <li className="flex flex-wrap gap-x-4 gap-y-1">
        {brushes.map(({ id, name }) =>
          linked ? <BrushLink key={id} id={id} name={name} /> : <span key={id}>{name}</span>,
        )}
      </li>
    </Part>
  )
}

function Facts({ facts }: { facts: readonly Fact[] }) {
  return facts.map(({ label, from, to }) => (
    <li key={`${label} ${from}`} className="grid gap-x-3 sm:grid-cols-[160px_minmax(0,1fr)]">
      <span className="text-quiet">{label}</span>
      <span className="min-w-0 break-words">
        <del className="whitespace-pre-line text-quiet">{from}</del> <span aria-hidden>→</span>{' '}
        <ins className="whitespace-pre-line no-underline">{to}</ins>
      </span>
    </li>
  ))
}

const PICTURES = [
  { what: 'before', word: 'before' },
  { what: 'after', word: 'after' },
  { what: 'difference', word: 'where they differ' },
] as const

/** A brush that changed: what of it, and how it painted and paints; opened by itself where something of that is seen. */
function ChangedBrush({ changed, packId, from, to }: { changed: Changed } & Two) {
  const { id, name, facts, parts, pictures } = changed
  const isPainted = parts.length + pictures.length > 0
  const [open, setOpen] = useState(false)
  const labels = [...pictures, ...parts, ...facts].map(({ label }) => label)
  return (
    <li className="rounded-10 border border-line bg-surface">
      <button
        type="button"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        className="flex w-full items-center gap-2 px-3 py-2 text-left"
      >
        {open ? <ChevronDown size={18} aria-hidden /> : <ChevronRight size={18} aria-hidden />}
        <span className="font-medium">{name}</span>
        <span className="min-w-0 flex-1 truncate text-13 text-quiet">{[...new Set(labels)].join(', ')}</span>
        <span className="measure text-quiet">{plural(labels.length, 'change')}</span>
      </button>
      {open && (
        <div className="grid gap-3 border-t border-line p-3">
          {isPainted && (
            <div className="grid gap-3 sm:grid-cols-3">
              {PICTURES.map(({ what, word }) => (
                <figure key={what} className="grid gap-1">
                  <img
                    src={changePicture(packId, { from, to }, id, what)}
                    alt={`Strokes of ${name}: ${word}`}
                    width={480}
                    height={300}
                    className="w-full rounded-4 border border-line bg-[#f7f7f7]"
                  />
                  <figcaption className="text-13 text-quiet">{word}</figcaption>
                </figure>
              ))}
            </div>
          )}
          <ul className="grid gap-1.5">
            <Facts facts={[...pictures, ...parts, ...facts]} />
          </ul>
        </div>
      )}
    </li>
  )
}
