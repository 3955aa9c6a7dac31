import { dayAt, daysBetween, endOfDay, momentOf, moveDay } from './moments.ts'
import type { ClassKit, EditionPlan, Lesson } from './plan.ts'

export type LessonState = 'to come' | 'open' | 'closed'
/** A lesson as it stands at a moment. */
export type Standing = { lesson: Lesson; state: LessonState; opensAt: Date; closesAt: Date | null }

/** How the lessons of a class stand, in the order they open. */
export function standingOf({ zone, lessons }: ClassKit, now: Date): Standing[] {
  return lessons
    .map((lesson): Standing => {
      const opensAt = momentOf(lesson, zone)
      const closesAt = lesson.closes && momentOf(lesson.closes, zone)
      const isClosed = closesAt !== null && closesAt.getTime() <= now.getTime()
      return { lesson, opensAt, closesAt, state: isClosed ? 'closed' : opensAt > now ? 'to come' : 'open' }
    })
    .sort((a, b) => a.opensAt.getTime() - b.opensAt.getTime())
}

/** The next moment at which a lesson opens or closes, or the class ends; none where nothing changes any more. */
export function nextChange(kit: ClassKit, now: Date): Date | undefined {
  const ends = endOf(kit)
  const moments = standingOf(kit, now).flatMap(({ opensAt, closesAt }) => [opensAt, closesAt ?? []].flat())
  const later = [...moments, ...(ends ? [ends] : [])].filter((moment) => moment > now)
  return later.length === 0 ? undefined : new Date(Math.min(...later.map((moment) => moment.getTime())))
}

/** The moment a class ends; none where that is not said. */
export const endOf = ({ lastDay, zone }: ClassKit): Date | undefined =>
  lastDay === null ? undefined : endOfDay(lastDay, zone)

/** Brushes that lessons hold closed: those that only lessons have which are not open. */
export function closedBrushes(kit: ClassKit, now: Date): Set<string> {
  const closed = new Set<string>()
  const standing = standingOf(kit, now)
  for (const { lesson, state } of standing) if (state !== 'open') for (const id of lesson.brushes) closed.add(id)
  for (const { lesson, state } of standing) if (state === 'open') for (const id of lesson.brushes) closed.delete(id)
  return closed
}

/**
 * The same class in another term: its first lesson on a day, all others as many days after it as they were, at the same
 * times by the clock on the wall.
 */
export function moveTerm(plan: EditionPlan, firstDay: string, newId: () => string): EditionPlan {
  const { kit } = plan
  if (!kit || kit.lessons.length === 0) return plan
  const days = daysBetween(daysOf(kit)[0] ?? firstDay, firstDay)
  return {
    ...plan,
    kit: {
      ...kit,
      lastDay: kit.lastDay === null ? null : moveDay(kit.lastDay, days),
      lessons: kit.lessons.map((lesson) => ({
        ...lesson,
        id: newId(),
        day: moveDay(lesson.day, days),
        closes: lesson.closes && { ...lesson.closes, day: moveDay(lesson.closes.day, days) },
      })),
    },
  }
}

/** The days of a class, in their order. */
const daysOf = ({ lessons }: ClassKit): string[] => lessons.map(({ day }) => day).sort()

/** A first day for the next term: the same day of the week, a week after the last lesson at the earliest, not before today. */
export function nextFirstDay(kit: ClassKit, now: Date): string {
  const today = dayAt(now, kit.zone)
  const of = daysOf(kit)
  const [first = today, earliest] = [of[0], moveDay(of.at(-1) ?? today, 7)]
  const days = Math.max(daysBetween(first, earliest), daysBetween(first, today))
  return moveDay(first, Math.ceil(days / 7) * 7)
}
