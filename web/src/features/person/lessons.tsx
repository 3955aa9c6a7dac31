import type { HandOutPage } from '../../data/hand-out-page.ts'

type Course = NonNullable<HandOutPage['course']>
type Props = { course: Course; brushes: HandOutPage['brushes']; onOpen: (id: string) => void }

const STATE: Record<Course['lessons'][number]['state'], { mark: string; word: string; look: string }> = {
  'to come': { mark: '○', word: 'to come', look: 'text-quiet' },
  open: { mark: '●', word: 'open', look: 'text-moss' },
  closed: { mark: '◌', word: 'closed again', look: 'text-quiet' },
}

const timeIn = (zone: string, moment: string) =>
  new Date(moment).toLocaleString('en-GB', {
    ...{ timeZone: zone, weekday: 'short', day: 'numeric', month: 'short', year: 'numeric' },
    ...{ hour: '2-digit', minute: '2-digit' },
  })

/** What comes when, of a class: each lesson with its time, and its brushes once they are open. */
export function Lessons({ course, brushes, onOpen }: Props) {
  const { name, zone, endsAt, lessons } = course
  const nameOf = new Map(brushes.map((brush) => [brush.id, brush.name]))
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone
  return (
    <section aria-labelledby="lessons" className="grid gap-3 rounded-10 border border-line bg-surface p-6">
      <div>
        <h2 id="lessons" className="font-title text-24">
          {name}
        </h2>
        <p className="text-13 text-quiet">
          Times are those of {zone}.{endsAt && ` The class ends ${timeIn(zone, endsAt)}, and this link with it.`}
        </p>
      </div>
      {lessons.length > 0 && (
        <ol className="grid gap-3">
          {lessons.map(({ title, opensAt, closesAt, state, brushes: ids, isNew }) => {
            const { mark, word, look } = STATE[state]
            return (
              <li key={`${title} ${opensAt}`} className="grid gap-1 border-t border-line pt-3">
                <p className="flex flex-wrap items-baseline gap-x-3">
                  <strong>{title}</strong>
                  <span className={`font-medium ${look}`}>
                    <span aria-hidden>{mark}</span> {word}
                  </span>
                  {isNew && <span className="text-13 text-saddle">new since you fetched something</span>}
                </p>
                <p className="text-13 text-quiet">
                  {state === 'to come' ? 'opens' : 'opened'} {timeIn(zone, opensAt)}
                  {here !== zone && state === 'to come' && `, ${timeIn(here, opensAt)} where you are`}
                  {closesAt && `; ${state === 'closed' ? 'closed' : 'closes'} ${timeIn(zone, closesAt)}`}
                </p>
                {ids.length > 0 && (
                  <p className="flex flex-wrap gap-x-3 gap-y-1">
                    {ids.map((id) => (
                      <button
                        key={id}
                        type="button"
                        onClick={() => onOpen(id)}
                        className="min-h-6 text-saddle underline underline-offset-2"
                      >
                        {nameOf.get(id)}
                      </button>
                    ))}
                  </p>
                )}
              </li>
            )
          })}
        </ol>
      )}
      {brushes.length === 0 && <p role="status">Nothing is open yet. This page shows it by itself as soon as it is.</p>}
    </section>
  )
}
