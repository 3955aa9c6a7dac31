import { Name } from '@satchel/core/forms/names'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { addToSet, copySet, createSet, listSets, moveSet, removeFromSet, updateSet } from '../db/sets.ts'
import { notFound } from '../errors.ts'
import type { SignedIn } from './context.ts'
import { Id, Ids, someOf, valid } from './validate.ts'

const Change = someOf({ name: v.optional(Name), hidden: v.optional(v.boolean()) })
const After = v.object({ afterId: v.nullable(v.pipe(v.string(), v.uuid())) })

/** The rack of sets. */
export const setRoutes = ({ db, events }: AppDeps) => {
  const changed = (workspaceId: string) => events.publish({ workspaceId, topic: 'library' })
  return new Hono<SignedIn>()
    .get('/', async (c) => c.json({ sets: await listSets(db, c.get('workspaceId')) }))
    .post('/', valid('json', v.object({ name: Name })), async (c) => {
      const set = await createSet(db, c.get('workspaceId'), c.req.valid('json').name)
      await changed(c.get('workspaceId'))
      return c.json(set, 201)
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
    .delete('/:id', valid('param', Id), async (c) => {
      const set = await updateSet(db, c.get('workspaceId'), c.req.valid('param').id, { deletedAt: new Date() })
      if (!set) throw notFound('set')
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
