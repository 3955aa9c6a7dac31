import { Link } from 'react-router'
import { plural } from '../../components/format.ts'
import { LikenessRing } from '../../components/likeness-ring.tsx'
import type { KnownDestination } from '../../data/fit.ts'

/** A cell as it is known: nothing said yet while it is measured. */
export type SaidCell = { said: { score: number; leftCount: number } | null }

type Props = {
  brush: { id: string; name: string; maker: string; version: number }
  destinations: readonly KnownDestination[]
  cellOf: (brushId: string, destinationId: string) => SaidCell | undefined
  onOpen: (brushId: string, destinationId: string) => void
}

/** One brush, and how it arrives everywhere. */
export function MatrixRow({ brush, destinations, cellOf, onOpen }: Props) {
  return (
    <>
      <th scope="row" className="flex min-w-0 items-center gap-3 px-2 text-left font-normal">
        <img
          src={`/api/brushes/${brush.id}/stroke.png?size=line&v=${brush.version}-0`}
          alt=""
          loading="lazy"
          className="well h-10 w-24 shrink-0 object-cover"
        />
        <span className="min-w-0 leading-tight">
          <Link to={`/tune/${brush.id}`} className="block truncate hover:text-saddle">
            {brush.name}
          </Link>
          <span className="block truncate text-12 text-quiet">{brush.maker}</span>
        </span>
      </th>
      {destinations.map(({ id, description }) => (
        <td key={id} className="px-2">
          <CellButton
            cell={cellOf(brush.id, id)}
            label={`${brush.name} in ${description.name}`}
            onOpen={() => onOpen(brush.id, id)}
          />
        </td>
      ))}
    </>
  )
}

function CellButton({ cell, label, onOpen }: { cell: SaidCell | undefined; label: string; onOpen: () => void }) {
  const said = cell?.said
  if (!said) return <span className="text-12 text-quiet">measuring</span>
  const left = said.leftCount > 0 ? `${plural(said.leftCount, 'thing')} left` : ''
  return (
    <button
      type="button"
      aria-label={`${label}: ${said.score < 0 ? 'it cannot be sent' : `likeness ${said.score.toFixed(0)}`}${left && `, ${left} behind`}`}
      onClick={onOpen}
      className="grid w-full rounded-4 px-1 py-1 text-left leading-tight hover:bg-raised"
    >
      {said.score < 0 ? <span className="text-13 text-madder">cannot go</span> : <LikenessRing score={said.score} />}
      <span className="h-4 text-12 text-quiet">{left}</span>
    </button>
  )
}
