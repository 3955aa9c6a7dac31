import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Plus } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { TextField } from '../../components/field.tsx'
import { findBrushesQuery } from '../../data/brush.ts'

const FOUND_MAX = 8

/** Finds brushes by their words, to put them into a pack by themselves. */
export function AddSingle({ taken, onAdd }: { taken: readonly string[]; onAdd: (id: string) => void }) {
  const [typed, setTyped] = useState('')
  const q = typed.trim()
  const found = useQuery({ ...findBrushesQuery(q, FOUND_MAX), enabled: q !== '', placeholderData: keepPreviousData })
  const brushes = q === '' ? [] : (found.data?.brushes ?? []).filter(({ id }) => !taken.includes(id))
  return (
    <div className="grid gap-1">
      <TextField
        label="Add a single brush"
        placeholder="Its name, maker or a tag"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      {q !== '' && found.isSuccess && !found.isPlaceholderData && brushes.length === 0 && (
        <p role="status" className="text-13 text-quiet">
          No other brush is called that.
        </p>
      )}
      <ul className="grid gap-0.5">
        {brushes.map(({ id, name, maker }) => (
          <li key={id}>
            <Button
              kind="quiet"
              aria-label={`Add the brush ${name}${maker && `, ${maker}`}`}
              className="w-full justify-start"
              onClick={() => {
                onAdd(id)
                setTyped('')
              }}
            >
              <Plus size={18} aria-hidden /> <span className="truncate">{name}</span>
              <span className="truncate text-13 text-quiet">{maker}</span>
            </Button>
          </li>
        ))}
      </ul>
    </div>
  )
}
