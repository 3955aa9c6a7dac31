import { readRecipe } from '@satchel/core/brush/migrate-recipe'
import { PAINT_READINGS } from '@satchel/core/brush/recipe'
import { FormatError } from '@satchel/core/errors'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import { Hono } from 'hono'
import * as v from 'valibot'
import { copyBrush, findVersion, labelVersion } from '../db/brush-versions.ts'
import {
  binBrushes,
  findBrush,
  findBrushForStroke,
  goToVersion,
  listFacets,
  saveBrush,
  tagBrushes,
} from '../db/brushes.ts'
import { type BrushCursor, type BrushSort, countBrushes, listBrushes, listBrushIds } from '../db/list-brushes.ts'
import { addToSet } from '../db/sets.ts'
import type { AppDeps } from '../deps.ts'
import { notFound, Problem } from '../errors.ts'
import { emptyOldBin } from '../jobs/bin-keeper.ts'
import { strokePicture, tipPicture } from '../jobs/stroke-picture.ts'
import { immutablePng, type SignedIn } from './context.ts'
import { Id, Ids, Line, Name, valid } from './validate.ts'

const PAGE_MAX = 200
const SEARCH_MAX_CHARS = 200
const TAGS_MAX = 30
const TIP_SIDE_PX = 88 // twice what a list line shows

const whole = (fallback: number, max: number) =>
  v.optional(v.pipe(v.string(), v.transform(Number), v.integer(), v.minValue(1), v.maxValue(max)), String(fallback))
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
const Tags = v.pipe(v.array(Name), v.maxLength(TAGS_MAX))
const Save = v.object({
  name: Name,
  maker: Line,
  licence: Line,
  tags: Tags,
  recipe: v.unknown(),
  from: v.pipe(v.number(), v.integer(), v.minValue(1)),
})
const Version = v.object({ ordinal: v.pipe(v.number(), v.integer(), v.minValue(1)) })
const Tagging = v.object({ ids: Ids, add: v.optional(Tags, []), remove: v.optional(Tags, []) })
const Picture = v.object({
  w: whole(480, 1600),
  h: whole(60, 1200),
  what: v.optional(v.picklist(['list', 'gauge']), 'list'),
  /** A version of the brush other than the current one. */
  version: v.optional(v.pipe(v.string(), v.transform(Number), v.integer(), v.minValue(1))),
})
const Copy = v.object({
  name: Name,
  maker: v.optional(Line),
  tipFrom: v.optional(v.pipe(v.string(), v.uuid())),
  setId: v.optional(v.pipe(v.string(), v.uuid())),
})
const OneVersion = v.object({
  id: v.pipe(v.string(), v.uuid()),
  ordinal: v.pipe(v.string(), v.transform(Number), v.integer(), v.minValue(1)),
})

/** The library's brushes: lists, one brush with its history, rendered strokes, the bin. */
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
    .get('/:id', valid('param', Id), async (c) => {
      const brush = await findBrush(db, c.get('workspaceId'), c.req.valid('param').id)
      if (!brush) throw notFound('brush')
      return c.json(brush)
    })
    .put('/:id', valid('param', Id), valid('json', Save), async (c) => {
      const { id } = c.req.valid('param')
      const { from, recipe, ...facts } = c.req.valid('json')
      const version = await saveBrush(db, c.get('workspaceId'), id, {
        snapshot: { ...facts, recipe: checkedRecipe(recipe) },
        from,
      })
      if (!version)
        throw new Problem(409, 'This brush was changed somewhere else meanwhile; reload it and make the change again.')
      await changed(c.get('workspaceId'), id)
      return c.json({ version })
    })
    .post('/:id/version', valid('param', Id), valid('json', Version), async (c) => {
      const { id } = c.req.valid('param')
      if (!(await goToVersion(db, c.get('workspaceId'), id, c.req.valid('json').ordinal))) throw notFound('version')
      await changed(c.get('workspaceId'), id)
      return c.json({ ok: true })
    })
    .get('/:id/versions/:ordinal', valid('param', OneVersion), async (c) => {
      const { id, ordinal } = c.req.valid('param')
      const snapshot = await findVersion(db, c.get('workspaceId'), id, ordinal)
      if (!snapshot) throw notFound('version')
      return c.json(snapshot)
    })
    .patch(
      '/:id/versions/:ordinal',
      valid('param', OneVersion),
      valid('json', v.object({ label: Line })),
      async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id: brushId, ordinal } = c.req.valid('param')
        if (!(await labelVersion(db, { workspaceId, brushId, ordinal }, c.req.valid('json').label)))
          throw notFound('version')
        await changed(workspaceId, brushId)
        return c.json({ ok: true })
      },
    )
    .post('/:id/copy', valid('param', Id), valid('json', Copy), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { setId, ...wish } = c.req.valid('json')
      const copy = await copyBrush(db, workspaceId, c.req.valid('param').id, wish)
      if (!copy) throw notFound('brush')
      if (setId) await addToSet(db, workspaceId, setId, [copy])
      await changed(workspaceId)
      return c.json({ id: copy }, 201)
    })
    .get('/:id/tip.png', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const brush = await findBrushForStroke(db, workspaceId, c.req.valid('param').id)
      const [first] = brush?.frames ?? []
      if (!brush || !first) throw notFound('brush')
      const { key, png } = await tipPicture(deps, workspaceId, {
        blobSha: first.blobSha,
        reading: brush.recipe.colour.reading,
        sidePx: TIP_SIDE_PX,
      })
      return immutablePng(c, key, png)
    })
    .get('/:id/stroke.png', valid('param', Id), valid('query', Picture), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { w, h, what, version } = c.req.valid('query')
      const brush = await findBrushForStroke(db, workspaceId, c.req.valid('param').id, version)
      if (!brush) throw notFound('brush')
      const frames = brush.frames.map((frame) => frame.blobSha)
      const { key, png } = await strokePicture(deps, workspaceId, {
        frames,
        grain: brush.grain?.blobSha,
        recipe: brush.recipe,
        width: w,
        height: h,
        what,
      })
      return immutablePng(c, key, png)
    })
}

function checkedRecipe(recipe: unknown) {
  try {
    return readRecipe(recipe)
  } catch (error) {
    if (error instanceof FormatError) throw new Problem(422, `The recipe cannot be saved: expected ${error.expected}.`)
    throw error
  }
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
