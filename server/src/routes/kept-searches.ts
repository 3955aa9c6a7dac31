import { BrushFilterText, KeptFilter } from '@satchel/core/forms/brush-filter'
import { BRUSH_SORTS } from '@satchel/core/forms/brush-filter-words'
import { Name } from '@satchel/core/forms/names'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { countSearches, findSearch, insertSearch, listSearches, updateSearch } from '../db/kept-searches.ts'
import { countBrushes, listBrushIds } from '../db/list-brushes.ts'
import { addToSet, createSet } from '../db/sets.ts'
import { notFound, Problem } from '../errors.ts'
import type { SignedIn } from './context.ts'
import { about } from './noted.ts'
import { Id, valid } from './validate.ts'

const SEARCHES_MAX = 100
/** Brushes that a set is frozen of. */
const FROZEN_MAX = 20_000

const New = v.object({ name: Name, filter: KeptFilter, sort: v.optional(v.picklist(BRUSH_SORTS), 'name') })
const Named = v.object({ name: Name })

/** Searches that are kept as sets which fill themselves. */
export const keptSearchRoutes = (deps: AppDeps) => {
  const { db, pool, events } = deps
  const changed = (workspaceId: string) => events.publish({ workspaceId, topic: 'library' })
  return new Hono<SignedIn>()
    .get('/', async (c) => {
      const workspaceId = c.get('workspaceId')
      const searches = await listSearches(db, workspaceId)
      const counted = []
      // one after another: a long rack of them must not take every connection
      for (const search of searches)
        counted.push({
          ...search,
          count: await countBrushes(pool, workspaceId, v.parse(BrushFilterText, search.filter)),
        })
      return c.json({ searches: counted })
    })
    .post('/', valid('json', New), async (c) => {
      const workspaceId = c.get('workspaceId')
      if ((await countSearches(db, workspaceId)) >= SEARCHES_MAX)
        throw new Problem(422, `${SEARCHES_MAX} searches are kept already; delete one of them first.`)
      const search = await insertSearch(db, workspaceId, c.req.valid('json'))
      await changed(workspaceId)
      return c.json(search, 201)
    })
    .patch('/:id', valid('param', Id), valid('json', Named), async (c) => {
      const search = await updateSearch(db, c.get('workspaceId'), c.req.valid('param').id, c.req.valid('json'))
      if (!search) throw notFound('search')
      await changed(c.get('workspaceId'))
      return c.json(search)
    })
    .delete('/:id', valid('param', Id), async (c) => {
      const search = await updateSearch(db, c.get('workspaceId'), c.req.valid('param').id, { deletedAt: new Date() })
      if (!search) throw notFound('search')
      about(c, search.name)
      await changed(c.get('workspaceId'))
      return c.json({ ok: true })
    })
    .post('/:id/bring-back', valid('param', Id), async (c) => {
      const back = { deletedAt: null }
      if (!(await updateSearch(db, c.get('workspaceId'), c.req.valid('param').id, back))) throw notFound('search')
      await changed(c.get('workspaceId'))
      return c.json({ ok: true })
    })
    .post('/:id/freeze', valid('param', Id), valid('json', Named), async (c) => {
      const workspaceId = c.get('workspaceId')
      const search = await findSearch(db, workspaceId, c.req.valid('param').id)
      if (!search) throw notFound('search')
      const filter = v.parse(BrushFilterText, search.filter)
      const ids = await listBrushIds(deps, workspaceId, filter, { sort: search.sort, from: 0, limit: FROZEN_MAX + 1 })
      if (ids.length === 0)
        throw new Problem(409, `"${search.name}" finds no brush just now; a set of it would be empty.`)
      if (ids.length > FROZEN_MAX)
        throw new Problem(
          422,
          `"${search.name}" finds more than ${FROZEN_MAX.toLocaleString('en')} brushes; narrow it first.`,
        )
      const set = await createSet(db, workspaceId, c.req.valid('json').name)
      const count = await addToSet(db, workspaceId, set.id, ids)
      await changed(workspaceId)
      return c.json({ ...set, count: count ?? 0 }, 201)
    })
}
