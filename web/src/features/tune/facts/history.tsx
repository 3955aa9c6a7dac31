import { formatDistanceToNowStrict } from 'date-fns'
import { useState } from 'react'
import type { Brush } from '../../../data/brush.ts'

type Props = {
  brush: Brush
  /** The versions that are compared: one with the brush as it is now, two with each other. */
  compared: readonly number[]
  onCompare: (ordinal: number) => void
  onStop: () => void
  onGo: (ordinal: number) => void
  onLabel: (ordinal: number, label: string) => void
}

const SHOWN = 20

/** Every saved version with its stroke: name it, look at it beside another one, go back to it. */
export function History({ brush, compared, onCompare, onStop, onGo, onLabel }: Props) {
  const [all, setAll] = useState(false)
  const shown = all ? brush.versions : brush.versions.slice(0, SHOWN)
  return (
    <section>
      <h3 className="mb-1 text-13 font-medium text-quiet">History</h3>
      {compared.length > 0 && (
        <p className="mb-2 text-13" role="status">
          {compared.length === 1
            ? `Version ${compared[0]} beside the brush as it is now; choose another to compare the two.`
            : `Version ${compared[0]} beside version ${compared[1]}.`}{' '}
          <button type="button" className="text-saddle underline" onClick={onStop}>
            Stop comparing
          </button>
        </p>
      )}
      <ol className="grid gap-2">
        {shown.map(({ ordinal, createdAt, label }) => {
          const isNow = ordinal === brush.version
          return (
            <li
              key={ordinal}
              className={`grid gap-1 rounded-4 border p-1.5 ${isNow ? 'border-saddle bg-raised' : 'border-line'}`}
            >
              <img
                src={`/api/brushes/${brush.id}/stroke.png?size=version&version=${ordinal}&v=${createdAt}`}
                alt={`Stroke of version ${ordinal}`}
                loading="lazy"
                className="well h-8 w-full object-contain"
              />
              <input
                key={label}
                aria-label={`Name of version ${ordinal}`}
                placeholder={`version ${ordinal}`}
                defaultValue={label}
                maxLength={120}
                onBlur={(event) => {
                  if (event.target.value.trim() !== label) onLabel(ordinal, event.target.value.trim())
                }}
                onKeyDown={(event) => {
                  if (event.key === 'Enter') event.currentTarget.blur()
                }}
                className="w-full rounded-4 border border-transparent bg-transparent px-1 text-13 hover:border-line focus:border-line focus:bg-raised"
              />
              <p className="flex flex-wrap items-baseline gap-x-2 px-1 text-12 text-quiet">
                <span>{formatDistanceToNowStrict(new Date(createdAt), { addSuffix: true })}</span>
                {isNow ? (
                  <span className="font-semibold text-saddle">now</span>
                ) : (
                  <>
                    <button type="button" className="text-saddle underline" onClick={() => onGo(ordinal)}>
                      go back to it
                    </button>
                    <button
                      type="button"
                      aria-pressed={compared.includes(ordinal)}
                      aria-label={`Compare version ${ordinal}`}
                      className={`text-saddle underline ${compared.includes(ordinal) ? 'font-semibold' : ''}`}
                      onClick={() => onCompare(ordinal)}
                    >
                      {compared.includes(ordinal) ? 'compared' : 'compare'}
                    </button>
                  </>
                )}
              </p>
            </li>
          )
        })}
      </ol>
      {brush.versions.length > SHOWN && !all && (
        <button type="button" className="mt-2 text-13 text-saddle underline" onClick={() => setAll(true)}>
          All {brush.versions.length} versions
        </button>
      )}
    </section>
  )
}
