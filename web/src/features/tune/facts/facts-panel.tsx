import { openFileLosses } from '@satchel/core/brush-file/open-losses'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { TextField } from '../../../components/field.tsx'
import { LicenceField } from '../../../components/licence-field.tsx'
import { toastError } from '../../../components/toasts.tsx'
import type { Brush, Facts } from '../../../data/brush.ts'
import { licencesQuery } from '../../../data/licences.ts'
import { sourceFromPicture } from '../../../data/sources.ts'
import { ThumbnailSection } from './thumbnail-section.tsx'
import { TipSection } from './tip-section.tsx'

type Props = {
  brush: Brush
  facts: Facts
  grain: { name: string; blobSha: string } | undefined
  onChange: (next: Partial<Facts>) => void
  onSwapTip: () => void
  onThumbnail: () => void
}

/** What the brush is made of, and whose it is. */
export function FactsPanel({ brush, facts, grain, onChange, onSwapTip, onThumbnail }: Props) {
  const licences = useQuery(licencesQuery).data
  return (
    <div className="grid content-start gap-4">
      <Settled label="Name" value={facts.name} required onSettle={(name) => onChange({ name })} />
      <Settled label="Maker" value={facts.maker} onSettle={(maker) => onChange({ maker })} />
      <LicenceField value={facts.licence} licences={licences} onChange={(licence) => onChange({ licence })} />
      <Settled
        label="Tags"
        hint="Several with commas between"
        value={facts.tags.join(', ')}
        onSettle={(text) =>
          onChange({
            tags: [
              ...new Set(
                text
                  .split(',')
                  .map((tag) => tag.trim())
                  .filter(Boolean),
              ),
            ],
          })
        }
      />
      <TipSection brush={brush} recipe={facts.recipe} onSwap={onSwapTip} />
      <ThumbnailSection brush={brush} onChange={onThumbnail} />
      {grain && (
        <section>
          <h3 className="mb-1 text-13 font-medium text-quiet">Grain</h3>
          <p className="flex items-center gap-2">
            <span
              className="well block h-12 w-16"
              style={{ backgroundImage: `url(/api/pictures/${grain.blobSha})`, backgroundSize: '64px' }}
            />
            {grain.name}
          </p>
        </section>
      )}
      <SourceSection brush={brush} />
      {brush.copiedFrom && (
        <section>
          <h3 className="mb-1 text-13 font-medium text-quiet">Copied from</h3>
          <Link to={`/tune/${brush.copiedFrom.id}`} className="hover:text-saddle">
            {brush.copiedFrom.name}
            {brush.copiedFrom.maker && <span className="text-13 text-quiet"> by {brush.copiedFrom.maker}</span>}
          </Link>
        </section>
      )}
      <OpenFileNote recipe={facts.recipe} />
      <section>
        <h3 className="mb-1 text-13 font-medium text-quiet">In the sets</h3>
        {brush.sets.length === 0 ? (
          <p className="text-13 text-quiet">none yet</p>
        ) : (
          <ul className="grid gap-0.5">
            {brush.sets.map((set) => (
              <li key={set.id}>
                <Link
                  to={`/sort?setId=${set.id}&sort=set`}
                  className="inline-flex items-center gap-2 font-title hover:text-saddle"
                >
                  <span className="eyelet" aria-hidden /> {set.name}
                </Link>
              </li>
            ))}
          </ul>
        )}
      </section>
    </div>
  )
}

/** What its tip was made from; or the way to begin with the tip itself. */
function SourceSection({ brush }: { brush: Brush }) {
  const navigate = useNavigate()
  const [first] = brush.pictures
  const begin = useMutation({
    mutationFn: () => sourceFromPicture(first?.blobSha ?? '', brush.name),
    onSuccess: ({ id }) => navigate(`/make/${id}`),
    onError: toastError,
  })
  return (
    <section>
      <h3 className="mb-1 text-13 font-medium text-quiet">Its source</h3>
      {brush.source ? (
        <Link to={`/make/${brush.source.id}`} className="hover:text-saddle">
          {brush.source.name}
        </Link>
      ) : (
        <p className="text-13 text-quiet">
          none kept.{' '}
          <button
            type="button"
            disabled={begin.isPending}
            onClick={() => begin.mutate()}
            className="text-saddle underline"
          >
            Make another from this tip
          </button>
        </p>
      )}
    </section>
  )
}

/** What the open brush files cannot take along; the Satchel pack keeps all of it. */
function OpenFileNote({ recipe }: { recipe: Facts['recipe'] }) {
  const losses = openFileLosses(recipe)
  return (
    <section>
      <h3 className="mb-1 text-13 font-medium text-quiet">As an open brush file</h3>
      <p className="text-13">
        {losses.length === 0
          ? 'Everything arrives.'
          : `Name, frames, spacing and frame rules arrive. Left behind: ${losses.join(', ')}.`}
      </p>
    </section>
  )
}

/** A text that counts as changed when one leaves it, not at every letter. */
function Settled({
  label,
  value,
  hint,
  required = false,
  onSettle,
}: {
  label: string
  value: string
  hint?: string
  required?: boolean
  onSettle: (value: string) => void
}) {
  const [typed, setTyped] = useState(value)
  useEffect(() => setTyped(value), [value])
  const empty = required && typed.trim() === ''
  return (
    <TextField
      label={label}
      hint={hint}
      value={typed}
      error={empty ? 'A name is needed.' : undefined}
      maxLength={required ? 120 : undefined}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => {
        if (!empty && typed.trim() !== value) onSettle(typed.trim())
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur()
        if (event.key === 'Escape') setTyped(value)
      }}
    />
  )
}
