import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useId, useState } from 'react'
import { BehaviourMark } from '../../../components/behaviour-mark.tsx'
import { TextField } from '../../../components/field.tsx'
import { findBrushesQuery } from '../../../data/brush.ts'

const FOUND_MAX = 8

type Chosen = { id: string; name: string }
type Props = {
  /** The brush whose tip is taken; undefined for the brush's own. */
  chosen: Chosen | undefined
  onChoose: (chosen: Chosen | undefined) => void
  /** The brush itself, whose own tip is no other one. */
  without?: string
  /** What there is where none is chosen. */
  own?: string
}

/** Finds another brush whose tip may be taken. */
export function TipChoice({ chosen, onChoose, without, own = 'its own tip' }: Props) {
  const [find, setFind] = useState('')
  const found = useQuery({ ...findBrushesQuery(find, FOUND_MAX), placeholderData: keepPreviousData })
  const group = useId()
  const others = (found.data?.brushes ?? []).filter(({ id }) => id !== without)
  return (
    <fieldset className="grid gap-2">
      <legend className="text-13 font-medium text-quiet">Tip</legend>
      <TextField
        label="Take the tip of another brush"
        placeholder="find a brush"
        value={find}
        onChange={(event) => setFind(event.target.value)}
      />
      <ul className="grid max-h-56 gap-1 overflow-y-auto">
        {[{ id: '', name: own, revision: '', behaviour: 'paint' }, ...others].map((each) => (
          <li key={each.id}>
            <label className="flex items-center gap-2">
              <input
                type="radio"
                name={group}
                checked={(chosen?.id ?? '') === each.id}
                onChange={() => onChoose(each.id ? each : undefined)}
              />
              {each.id && (
                <img
                  src={`/api/brushes/${each.id}/tip.png?v=${each.revision}`}
                  alt=""
                  className="well h-8 w-8 object-contain"
                />
              )}
              {each.name}
              <span className="text-13 text-quiet">
                <BehaviourMark behaviour={each.behaviour} />
              </span>
            </label>
          </li>
        ))}
      </ul>
      {find && others.length === 0 && found.isSuccess && <p className="text-13 text-quiet">No brush is called so.</p>}
    </fieldset>
  )
}
