import type { ReactNode } from 'react'
import { Link } from 'react-router'

type Props = { brush: { id: string; version: number; revision: string } | null | undefined; children: ReactNode }

/** One brush with its stroke, to show what belongs in an empty place; a click paints with it. */
export function BrushExample({ brush, children }: Props) {
  if (!brush) return null
  return (
    <Link
      to={`/tune/${brush.id}`}
      className="mx-auto mt-4 grid w-fit gap-1 rounded-10 border border-line bg-surface p-3 hover:border-saddle"
    >
      <img
        src={`/api/brushes/${brush.id}/stroke.png?size=line&v=${brush.version}-${brush.revision}`}
        alt=""
        width={420}
        height={52}
        className="well max-w-full"
      />
      <span className="text-13">{children}</span>
    </Link>
  )
}
