import { BrushFilterText } from '@satchel/core/forms/brush-filter'
import { BRUSH_SORTS } from '@satchel/core/forms/brush-filter-words'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { binBrushes } from '../db/brush-bin.ts'
import { listFacets } from '../db/brushes.ts'
import { countBrushes, listBrushes, listBrushIds } from '../db/list-brushes.ts'
import { emptyOldBin } from '../library/bin-keeper.ts'
import type { SignedIn } from './context.ts'
import { about } from './noted.ts'
import { Ids, ListPlace, valid, whole } from './validate.ts'

const PAGE_MAX = 200
const IDS_MAX = 100_000

/** A part of the list: its order, the place of its first line counted from 0, and how many. */
const range = (most: number, usual: number) => ({
  sort: v.optional(v.picklist(BRUSH_SORTS), 'name'),
  from: ListPlace,
  limit: whole(usual, most),
})
const Page = v.object({ ...BrushFilterText.entries, ...range(PAGE_MAX, 100) })
const IdRange = v.object({ ...BrushFilterText.entries, ...range(IDS_MAX, IDS_MAX) })

/** The library's brushes: lists and what is done to many at once. One brush is in `one-brush.ts`. */
export const brushRoutes = (deps: AppDeps) => {
  const { db, pool, events } = deps
  const changed = (workspaceId: string, id?: string) =>
    events.publish({ workspaceId, topic: 'library', ...(id ? { id } : {}) })
  return new Hono<SignedIn>()
    .get('/', valid('query', Page), async (c) => {
      const { sort, from, limit, ...filter } = c.req.valid('query')
      return c.json({ brushes: await listBrushes(deps, c.get('workspaceId'), filter, { sort, from, limit }) })
    })
    .get('/count', valid('query', BrushFilterText), async (c) =>
      c.json({ count: await countBrushes(pool, c.get('workspaceId'), c.req.valid('query')) }),
    )
    .get('/ids', valid('query', IdRange), async (c) => {
      const { sort, from, limit, ...filter } = c.req.valid('query')
      return c.json({ ids: await listBrushIds(deps, c.get('workspaceId'), filter, { sort, from, limit }) })
    })
    .get('/facets', async (c) => c.json(await listFacets(db, c.get('workspaceId'))))
    .post('/bin', valid('json', v.object({ ids: Ids })), async (c) => {
      const count = await binBrushes(db, c.get('workspaceId'), c.req.valid('json').ids, true)
      about(c, count.toLocaleString('en'))
      await changed(c.get('workspaceId'))
      return c.json({ changed: count })
    })
    .post('/bring-back', valid('json', v.object({ ids: Ids })), async (c) => {
      const count = await binBrushes(db, c.get('workspaceId'), c.req.valid('json').ids, false)
      await changed(c.get('workspaceId'))
      return c.json({ changed: count })
    })
    .post('/empty-bin', async (c) => {
      const workspaceId = c.get('workspaceId')
      await emptyOldBin(db, workspaceId, new Date())
      await changed(workspaceId)
      return c.json({ ok: true })
    })
}
