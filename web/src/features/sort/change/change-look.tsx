import type { Change } from '@satchel/core/many/change'
import { plural } from '../../../components/format.ts'
import { type ChangeLook, changedStroke } from '../../../data/many.ts'

/** What a change would come to: how many change, which cannot and why, and the strokes and names of some. */
export function ChangeLookView({ look, change }: { look: ChangeLook; change: Change }) {
  // strokes in lists are shown at one size, whatever they are painted at
  const isSize = change.kind === 'number' && change.name === 'mark.sizePx'
  const shown = look.most.filter(({ isSeen }) => isSeen)
  return (
    <div className="grid gap-3">
      <div role="status">
        <ul className="grid gap-0.5 text-13">
          <li className="font-semibold">
            {look.changes === 0 ? 'Nothing would change' : `${plural(look.changes, 'brush changes', 'brushes change')}`}
            {look.held > 0 && (
              <span className="font-normal text-amber">
                ; {plural(look.held, 'is', 'are')} held at the end of what it can be
              </span>
            )}
          </li>
          {look.same > 0 && <li className="text-quiet">{plural(look.same, 'stays as it is', 'stay as they are')}</li>}
          {look.cannot.map(({ why, count, names }) => (
            <li key={why} className="text-amber">
              {count} cannot: they {why} ({names.join(', ')}
              {count > names.length ? ' …' : ''})
            </li>
          ))}
        </ul>
      </div>
      {look.names.length > 0 && (
        <section aria-label="Names" className="grid gap-1">
          <h3 className="text-13 font-medium text-quiet">Names</h3>
          <ul className="grid gap-0.5 text-13">
            {look.names.map(({ from, to }, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: two brushes may have one name
              <li key={i} className="grid grid-cols-[minmax(0,1fr)_auto_minmax(0,1fr)] gap-2">
                <span className="truncate text-quiet">{from}</span>
                <span aria-hidden>→</span>
                <span className="truncate">{to}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {shown.length > 0 && isSize && (
        <section aria-label="Sizes that change most" className="grid gap-1">
          <h3 className="text-13 font-medium text-quiet">
            {shown.length === look.changes ? 'Their sizes' : 'Those that change most'}: now, and then
          </h3>
          {shown.map(({ id, name, version, told }) => (
            <div key={id} className="grid grid-cols-[minmax(0,1fr)_minmax(0,1.4fr)_8rem] items-center gap-3 text-13">
              <span className="truncate">{name}</span>
              <img
                src={`/api/brushes/${id}/stroke.png?size=line&v=${version}`}
                alt={`The stroke of ${name}`}
                className="well h-8 w-full object-contain"
              />
              <span className="measure text-quiet">{told[0] && `${told[0].from} → ${told[0].to}`}</span>
            </div>
          ))}
        </section>
      )}
      {shown.length > 0 && !isSize && (
        <section aria-label="Strokes that change most" className="grid gap-1">
          <h3 className="text-13 font-medium text-quiet">
            {shown.length === look.changes ? 'Their strokes' : 'Those that change most'}: now, and then
          </h3>
          {shown.map(({ id, name, version, told }) => (
            <div key={id} className="grid items-center gap-x-3 gap-y-1 sm:grid-cols-[8rem_minmax(0,1fr)_minmax(0,1fr)]">
              <span className="min-w-0 text-13">
                <span className="block truncate">{name}</span>
                <span className="measure block truncate text-12 text-quiet" title={told[0]?.label}>
                  {told[0] && `${told[0].from} → ${told[0].to}`}
                </span>
              </span>
              <img
                src={`/api/brushes/${id}/stroke.png?size=line&v=${version}`}
                alt={`${name} now`}
                className="well h-12 w-full object-contain"
              />
              <img
                src={changedStroke(id, version, change)}
                alt={`${name} then`}
                className="well h-12 w-full object-contain"
              />
            </div>
          ))}
        </section>
      )}
    </div>
  )
}
