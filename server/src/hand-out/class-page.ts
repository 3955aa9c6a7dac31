import { endOf, type LessonState, nextChange, standingOf } from '@satchel/core/editions/lessons'
import type { Opened } from './open-hand-out.ts'

/** A lesson as its people see it: of one that is not open, what it is called and when, and nothing else. */
export type LessonOnPage = {
  title: string
  opensAt: Date
  closesAt: Date | null
  state: LessonState
  /** Its brushes that can be had just now. */
  brushes: string[]
  /** Whether it has opened since something was fetched last. */
  isNew: boolean
}
type ClassOnPage = {
  course: { name: string; zone: string; endsAt: Date | null; lessons: LessonOnPage[] } | null
  /** The moment from which the page shows something else. */
  nextAt: Date | null
}

type Fetched = { at: Date; brushes: readonly string[] | null }

/** Whether something was fetched before it was open: by what was fetched, and by the time where that is not known any more. */
const isNewSince = ({ at, brushes }: Fetched, ids: readonly string[], opensAt: Date) =>
  brushes === null ? opensAt > at : ids.some((id) => !brushes.includes(id))

/** What comes when, of a class. */
export function classOf({ edition, release, now }: Opened, fetched: Fetched | undefined): ClassOnPage {
  const kit = edition?.plan.kit
  if (!kit) return { course: null, nextAt: null }
  const there = new Set(release.manifest.brushes.map(({ id }) => id))
  const lessons = standingOf(kit, now).map(({ lesson, state, opensAt, closesAt }) => ({
    ...{ title: lesson.title, opensAt, closesAt, state },
    brushes: state === 'open' ? lesson.brushes.filter((id) => there.has(id)) : [],
    isNew: state === 'open' && fetched !== undefined && isNewSince(fetched, lesson.brushes, opensAt),
  }))
  const course = { name: edition.name, zone: kit.zone, endsAt: endOf(kit) ?? null, lessons }
  return { course, nextAt: nextChange(kit, now) ?? null }
}
