import { standingOf } from '@satchel/core/editions/lessons'
import type { Db } from '../db/database.ts'
import { listEditions } from '../db/editions.ts'
import { listLastFetches } from '../db/figures.ts'

/** Of a lesson that has opened: how many of the class have fetched something since. */
export type LessonFigure = { edition: string; title: string; opensAt: Date; fetched: number; all: number }

/** How the classes of a pack follow their lessons, in the order those opened. */
export async function countLessons(db: Db, workspaceId: string, packId: string, now: Date): Promise<LessonFigure[]> {
  const kits = (await listEditions(db, workspaceId, packId)).flatMap(({ id, name, plan: { kit } }) =>
    kit ? [{ id, name, kit }] : [],
  )
  if (kits.length === 0) return []
  const fetches = await listLastFetches(db, workspaceId, packId)
  return kits.flatMap(({ id, name, kit }) => {
    const its = fetches.filter(({ editionId }) => editionId === id)
    return standingOf(kit, now)
      .filter(({ state }) => state !== 'to come')
      .map(({ lesson, opensAt }) => ({
        ...{ edition: name, title: lesson.title, opensAt, all: its.length },
        fetched: its.filter(({ lastAt }) => lastAt !== null && lastAt >= opensAt).length,
      }))
  })
}
