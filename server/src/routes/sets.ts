import { Line, Name } from '@satchel/core/forms/names'
import { SET_MARK_NAMES, SET_NOTE_MAX_CHARS } from '@satchel/core/forms/set-marks'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { listLines } from '../db/list-brushes.ts'
import { mergeSets, partSets } from '../db/merge-sets.ts'
import {
  addToSet,
  copySet,
  createSet,
  findNamedSet,
  listSetBrushes,
  listSets,
  moveSet,
  putInside,
  removeFromSet,
  updateSet,
} from '../db/sets.ts'
import { notFound, Problem } from '../errors.ts'
import type { SignedIn } from './context.ts'
import { about } from './noted.ts'
import { Id, Ids, someOf, valid } from './validate.ts'

const Change = someOf({
  name: v.optional(Name),
  hidden: v.optional(v.boolean()),
  note: v.optional(v.pipe(v.string(), v.trim(), v.maxLength(SET_NOTE_MAX_CHARS))),
  mark: v.optional(v.picklist([...SET_MARK_NAMES, ''])),
})
const Uuid = v.pipe(v.string(), v.uuid())
const Merging = v.object({ into: Uuid })
const Some = v.pipe(v.array(Uuid), v.maxLength(20_000))
const Parting = v.object({ into: Uuid, added: Some, packs: Some })
/** Sets, and the one that they are put inside; none takes them out. */
const Inside = v.object({ ids: v.pipe(Some, v.minLength(1)), folder: Line })
const Two = v.object({ id: Uuid, otherId: Uuid })

/** Lines of each part that are shown of two sets; all of them are named. */
const COMPARED_SHOWN = 200
const After = v.object({ afterId: v.nullable(v.pipe(v.string(), v.uuid())) })

/** The rack of sets. */
export const setRoutes = ({ db, pool, events }: AppDeps) => {
  const changed = (workspaceId: string) => events.publish({ workspaceId, topic: 'library' })
  const merged = async (workspaceId: string) => {
    await changed(workspaceId)
    await events.publish({ workspaceId, topic: 'packs' })
  }
  /** Some brushes of two sets: all their ids, and the first of their lines. */
  const partOf = async (workspaceId: string, ids: string[]) => ({
    ids,
    lines: await listLines(pool, workspaceId, ids.slice(0, COMPARED_SHOWN)),
  })
  return new Hono<SignedIn>()
    .get('/', async (c) => c.json({ sets: await listSets(db, c.get('workspaceId')) }))
    .post('/', valid('json', v.object({ name: Name })), async (c) => {
      const set = await createSet(db, c.get('workspaceId'), c.req.valid('json').name)
      await changed(c.get('workspaceId'))
      return c.json(set, 201)
    })
    .post('/inside', valid('json', Inside), async (c) => {
      const { ids, folder } = c.req.valid('json')
      const count = await putInside(db, c.get('workspaceId'), ids, folder)
      if (count === 0) throw notFound('set')
      await changed(c.get('workspaceId'))
      return c.json({ changed: count })
    })
    .patch('/:id', valid('param', Id), valid('json', Change), async (c) => {
      const set = await updateSet(db, c.get('workspaceId'), c.req.valid('param').id, c.req.valid('json'))
      if (!set) throw notFound('set')
      await changed(c.get('workspaceId'))
      return c.json(set)
    })
    .post('/:id/move', valid('param', Id), valid('json', After), async (c) => {
      if (!(await moveSet(db, c.get('workspaceId'), c.req.valid('param').id, c.req.valid('json').afterId)))
        throw notFound('set')
      await changed(c.get('workspaceId'))
      return c.json({ ok: true })
    })
    .post('/:id/copy', valid('param', Id), valid('json', v.object({ name: Name })), async (c) => {
      const set = await copySet(db, c.get('workspaceId'), c.req.valid('param').id, c.req.valid('json').name)
      if (!set) throw notFound('set')
      await changed(c.get('workspaceId'))
      return c.json(set, 201)
    })
    .post('/:id/merge', valid('param', Id), valid('json', Merging), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const { into } = c.req.valid('json')
      if (into === id) throw new Problem(422, 'A set cannot be merged into itself; choose another one.')
      const done = await mergeSets(db, workspaceId, id, into)
      if (!done) throw notFound('set')
      await merged(workspaceId)
      return c.json(done)
    })
    .post('/:id/part', valid('param', Id), valid('json', Parting), async (c) => {
      const workspaceId = c.get('workspaceId')
      if (!(await partSets(db, workspaceId, c.req.valid('param').id, c.req.valid('json')))) throw notFound('set')
      await merged(workspaceId)
      return c.json({ ok: true })
    })
    .get('/:id/beside/:otherId', valid('param', Two), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id, otherId } = c.req.valid('param')
      const [one, other] = await Promise.all([id, otherId].map((each) => findNamedSet(db, workspaceId, each)))
      if (!one || !other) throw notFound('set')
      const rows = await listSetBrushes(db, workspaceId, [id, otherId])
      const idsIn = (setId: string) => rows.flatMap((row) => (row.setId === setId ? [row.brushId] : []))
      const [here, there] = [idsIn(id), idsIn(otherId)]
      const [inHere, inThere] = [new Set(here), new Set(there)]
      return c.json({
        ...{ one, other },
        onlyOne: await partOf(workspaceId, here.filter((each) => !inThere.has(each))), // biome-ignore format: one line
        onlyOther: await partOf(workspaceId, there.filter((each) => !inHere.has(each))), // biome-ignore format: one line
        both: await partOf(workspaceId, here.filter((each) => inThere.has(each))), // biome-ignore format: one line
      })
    })
    .delete('/:id', valid('param', Id), async (c) => {
      const set = await updateSet(db, c.get('workspaceId'), c.req.valid('param').id, { deletedAt: new Date() })
      if (!set) throw notFound('set')
      about(c, set.name)
      await changed(c.get('workspaceId'))
      return c.json(set)
    })
    .post('/:id/bring-back', valid('param', Id), async (c) => {
      const set = await updateSet(db, c.get('workspaceId'), c.req.valid('param').id, { deletedAt: null })
      if (!set) throw notFound('set')
      await changed(c.get('workspaceId'))
      return c.json(set)
    })
    .post(
      '/:id/brushes',
      valid('param', Id),
      valid('json', v.object({ ids: Ids, from: v.optional(v.pipe(v.string(), v.uuid())) })),
      async (c) => {
        const workspaceId = c.get('workspaceId')
        const { ids, from } = c.req.valid('json')
        const { id } = c.req.valid('param')
        const added = await db.transaction(async (tx) => {
          const count = await addToSet(tx, workspaceId, id, ids)
          if (count === undefined) throw notFound('set')
          if (from && from !== id) await removeFromSet(tx, workspaceId, from, ids)
          return count
        })
        await changed(workspaceId)
        return c.json({ added })
      },
    )
    .post('/:id/remove', valid('param', Id), valid('json', v.object({ ids: Ids })), async (c) => {
      const removed = await removeFromSet(db, c.get('workspaceId'), c.req.valid('param').id, c.req.valid('json').ids)
      if (removed === undefined) throw notFound('set')
      await changed(c.get('workspaceId'))
      return c.json({ removed })
    })
}
