import { standingOf } from '@satchel/core/editions/lessons'
import { momentOf } from '@satchel/core/editions/moments'
import type { ClassKit, Lesson } from '@satchel/core/editions/plan'
import { Plus, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { SelectField, TextField } from '../../../components/field.tsx'
import { plural } from '../../../components/format.ts'
import { newUuid } from '../../../components/new-uuid.ts'
import type { Choosable } from '../../../data/editions.ts'
import { BrushTicks } from './brush-ticks.tsx'
import { lessonAfter, wallNow } from './new-kit.ts'

const ZONES = Intl.supportedValuesOf('timeZone')

const STATE: Record<'to come' | 'open' | 'closed', { mark: string; look: string }> = {
  'to come': { mark: '○', look: 'text-quiet' },
  open: { mark: '●', look: 'text-moss' },
  closed: { mark: '◌', look: 'text-quiet' },
}

type Props = { kit: ClassKit; from: Choosable; onChange: (kit: ClassKit) => void }

/** The lessons of a class: each with its day, its time and the brushes it opens. */
export function Lessons({ kit, from, onChange }: Props) {
  const [opened, setOpened] = useState<string>()
  const lesson = kit.lessons.find(({ id }) => id === opened)
  const set = (id: string, change: Partial<Lesson>) =>
    onChange({ ...kit, lessons: kit.lessons.map((each) => (each.id === id ? { ...each, ...change } : each)) })
  const standing = standingOf(kit, new Date())
  // while days are typed lessons keep their places: they go by the time they open once the page is opened again
  const stateOf = (id: string) => standing.find((each) => each.lesson.id === id)?.state ?? 'to come'
  return (
    <section aria-labelledby="lessons" className="grid gap-3">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <div>
          <h2 id="lessons" className="font-title text-24">
            Lessons
          </h2>
          <p className="text-quiet">
            A lesson opens its brushes at its time; brushes of no lesson are open from the start. Nothing of a brush is
            told before, only the lesson’s title and time.
          </p>
        </div>
        <div className="flex flex-wrap items-end gap-3">
          <SelectField
            label="Days and times are those of"
            value={kit.zone}
            choices={[...new Set([kit.zone, ...ZONES])].map((zone) => ({ value: zone, label: zone }))}
            onChange={(event) => onChange({ ...kit, zone: event.target.value })}
          />
          <TextField
            label="Links end after"
            type="date"
            value={kit.lastDay ?? ''}
            onChange={(event) => onChange({ ...kit, lastDay: event.target.value || null })}
          />
        </div>
      </div>
      {kit.lessons.length === 0 && <p>No lesson yet: everything is open from the start.</p>}
      <ol aria-label="Lessons" className="grid gap-2">
        {kit.lessons.map((each, at) => (
          <LessonLine
            key={each.id}
            {...{ lesson: each, at, kit, state: stateOf(each.id) }}
            onChange={(change) => set(each.id, change)}
            onBrushes={() => setOpened(each.id)}
            onDrop={() => onChange({ ...kit, lessons: kit.lessons.filter(({ id }) => id !== each.id) })}
          />
        ))}
      </ol>
      <Button
        className="justify-self-start"
        onClick={() => onChange({ ...kit, lessons: [...kit.lessons, lessonAfter(kit, newUuid())] })}
      >
        <Plus size={18} aria-hidden /> Add a lesson
      </Button>
      <Dialog
        open={lesson !== undefined}
        onOpenChange={(now) => !now && setOpened(undefined)}
        title={`Brushes of ${lesson?.title ?? ''}`}
        description="They are closed until this lesson opens them. One of several lessons is open while any of these is."
        shape="wide"
      >
        {lesson && (
          <>
            <BrushTicks
              label="Brushes of this lesson"
              from={from}
              isTicked={(id) => lesson.brushes.includes(id)}
              said={(id) =>
                kit.lessons
                  .filter((each) => each.id !== lesson.id && each.brushes.includes(id))
                  .map(({ title }) => title)
                  .join(', ')
              }
              onTick={(ids, isTicked) => {
                const those = new Set(ids)
                const rest = lesson.brushes.filter((id) => !those.has(id))
                set(lesson.id, { brushes: isTicked ? [...rest, ...ids] : rest })
              }}
            />
            <Button kind="primary" className="mt-3" onClick={() => setOpened(undefined)}>
              Done
            </Button>
          </>
        )}
      </Dialog>
    </section>
  )
}

type LineProps = {
  lesson: Lesson
  at: number
  kit: ClassKit
  state: keyof typeof STATE
  onChange: (change: Partial<Lesson>) => void
  onBrushes: () => void
  onDrop: () => void
}

function LessonLine({ lesson, at, kit, state, onChange, onBrushes, onDrop }: LineProps) {
  const { title, day, at: time, closes, brushes } = lesson
  const { mark, look } = STATE[state]
  const name = title || `lesson ${at + 1}`
  const isBackward = closes !== null && momentOf(closes, kit.zone) <= momentOf(lesson, kit.zone)
  return (
    <li className="grid gap-2 rounded-10 border border-line bg-surface p-3">
      <div className="flex flex-wrap items-end gap-3">
        <div className="min-w-40 flex-1">
          <TextField
            label={`Title of lesson ${at + 1}`}
            value={title}
            onChange={(event) => onChange({ title: event.target.value })}
          />
        </div>
        <TextField
          label="Day"
          type="date"
          value={day}
          onChange={(event) => event.target.value && onChange({ day: event.target.value })}
        />
        <TextField
          label="Opens at"
          type="time"
          value={time}
          onChange={(event) => event.target.value && onChange({ at: event.target.value })}
        />
        <Button className="w-28" onClick={onBrushes} aria-label={`Brushes of ${name}: ${brushes.length}`}>
          {plural(brushes.length, 'brush', 'brushes')}
        </Button>
        <span className={`w-24 py-2 font-medium ${look}`}>
          <span aria-hidden>{mark}</span> {state}
        </span>
        <Button kind="quiet" aria-label={`Take ${name} away`} onClick={onDrop}>
          <Trash2 size={18} aria-hidden />
        </Button>
      </div>
      <div className="flex flex-wrap items-center gap-3 text-13">
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={closes !== null}
            onChange={() => onChange({ closes: closes ? null : { day, at: '23:59' } })}
          />
          closes again
        </label>
        {closes && (
          <>
            <input
              type="date"
              aria-label={`Day on which ${name} closes`}
              value={closes.day}
              onChange={(event) => event.target.value && onChange({ closes: { ...closes, day: event.target.value } })}
              className="rounded-4 border border-line bg-raised px-2 py-1"
            />
            <input
              type="time"
              aria-label={`Time at which ${name} closes`}
              value={closes.at}
              onChange={(event) => event.target.value && onChange({ closes: { ...closes, at: event.target.value } })}
              className="rounded-4 border border-line bg-raised px-2 py-1"
            />
          </>
        )}
        {isBackward && (
          <span role="alert" className="text-madder">
            It closes before it opens.
          </span>
        )}
        {state === 'to come' && (
          <Button kind="quiet" className="ml-auto" onClick={() => onChange(wallNow(kit.zone))}>
            Open it now
          </Button>
        )}
        {state === 'open' && (
          <Button kind="quiet" className="ml-auto" onClick={() => onChange({ closes: wallNow(kit.zone, 1) })}>
            Close it now
          </Button>
        )}
      </div>
    </li>
  )
}
