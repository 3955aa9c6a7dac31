import type { Destination } from '@satchel/core/destinations/destination'
import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useState } from 'react'
import { SelectField } from '../../components/field.tsx'
import { LikenessRing } from '../../components/likeness-ring.tsx'
import { pageQuery, tryQuery } from '../../data/fit.ts'

/** A description, tried on a brush while it is edited. */
export function TryPanel({ description }: { description: Destination }) {
  const brushes = useQuery(pageQuery({ by: undefined, worst: false, left: false, find: '' }, 0)).data?.brushes ?? []
  const [chosen, setChosen] = useState<string>()
  const brushId = chosen ?? brushes[0]?.id
  const tried = useQuery(tryQuery(useDeferredValue(description), brushId))
  const said = tried.data?.said
  return (
    <aside className="grid content-start gap-3" aria-label="Tried on a brush">
      <SelectField
        label="Tried on"
        value={brushId ?? ''}
        choices={brushes.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(event) => setChosen(event.target.value)}
      />
      {tried.error && (
        <p role="alert" className="text-13 text-madder">
          {tried.error.message}
        </p>
      )}
      {tried.data?.sentences.map((sentence) => (
        <p key={sentence} className="text-13 text-amber">
          {sentence}
        </p>
      ))}
      {tried.data?.refused && <p className="text-13 text-madder">{tried.data.refused}</p>}
      {said && (
        <>
          <img src={`data:image/png;base64,${said.png}`} alt="The strokes that arrive" className="well h-auto w-full" />
          <LikenessRing score={said.score} />
          <p className="text-13 text-quiet">{said.files.map(({ path }) => path).join(', ')}</p>
          {[...said.approximated, ...said.left].map(({ thing, called, how }) => (
            <p key={`${thing} ${called}`} className="text-13">
              {called}
              <span className="block text-12 text-quiet">{how ?? 'left behind'}</span>
            </p>
          ))}
        </>
      )}
    </aside>
  )
}
