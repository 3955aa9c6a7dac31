import { useId, useState } from 'react'
import { SelectField, TextField } from './field.tsx'

type Licence = { id: string; name: string }
type Props = {
  /** An SPDX name; empty where none is stated. */
  value: string
  /** Undefined until the list has come. */
  licences: { usual: readonly Licence[]; others: readonly Licence[]; names: Record<string, string> } | undefined
  /** Whether it may also be stated in one's own words; then this stands for it. */
  ownWords?: string
  /** What it means that none is chosen. */
  none?: string
  onChange: (licence: string) => void
}

const ANOTHER = 'another'

/** A licence: the dozen that suit pictures are chosen, any other one is typed. */
export function LicenceField({ value, licences, ownWords, none = 'none stated', onChange }: Props) {
  const listId = useId()
  const [typed, setTyped] = useState<string>()
  const { usual, others, names } = licences ?? { usual: [], others: [], names: {} }
  const all = [...usual, ...others]
  const find = (id: string) => all.find((each) => each.id.toLowerCase() === id.trim().toLowerCase())
  const isOwn = ownWords !== undefined && value !== '' && licences !== undefined && names[value] === undefined
  const isListed = value === '' || isOwn || usual.some(({ id }) => id === value)
  const shown = typed !== undefined ? ANOTHER : isOwn ? ownWords : value
  const keep = () => {
    const found = find(typed ?? '')
    if (!found) return
    setTyped(undefined)
    onChange(found.id)
  }
  const isUnknown = typed !== undefined && typed.trim() !== '' && !find(typed)
  return (
    <div className="grid gap-2">
      <SelectField
        label="Licence"
        hint={typed === undefined ? names[value] : undefined}
        value={shown}
        choices={[
          { value: '', label: none },
          ...(ownWords === undefined ? [] : [{ value: ownWords, label: 'in my own words' }]),
          ...(isListed ? [] : [{ value, label: value }]),
          ...usual.map(({ id, name }) => ({ value: id, label: id, title: name })),
          { value: ANOTHER, label: 'another one …' },
        ]}
        onChange={(event) => {
          const { value: next } = event.target
          setTyped(next === ANOTHER ? '' : undefined)
          if (next !== ANOTHER) onChange(next)
        }}
      />
      {typed !== undefined && (
        <>
          <TextField
            label="Its SPDX name"
            list={listId}
            value={typed}
            autoFocus
            error={
              isUnknown ? 'No licence for pictures is called so; choose one of those that are offered.' : undefined
            }
            onChange={(event) => setTyped(event.target.value)}
            onBlur={keep}
            onKeyDown={(event) => {
              if (event.key === 'Enter') keep()
            }}
          />
          <datalist id={listId}>
            {others.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </datalist>
        </>
      )}
    </div>
  )
}
