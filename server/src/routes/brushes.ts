import { PAINT_READINGS } from '@satchel/core/brush/recipe'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import { Hono } from 'hono'
import * as v from 'valibot'
import { binBrushes } from '../db/brush-bin.ts'
import { listFacets } from '../db/brushes.ts'
import { type BrushCursor, type BrushSort, countBrushes, listBrushes, listBrushIds } from '../db/list-brushes.ts'
import { tagBrushes } from '../db/save-brush.ts'
import type { AppDeps } from '../deps.ts'
import { Problem } from '../errors.ts'
import { emptyOldBin } from '../library/bin-keeper.ts'
import type { SignedIn } from './context.ts'
import { Ids, Tags, valid, whole } from './validate.ts'

const PAGE_MAX = 200
const SEARCH_MAX_CHARS = 200

const maybeSize = v.optional(v.pipe(v.string(), v.transform(Number), v.number(), v.finite(), v.minValue(0)))
const flag = v.optional(
  v.pipe(
    v.literal('1'),
    v.transform(() => true),
  ),
)

const Filter = v.object({
  setId: v.optional(v.pipe(v.string(), v.uuid())),
  q: v.optional(v.pipe(v.string(), v.maxLength(SEARCH_MAX_CHARS))),
  tag: v.optional(v.pipe(v.string(), v.maxLength(NAME_MAX_CHARS))),
  reading: v.optional(v.picklist(PAINT_READINGS)),
  frames: v.optional(v.picklist(['one', 'many'])),
  sizeFrom: maybeSize,
  sizeTo: maybeSize,
  maker: v.optional(v.pipe(v.string(), v.maxLength(NAME_MAX_CHARS))),
  bin: flag,
  loose: flag,
})
const Page = v.object({
  ...Filter.entries,
  sort: v.optional(v.picklist(['name', 'newest', 'size', 'set']), 'name'),
  cursor: v.optional(v.pipe(v.string(), v.maxLength(1000))),
  limit: whole(100, PAGE_MAX),
})
const Tagging = v.object({ ids: Ids, add: v.optional(Tags, []), remove: v.optional(Tags, []) })

/** The library's brushes: lists and what is done to many at once. One brush is in `one-brush.ts`. */
export const brushRoutes = (deps: AppDeps) => {
  const { db, pool, events } = deps
  const changed = (workspaceId: string, id?: string) =>
    events.publish({ workspaceId, topic: 'library', ...(id ? { id } : {}) })
  return new Hono<SignedIn>()
    .get('/', valid('query', Page), async (c) => {
      const { sort, cursor, limit, ...filter } = c.req.valid('query')
      const page = await listBrushes(pool, c.get('workspaceId'), filter, {
        sort,
        cursor: readCursor(cursor, sort),
        limit,
      })
      return c.json({ brushes: page.brushes, next: page.next ? writeCursor(page.next) : null })
    })
    .get('/count', valid('query', Filter), async (c) =>
      c.json({ count: await countBrushes(pool, c.get('workspaceId'), c.req.valid('query')) }),
    )
    .get('/ids', valid('query', Filter), async (c) =>
      c.json({ ids: await listBrushIds(pool, c.get('workspaceId'), c.req.valid('query')) }),
    )
    .get('/facets', async (c) => c.json(await listFacets(db, c.get('workspaceId'))))
    .post('/bin', valid('json', v.object({ ids: Ids })), async (c) => {
      const count = await binBrushes(db, c.get('workspaceId'), c.req.valid('json').ids, true)
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
    .post('/tags', valid('json', Tagging), async (c) => {
      const { ids, ...change } = c.req.valid('json')
      const count = await tagBrushes(db, c.get('workspaceId'), ids, change)
      await changed(c.get('workspaceId'))
      return c.json({ changed: count })
    })
}

const writeCursor = (cursor: BrushCursor): string => JSON.stringify([cursor.value, cursor.id])

const Cursor = v.pipe(v.string(), v.parseJson(), v.strictTuple([v.string(), v.pipe(v.string(), v.uuid())]))

/** What a cursor's value must be like for each order; the database would fail on anything else. */
const isCursorValue: Record<BrushSort, (value: string) => boolean> = {
  name: () => true,
  set: () => true,
  newest: (value) => /^\d{4}-/.test(value) && !Number.isNaN(Date.parse(value)),
  size: (value) => value.trim() !== '' && Number.isFinite(Number(value)),
}

function readCursor(text: string | undefined, sort: BrushSort): BrushCursor | undefined {
  if (text === undefined) return undefined
  const result = v.safeParse(Cursor, text)
  if (!result.success || !isCursorValue[sort](result.output[0])) {
    throw new Problem(422, 'The place in the list is not known; start again from the top.')
  }
  return { value: result.output[0], id: result.output[1] }
}
