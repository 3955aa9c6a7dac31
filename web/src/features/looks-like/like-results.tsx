import { useState } from 'react'
import { Link } from 'react-router'
import { Button } from '../../components/button.tsx'
import { TextField } from '../../components/field.tsx'
import { plural } from '../../components/format.ts'
import { LikenessRing } from '../../components/likeness-ring.tsx'
import { toast, toastError } from '../../components/toasts.tsx'
import { addToSet, createSet, deleteSet } from '../../data/library.ts'
import type { Like, LikeBy } from '../../data/looks.ts'

type Props = {
  likes: readonly Like[]
  by: LikeBy
  /** What they are like, as a set of them is called. */
  name: string
}

/** What was found, the likest first; all of it, or what is like enough, becomes a set. */
export function LikeResults({ likes, by, name }: Props) {
  const [least, setLeast] = useState('')
  const shown = likes.filter(({ likeness }) => likeness >= Number(least))
  if (likes.length === 0) return <p className="text-quiet">The library has no brush to compare it with yet.</p>
  return (
    <>
      <div className="mb-3 flex flex-wrap items-end gap-3">
        <TextField
          label="At least as like, of 100"
          type="number"
          min={0}
          max={100}
          placeholder="any"
          value={least}
          onChange={({ target }) => setLeast(target.value)}
        />
        <Button disabled={shown.length === 0} onClick={() => void toSet(shown, name)}>
          Make a set of {shown.length === 1 ? 'it' : `these ${shown.length}`}
        </Button>
      </div>
      <ul className="grid min-h-0 flex-1 grid-cols-[repeat(auto-fill,minmax(230px,1fr))] content-start gap-3 overflow-auto p-0.5">
        {shown.map((like) => (
          <li key={like.id}>
            <Link
              to={`/tune/${like.id}`}
              className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-2 gap-y-1.5 rounded-10 border border-line bg-surface p-2.5 hover:border-saddle"
            >
              <img
                src={
                  by === 'mark'
                    ? `/api/brushes/${like.id}/tip.png?v=${like.revision}`
                    : `/api/brushes/${like.id}/stroke.png?size=line&v=${like.version}-${like.revision}`
                }
                alt=""
                loading="lazy"
                className={`well col-span-2 w-full object-contain ${by === 'mark' ? 'h-24' : 'h-14'}`}
              />
              <span className="truncate" title={like.name}>
                {like.name}
              </span>
              <LikenessRing score={like.likeness} />
            </Link>
          </li>
        ))}
      </ul>
    </>
  )
}

async function toSet(likes: readonly Like[], name: string) {
  try {
    const { id } = await createSet(name)
    const ids = likes.map((like) => like.id)
    await addToSet(id, ids).catch(async (error) => {
      // a set that nothing came into is not left behind
      await deleteSet(id)
      throw error
    })
    toast(`${plural(likes.length, 'brush', 'brushes')} put into the new set "${name}".`, {
      action: { label: 'Undo', run: () => void deleteSet(id).catch(toastError) },
    })
  } catch (error) {
    toastError(error)
  }
}
