import { Link } from 'react-router'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import { toast, toastError } from '../../components/toasts.tsx'
import { addToSet, removeFromSet } from '../../data/library.ts'
import type { Beside } from '../../data/sets.ts'

type Part = Beside['both']

/** What stands only in one of two sets, only in the other, and in both; what one lacks is copied there. */
export function SetParts({ beside: { one, other, onlyOne, onlyOther, both } }: { beside: Beside }) {
  return (
    <div className="grid gap-5 wide:grid-cols-3">
      <PartList title={`Only in ${one.name}`} part={onlyOne} to={other} />
      <PartList title="In both" part={both} />
      <PartList title={`Only in ${other.name}`} part={onlyOther} to={one} />
    </div>
  )
}

/** @param to The set that lacks these. */
function PartList({ title, part, to }: { title: string; part: Part; to?: Beside['one'] }) {
  const { ids, lines } = part
  return (
    <section aria-label={title} className="min-w-0">
      <div className="mb-2 flex flex-wrap items-center justify-between gap-2">
        <h2 className="font-title text-20">{title}</h2>
        <span className="text-13 text-quiet">{plural(ids.length, 'brush', 'brushes')}</span>
      </div>
      {to && ids.length > 0 && (
        <Button onClick={() => void copyAll(ids, to)} className="mb-2">
          Copy {ids.length === 1 ? 'it' : 'all'} to {to.name}
        </Button>
      )}
      {ids.length === 0 ? (
        <p className="text-quiet">None.</p>
      ) : (
        <ul className="grid gap-1.5">
          {lines.map((line) => (
            <li key={line.id}>
              <Link
                to={`/tune/${line.id}`}
                className="grid grid-cols-[minmax(0,1fr)_150px] items-center gap-2 rounded-4 border border-line bg-surface px-2.5 py-1.5 hover:border-saddle"
              >
                <span className="truncate">{line.name}</span>
                <img
                  src={`/api/brushes/${line.id}/stroke.png?size=line&v=${line.version}-${line.revision}`}
                  alt=""
                  loading="lazy"
                  className="well h-8 w-full object-contain"
                />
              </Link>
            </li>
          ))}
        </ul>
      )}
      {ids.length > lines.length && (
        <p className="mt-2 text-13 text-quiet">
          {plural(ids.length - lines.length, 'more brush', 'more brushes')} are not shown.
        </p>
      )}
    </section>
  )
}

async function copyAll(ids: string[], to: Beside['one']) {
  try {
    await addToSet(to.id, ids)
    toast(`${plural(ids.length, 'brush', 'brushes')} copied to "${to.name}".`, {
      action: { label: 'Undo', run: () => void removeFromSet(to.id, ids).catch(toastError) },
    })
  } catch (error) {
    toastError(error)
  }
}
