import { useQueries, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { SelectField, TextArea, TextField } from '../../components/field.tsx'
import { LicenceField } from '../../components/licence-field.tsx'
import { licencesQuery } from '../../data/licences.ts'
import { type Pack, type PackFacts, setBrushesQuery, updatePack } from '../../data/packs.ts'
import { usePackChange } from './use-pack-change.ts'

const OWN = 'own words'

/** Title, maker, licence, help and cover; each is saved when one leaves it. */
export function PackFactsForm({ pack }: { pack: Pack }) {
  const change = usePackChange()
  const licences = useQuery(licencesQuery).data
  const save = (facts: PackFacts, was?: Omit<PackFacts, 'coverBrushId'>) =>
    void change(() => updatePack(pack.id, facts, was))
  const isOwn = pack.licence !== '' && licences !== undefined && licences.names[pack.licence] === undefined
  return (
    <section aria-labelledby="pack-facts" className="grid content-start gap-3">
      <h2 id="pack-facts" className="font-title text-24">
        About it
      </h2>
      <Kept label="Title" value={pack.title} required onKeep={(title, was) => save({ title }, { title: was })} />
      <Kept label="Maker" value={pack.maker} onKeep={(maker, was) => save({ maker }, { maker: was })} />
      <LicenceField value={pack.licence} licences={licences} ownWords={OWN} onChange={(licence) => save({ licence })} />
      {isOwn && (
        <Kept
          area
          label="The licence in your words"
          value={pack.licenceText}
          onKeep={(licenceText, was) => save({ licenceText }, { licenceText: was })}
        />
      )}
      <Kept
        area
        label="Help for those who get it"
        value={pack.help}
        onKeep={(help, was) => save({ help }, { help: was })}
      />
      <CoverChoice pack={pack} onChoose={(coverBrushId) => save({ coverBrushId })} />
    </section>
  )
}

function CoverChoice({ pack, onChoose }: { pack: Pack; onChoose: (id: string | null) => void }) {
  const lists = useQueries({ queries: pack.sets.map((set) => setBrushesQuery(set.id)) })
  const brushes = new Map(lists.flatMap((list) => list.data?.brushes ?? []).map((brush) => [brush.id, brush.name]))
  return (
    <div className="grid gap-2">
      <SelectField
        label="Cover: the stroke of"
        value={pack.coverBrushId ?? ''}
        choices={[{ value: '', label: 'no brush' }, ...[...brushes].map(([value, label]) => ({ value, label }))]}
        onChange={(event) => onChoose(event.target.value || null)}
      />
      {pack.coverBrushId && (
        <div className="well grid h-20 place-content-center overflow-clip">
          <img
            src={`/api/brushes/${pack.coverBrushId}/stroke.png?size=cover`}
            alt={`Stroke of ${brushes.get(pack.coverBrushId) ?? 'the cover'}`}
            className="h-18"
          />
        </div>
      )}
    </div>
  )
}

type KeptProps = {
  label: string
  value: string
  area?: boolean
  required?: boolean
  /** Told what was typed, and what it was typed over. */
  onKeep: (value: string, was: string) => void
}

/** A text that is saved when one leaves it. Where somebody else has changed it meanwhile, neither is lost unseen. */
function Kept({ label, value, area = false, required = false, onKeep }: KeptProps) {
  const [typed, setTyped] = useState(value)
  /** What stood there when typing began. */
  const [base, setBase] = useState(value)
  const isTyped = typed.trim() !== base
  if (value !== base && (!isTyped || typed.trim() === value)) {
    setBase(value)
    setTyped(value)
  }
  const isElsewhere = value !== base && isTyped
  const error = required && typed.trim() === '' ? 'It needs one.' : undefined
  const keep = () => {
    if (!error && isTyped && !isElsewhere) onKeep(typed.trim(), base)
  }
  const shared = { label, value: typed, error, onBlur: keep }
  return (
    <div className="grid gap-1">
      {area ? (
        <TextArea {...shared} onChange={(event) => setTyped(event.target.value)} />
      ) : (
        <TextField {...shared} maxLength={120} onChange={(event) => setTyped(event.target.value)} />
      )}
      {isElsewhere && (
        <div role="alert" className="flex flex-wrap items-center gap-2 text-13 text-amber">
          <span className="min-w-0 break-words">
            It was changed elsewhere meanwhile: {value === '' ? 'it is empty now' : `“${value.slice(0, 120)}”`}
          </span>
          <Button
            onClick={() => {
              setBase(value)
              onKeep(typed.trim(), value)
            }}
          >
            Keep what I typed
          </Button>
          <Button
            kind="quiet"
            onClick={() => {
              setBase(value)
              setTyped(value)
            }}
          >
            Take that
          </Button>
        </div>
      )}
    </div>
  )
}
