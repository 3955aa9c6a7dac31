import { useState } from 'react'
import { BehaviourMark } from '../../components/behaviour-mark.tsx'
import { SelectField, TextField } from '../../components/field.tsx'
import { plural } from '../../components/format.ts'
import { HelpText } from '../../components/help-text.tsx'
import type { HandOutPage } from '../../data/hand-out-page.ts'
import { toHelp } from '../../data/help.ts'

/** From so many brushes on they are searched, and looked at by set. */
const SEARCHED_FROM = 30

type Props = { page: HandOutPage; stroke: (id: string) => string; onOpen: (id: string) => void }

/** All brushes, set by set; of many those that are looked for. */
export function Brushes({ page, stroke, onOpen }: Props) {
  const [words, setWords] = useState('')
  const [set, setSet] = useState('')
  const byId = new Map(page.brushes.map((brush) => [brush.id, brush]))
  const found = (ids: readonly string[]) =>
    ids.filter((id) => byId.get(id)?.name.toLowerCase().includes(words.trim().toLowerCase()))
  const groups = [
    { key: 'single', title: 'Single brushes', ids: page.single },
    ...page.sets.map(({ name, brushes }, at) => ({ key: String(at), title: name, ids: brushes })),
  ].filter(({ key }) => set === '' || set === key)
  const shown = groups.map((group) => ({ ...group, ids: found(group.ids) })).filter(({ ids }) => ids.length > 0)
  return (
    <>
      {page.brushes.length >= SEARCHED_FROM && (
        <search className="flex flex-wrap items-end gap-3 print:hidden" aria-label="Brushes">
          <div className="w-64">
            <TextField
              label="Find a brush"
              type="search"
              value={words}
              onChange={(event) => setWords(event.target.value)}
            />
          </div>
          {page.sets.length > 1 && (
            <div className="w-64">
              <SelectField
                label="Set"
                value={set}
                onChange={(event) => setSet(event.target.value)}
                choices={[
                  { value: '', label: 'all sets' },
                  ...page.sets.map(({ name }, at) => ({ value: String(at), label: name })),
                ]}
              />
            </div>
          )}
          <p role="status" className="py-1.5 text-13 text-quiet">
            {words.trim() !== '' && plural(new Set(shown.flatMap(({ ids }) => ids)).size, 'brush', 'brushes')}
          </p>
        </search>
      )}
      {shown.map(({ key, title, ids }) => (
        <section key={key} className="grid gap-2">
          <h2 className="flex items-center gap-2.5 font-title text-24">
            <span className="eyelet" aria-hidden /> {title} <span className="measure text-quiet">{ids.length}</span>
          </h2>
          <ul className="overflow-clip rounded-10 border border-line bg-surface">
            {ids.map((id) => {
              const brush = byId.get(id)
              return brush && <BrushLine key={id} brush={brush} src={stroke(id)} onOpen={() => onOpen(id)} />
            })}
          </ul>
        </section>
      ))}
    </>
  )
}

function BrushLine({ brush, src, onOpen }: { brush: HandOutPage['brushes'][number]; src: string; onOpen: () => void }) {
  return (
    <li className="relative grid grid-cols-1 items-center gap-x-3 gap-y-1 border-b border-line p-2.5 last:border-b-0 hover:bg-raised sm:grid-cols-[180px_minmax(0,1fr)_64px]">
      <div>
        <button
          type="button"
          onClick={onOpen}
          className="text-left font-medium underline-offset-2 after:absolute after:inset-0 hover:underline"
        >
          {brush.name}
        </button>{' '}
        <span className="text-13 text-quiet">
          <BehaviourMark behaviour={brush.behaviour} />
        </span>
        {brush.note.length > 0 && <HelpText nodes={toHelp(brush.note)} under={2} quiet />}
      </div>
      <span className="well grid h-[58px] place-content-center overflow-clip">
        <img
          src={src}
          alt={`Stroke of ${brush.name}`}
          loading="lazy"
          decoding="async"
          className="h-[54px] object-contain"
        />
      </span>
      <span className="measure text-quiet">
        {Math.round(brush.sizePx)} px{brush.frames > 1 && ` ×${brush.frames}`}
      </span>
    </li>
  )
}
