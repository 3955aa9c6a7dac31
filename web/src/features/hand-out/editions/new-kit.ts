import { dayAt, moveDay, timeAt, type Wall } from '@satchel/core/editions/moments'
import type { ClassKit, Lesson } from '@satchel/core/editions/plan'

const MINUTE_MS = 60_000

/** What the clock on the wall shows at a place now, or in some minutes. */
export function wallNow(zone: string, inMinutes = 0): Wall {
  const now = new Date(Date.now() + inMinutes * MINUTE_MS)
  return { day: dayAt(now, zone), at: timeAt(now, zone) }
}

/** One more lesson: a week after the last, at the same time. */
export function lessonAfter({ lessons, zone }: ClassKit, id: string): Lesson {
  const last = lessons.toSorted((a, b) => (a.day < b.day ? -1 : 1)).at(-1)
  return {
    ...{ id, title: `Lesson ${lessons.length + 1}`, closes: null, brushes: [] },
    day: last ? moveDay(last.day, 7) : moveDay(wallNow(zone).day, 7),
    at: last?.at ?? '18:00',
  }
}

/** A class of nothing but its place. */
export const emptyKit = (): ClassKit => ({
  zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  lessons: [],
  lastDay: null,
})
