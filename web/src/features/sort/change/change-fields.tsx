import { RECIPE_NUMBERS } from '@satchel/core/brush/recipe-numbers'
import { READING_WORDS } from '@satchel/core/brush/recipe-words'
import { LENT_PARTS, NUMBER_WAYS, type NumberWay, PATTERN_WORDS } from '@satchel/core/many/change'
import { useQuery } from '@tanstack/react-query'
import type { ComponentType } from 'react'
import { useState } from 'react'
import { Choices, choicesOf } from '../../../components/controls.tsx'
import { SelectField, TextField } from '../../../components/field.tsx'
import { LicenceField } from '../../../components/licence-field.tsx'
import { brushPageQuery } from '../../../data/library.ts'
import { licencesQuery } from '../../../data/licences.ts'
import { type Draft, type DraftKind, partLabel } from './drafts.ts'

type Of<Kind extends DraftKind> = Extract<Draft, { kind: Kind }>
type Fields<Kind extends DraftKind> = ComponentType<{ draft: Of<Kind>; onChange: (draft: Draft) => void }>

const WAYS = Object.fromEntries(Object.entries(NUMBER_WAYS).map(([way, { word }]) => [way, word])) as Record<
  NumberWay,
  string
>
/** Brushes that are offered to take parts from. */
const OFFERED = 8

/** What is filled in for each kind of change, a row each. */
const FIELDS: { [Kind in DraftKind]: Fields<Kind> } = {
  number: ({ draft, onChange }) => {
    const {
      unit,
      from,
      to,
      per = 1,
    } = RECIPE_NUMBERS[draft.name] as { unit: string; from: number; to: number; per?: number }
    const bounds = `${from * per} to ${to * per} ${unit}`
    return (
      <>
        <Choices
          label="It"
          value={draft.way}
          choices={choicesOf(WAYS)}
          onChange={(way) => onChange({ ...draft, way })}
        />
        <TextField
          label={draft.way === 'times' ? 'Factor' : `Value${unit && `, ${unit}`}`}
          inputMode="decimal"
          value={draft.told}
          hint={draft.way === 'times' ? `What comes out is held within ${bounds}` : bounds}
          onChange={(event) => onChange({ ...draft, told: event.target.value })}
        />
        <label className="flex items-center gap-2 text-13">
          <input
            type="checkbox"
            checked={draft.onlyUsed}
            onChange={(event) => onChange({ ...draft, onlyUsed: event.target.checked })}
          />
          only brushes that use it
        </label>
      </>
    )
  },
  parts: PartsFields,
  reading: ({ draft, onChange }) => (
    <Choices
      label="Pixels become paint so that"
      value={draft.reading}
      choices={choicesOf(READING_WORDS)}
      onChange={(reading) => onChange({ ...draft, reading })}
    />
  ),
  pattern: ({ draft, onChange }) => (
    <TextField
      label="Pattern"
      value={draft.pattern}
      hint={Object.entries(PATTERN_WORDS)
        .map(([word, { says }]) => `{${word}}: ${says}`)
        .join(' · ')}
      onChange={(event) => onChange({ ...draft, pattern: event.target.value })}
    />
  ),
  replace: ({ draft, onChange }) => (
    <>
      <TextField
        label="Find"
        value={draft.find}
        onChange={(event) => onChange({ ...draft, find: event.target.value })}
      />
      <TextField
        label="Put in its place"
        value={draft.by}
        hint="Nothing takes it away"
        onChange={(event) => onChange({ ...draft, by: event.target.value })}
      />
    </>
  ),
  maker: ({ draft, onChange }) => (
    <TextField
      label="Maker"
      value={draft.maker}
      onChange={(event) => onChange({ ...draft, maker: event.target.value })}
    />
  ),
  licence: LicenceFields,
  tags: ({ draft, onChange }) => (
    <>
      <TextField
        label="Add tags"
        hint="Several with commas between"
        value={draft.add}
        onChange={(event) => onChange({ ...draft, add: event.target.value })}
      />
      <TextField
        label="Take tags away"
        value={draft.remove}
        onChange={(event) => onChange({ ...draft, remove: event.target.value })}
      />
    </>
  ),
  thumbnail: ({ draft, onChange }) => (
    <>
      <Choices
        label="Shown by"
        value={draft.from}
        choices={choicesOf({ stroke: 'its stroke', frame: 'a frame' })}
        onChange={(from) => onChange({ ...draft, from })}
      />
      {draft.from === 'frame' && (
        <TextField
          label="Which frame, counted from 1"
          inputMode="numeric"
          value={draft.frame}
          onChange={(event) => onChange({ ...draft, frame: event.target.value })}
        />
      )}
    </>
  ),
}

/** The fields of a draft. */
export function ChangeFields({ draft, onChange }: { draft: Draft; onChange: (draft: Draft) => void }) {
  const Kind = FIELDS[draft.kind] as Fields<DraftKind>
  return <Kind draft={draft} onChange={onChange} />
}

function LicenceFields({ draft, onChange }: { draft: Of<'licence'>; onChange: (draft: Draft) => void }) {
  const licences = useQuery(licencesQuery)
  return (
    <LicenceField
      value={draft.licence}
      licences={licences.data}
      onChange={(licence) => onChange({ ...draft, licence })}
    />
  )
}

function PartsFields({ draft, onChange }: { draft: Of<'parts'>; onChange: (draft: Draft) => void }) {
  const [typed, setTyped] = useState('')
  const found = useQuery({ ...brushPageQuery({ q: typed }, 'name', 0), enabled: typed.trim() !== '' })
  const toggle = (part: (typeof LENT_PARTS)[number]) =>
    onChange({
      ...draft,
      parts: draft.parts.includes(part) ? draft.parts.filter((each) => each !== part) : [...draft.parts, part],
    })
  return (
    <>
      <TextField
        label="Taken from the brush"
        value={typed}
        placeholder="Type its name"
        hint={draft.brushId === '' ? 'None chosen yet' : `Chosen: ${draft.called}`}
        onChange={(event) => setTyped(event.target.value)}
      />
      {typed.trim() !== '' && (
        <SelectField
          label="Brushes of that name"
          value={draft.brushId}
          choices={[
            { value: '', label: found.isPending ? 'looking …' : 'choose one' },
            ...(found.data?.brushes ?? []).slice(0, OFFERED).map(({ id, name, maker }) => ({
              value: id,
              label: maker ? `${name}, ${maker}` : name,
            })),
          ]}
          onChange={(event) => {
            const brushId = event.target.value
            const called = found.data?.brushes.find(({ id }) => id === brushId)?.name ?? ''
            onChange({ ...draft, brushId, called })
          }}
        />
      )}
      <fieldset>
        <legend className="mb-1 text-13 font-medium text-quiet">Which parts</legend>
        <div className="grid max-h-40 grid-cols-2 gap-x-3 gap-y-1 overflow-y-auto text-13">
          {LENT_PARTS.map((part) => (
            <label key={part} className="flex min-h-6 items-center gap-2">
              <input type="checkbox" checked={draft.parts.includes(part)} onChange={() => toggle(part)} />
              {partLabel(part)}
            </label>
          ))}
        </div>
      </fieldset>
    </>
  )
}
