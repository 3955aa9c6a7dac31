import { Link } from 'react-router'
import type { Source } from '../../data/sources.ts'

/** The brushes that a source became, and whether they are as it stands now. */
export function MadeList({ source }: { source: Source }) {
  const { made, revision } = source
  return (
    <section>
      <h2 className="mb-1 text-13 font-medium text-quiet">Made of it</h2>
      {made.length === 0 ? (
        <p className="text-13 text-quiet">
          Nothing yet. What you make keeps its recipe, sets, tags and name when you make it again.
        </p>
      ) : (
        <ul className="grid max-h-64 gap-1.5 overflow-auto">
          {made.map(({ brushId, name, frames, revision: from }) => (
            <li key={brushId}>
              <Link to={`/tune/${brushId}`} className="flex items-center gap-2 hover:text-saddle">
                <span className="well grid h-11 w-11 shrink-0 place-content-center">
                  <img src={`/api/brushes/${brushId}/tip.png?at=${from}`} alt="" className="max-h-10 max-w-10" />
                </span>
                <span className="min-w-0">
                  <span className="block truncate">
                    {name}
                    {frames > 1 && <span className="measure text-quiet"> x{frames}</span>}
                  </span>
                  <span className={`block text-12 ${from === revision ? 'text-moss' : 'text-amber'}`}>
                    {from === revision ? 'as it stands' : 'changed since'}
                  </span>
                </span>
              </Link>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
