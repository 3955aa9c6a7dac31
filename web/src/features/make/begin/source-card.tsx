import { WAYS } from '@satchel/core/make/ways'
import { MoreHorizontal, Trash2, Undo2 } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { plural } from '../../../components/format.ts'
import { Menu } from '../../../components/menu.tsx'
import { previewAddress, type SourceEntry } from '../../../data/sources.ts'

const MADE_SHOWN = 6

/** What can be done with a source where it lies: on the workbench, or in the bin. */
export type SourceActs = { onBin?: (source: SourceEntry) => void; onBringBack?: (source: SourceEntry) => void }

const SAID = { coming: 'Its picture is being drawn', failed: 'Its picture could not be drawn' }

/** The picture of a source, which is drawn when it is first looked at. */
function CardPicture({ src, name }: { src: string; name: string }) {
  const [state, setState] = useState<keyof typeof SAID | 'shown'>('coming')
  return (
    <>
      {state !== 'shown' && (
        <span
          role="status"
          className="col-start-1 row-start-1 place-self-center rounded-4 bg-surface px-2 py-1 text-13 text-quiet"
        >
          {SAID[state]}
        </span>
      )}
      <img
        src={src}
        alt={state === 'shown' ? `What "${name}" is made from` : ''}
        loading="lazy"
        decoding="async"
        onLoad={() => setState('shown')}
        onError={() => setState('failed')}
        className={`col-start-1 row-start-1 max-h-44 max-w-full ${state === 'shown' ? '' : 'opacity-0'}`}
      />
    </>
  )
}

/** A source on the workbench: its picture, what was made of it, and whether something changed since. */
export function SourceCard({ source, onBin, onBringBack }: { source: SourceEntry } & SourceActs) {
  const { id, name, file, way, made, revision } = source
  const changed = made.some((each) => each.revision !== revision)
  return (
    <article className="grid grid-rows-[auto_1fr] overflow-clip rounded-10 border border-line bg-surface">
      <Link
        to={`/make/${id}`}
        className="well checker grid h-44 place-content-center overflow-clip rounded-none border-x-0 border-t-0"
      >
        <CardPicture key={previewAddress(source, 320)} src={previewAddress(source, 320)} name={name} />
      </Link>
      <div className="grid content-start gap-2 p-3">
        <div className="flex items-start gap-2">
          <div className="min-w-0 flex-1">
            <Link to={`/make/${id}`} className="block truncate font-title text-18 hover:text-saddle">
              {name}
            </Link>
            <p className="text-13 text-quiet">
              {WAYS[way].word.toLowerCase()},{' '}
              <span className="measure">
                {file.width} × {file.height}
              </span>
            </p>
          </div>
          <Menu
            label={`More about ${name}`}
            trigger={
              <button type="button" aria-label={`More about ${name}`} className="rounded-4 p-1 hover:bg-ground">
                <MoreHorizontal size={18} aria-hidden />
              </button>
            }
            items={[
              ...(onBin
                ? [
                    {
                      label: 'Put into the bin',
                      icon: <Trash2 size={18} aria-hidden />,
                      danger: true,
                      onSelect: () => onBin(source),
                    },
                  ]
                : []),
              ...(onBringBack
                ? [
                    {
                      label: 'Bring back',
                      icon: <Undo2 size={18} aria-hidden />,
                      onSelect: () => onBringBack(source),
                    },
                  ]
                : []),
            ]}
          />
        </div>
        {made.length === 0 ? (
          <p className="text-13 text-quiet">nothing made yet</p>
        ) : (
          <>
            <ul className="flex flex-wrap gap-1.5" aria-label={`Made of ${name}`}>
              {made.slice(0, MADE_SHOWN).map(({ brushId, name: brush }) => (
                <li key={brushId}>
                  <Link to={`/tune/${brushId}`} title={brush} className="well grid h-11 w-11 place-content-center">
                    <img
                      src={`/api/brushes/${brushId}/tip.png?at=${revision}`}
                      alt={brush}
                      className="max-h-10 max-w-10"
                    />
                  </Link>
                </li>
              ))}
              {made.length > MADE_SHOWN && (
                <li className="self-center text-13 text-quiet">and {made.length - MADE_SHOWN} more</li>
              )}
            </ul>
            <p className={`text-13 ${changed ? 'text-amber' : 'text-moss'}`}>
              {changed ? 'changed since it was made' : `${plural(made.length, 'brush', 'brushes')}, as it stands`}
            </p>
          </>
        )}
      </div>
    </article>
  )
}
