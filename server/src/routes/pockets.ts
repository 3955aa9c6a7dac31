import { SIZE_MAX_PX, SIZE_MIN_PX } from '@satchel/core/brush/recipe'
import { Line, Name } from '@satchel/core/forms/names'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import {
  createPocket,
  listPockets,
  movePocketItem,
  pinBrushes,
  removePocketItem,
  updatePocket,
  updatePocketItem,
} from '../db/pockets.ts'
import { notFound } from '../errors.ts'
import type { SignedIn } from './context.ts'
import { Id, Ids, someOf, valid } from './validate.ts'

const uuid = v.pipe(v.string(), v.uuid())
const New = v.object({ name: Name, setId: v.optional(uuid) })
const Item = v.object({ id: uuid, itemId: uuid })
const ItemChange = someOf({
  sizePx: v.optional(v.pipe(v.number(), v.minValue(SIZE_MIN_PX), v.maxValue(SIZE_MAX_PX))),
  label: v.optional(Line),
})

/** Pockets: strips of favourite brushes at fixed sizes. */
export const pocketRoutes = ({ db, events }: AppDeps) => {
  const changed = (workspaceId: string) => events.publish({ workspaceId, topic: 'pockets' })
  const orGone = async (workspaceId: string, found: boolean, what: string) => {
    if (!found) throw notFound(what)
    await changed(workspaceId)
  }
  return new Hono<SignedIn>()
    .get('/', async (c) => c.json({ pockets: await listPockets(db, c.get('workspaceId')) }))
    .post('/', valid('json', New), async (c) => {
      const id = await createPocket(db, c.get('workspaceId'), c.req.valid('json'))
      await changed(c.get('workspaceId'))
      return c.json({ id }, 201)
    })
    .patch('/:id', valid('param', Id), valid('json', v.object({ name: Name })), async (c) => {
      const workspaceId = c.get('workspaceId')
      await orGone(
        workspaceId,
        await updatePocket(db, workspaceId, c.req.valid('param').id, c.req.valid('json')),
        'pocket',
      )
      return c.json({ ok: true })
    })
    .delete('/:id', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const gone = await updatePocket(db, workspaceId, c.req.valid('param').id, { deletedAt: new Date() })
      await orGone(workspaceId, gone, 'pocket')
      return c.json({ ok: true })
    })
    .post('/:id/bring-back', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const back = await updatePocket(db, workspaceId, c.req.valid('param').id, { deletedAt: null })
      await orGone(workspaceId, back, 'pocket')
      return c.json({ ok: true })
    })
    .post('/:id/items', valid('param', Id), valid('json', v.object({ ids: Ids })), async (c) => {
      const workspaceId = c.get('workspaceId')
      const pinned = await pinBrushes(db, workspaceId, c.req.valid('param').id, c.req.valid('json').ids)
      await orGone(workspaceId, pinned, 'pocket')
      return c.json({ ok: true }, 201)
    })
    .patch('/:id/items/:itemId', valid('param', Item), valid('json', ItemChange), async (c) => {
      const workspaceId = c.get('workspaceId')
      const found = await updatePocketItem(db, workspaceId, c.req.valid('param').itemId, c.req.valid('json'))
      await orGone(workspaceId, found, 'entry of the pocket')
      return c.json({ ok: true })
    })
    .delete('/:id/items/:itemId', valid('param', Item), async (c) => {
      const workspaceId = c.get('workspaceId')
      await orGone(
        workspaceId,
        await removePocketItem(db, workspaceId, c.req.valid('param').itemId),
        'entry of the pocket',
      )
      return c.json({ ok: true })
    })
    .post(
      '/:id/items/:itemId/move',
      valid('param', Item),
      valid('json', v.object({ afterId: v.nullable(uuid) })),
      async (c) => {
        const workspaceId = c.get('workspaceId')
        const moved = await movePocketItem(db, workspaceId, c.req.valid('param').itemId, c.req.valid('json').afterId)
        await orGone(workspaceId, moved, 'entry of the pocket')
        return c.json({ ok: true })
      },
    )
}
