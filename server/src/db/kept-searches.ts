import type { KeptFilter } from '@satchel/core/forms/brush-filter'
import type { BrushSort } from '@satchel/core/forms/brush-filter-words'
import { and, asc, count, eq, isNull } from 'drizzle-orm'
import type { Db } from './database.ts'
import { keptSearch } from './schema/all.ts'

export type NewSearch = { name: string; filter: KeptFilter; sort: BrushSort }

const isIt = (workspaceId: string, id: string) => and(eq(keptSearch.workspaceId, workspaceId), eq(keptSearch.id, id))
const FIELDS = { id: keptSearch.id, name: keptSearch.name, filter: keptSearch.filter, sort: keptSearch.sort }

/** All kept searches by their names. */
export const listSearches = (db: Db, workspaceId: string) =>
  db
    .select(FIELDS)
    .from(keptSearch)
    .where(and(eq(keptSearch.workspaceId, workspaceId), isNull(keptSearch.deletedAt)))
    .orderBy(asc(keptSearch.name), asc(keptSearch.id))

export async function findSearch(db: Db, workspaceId: string, id: string) {
  const [row] = await db
    .select(FIELDS)
    .from(keptSearch)
    .where(and(isIt(workspaceId, id), isNull(keptSearch.deletedAt)))
  return row
}

export async function countSearches(db: Db, workspaceId: string): Promise<number> {
  const [row] = await db
    .select({ n: count() })
    .from(keptSearch)
    .where(and(eq(keptSearch.workspaceId, workspaceId), isNull(keptSearch.deletedAt)))
  return row?.n ?? 0
}

export async function insertSearch(db: Db, workspaceId: string, search: NewSearch) {
  const [row] = await db
    .insert(keptSearch)
    .values({ workspaceId, ...search })
    .returning(FIELDS)
  if (!row) throw new Error('insert gave no row')
  return row
}

/** Changes a kept search, or puts it away and brings it back. @returns It, or undefined where there is none. */
export async function updateSearch(
  db: Db,
  workspaceId: string,
  id: string,
  change: { name?: string | undefined; deletedAt?: Date | null },
) {
  const [row] = await db.update(keptSearch).set(change).where(isIt(workspaceId, id)).returning(FIELDS)
  return row
}
