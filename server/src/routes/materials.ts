import { Hono } from 'hono'
import * as v from 'valibot'
import { binMaterial, findMaterial, listMaterialBrushes, listMaterials, renameMaterial } from '../db/materials.ts'
import type { AppDeps } from '../deps.ts'
import { notFound } from '../errors.ts'
import type { SignedIn } from './context.ts'
import { Id, Name, valid } from './validate.ts'

const List = v.object({ bin: v.optional(v.literal('1')) })

/** The library's grains and strips. They come in through the ledger. */
export const materialRoutes = ({ db, events }: AppDeps) => {
  const changed = (workspaceId: string) => events.publish({ workspaceId, topic: 'library' })
  return new Hono<SignedIn>()
    .get('/', valid('query', List), async (c) => {
      const materials = await listMaterials(db, c.get('workspaceId'), { bin: c.req.valid('query').bin === '1' })
      return c.json({ materials })
    })
    .get('/:id', valid('param', Id), async (c) => {
      const material = await findMaterial(db, c.get('workspaceId'), c.req.valid('param').id)
      if (!material) throw notFound('grain or strip')
      return c.json({ ...material, brushes: await listMaterialBrushes(db, material) })
    })
    .patch('/:id', valid('param', Id), valid('json', v.object({ name: Name })), async (c) => {
      const workspaceId = c.get('workspaceId')
      if (!(await renameMaterial(db, workspaceId, c.req.valid('param').id, c.req.valid('json').name)))
        throw notFound('grain or strip')
      await changed(workspaceId)
      return c.json({ ok: true })
    })
    .post('/:id/bin', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      if (!(await binMaterial(db, workspaceId, c.req.valid('param').id, true))) throw notFound('grain or strip')
      await changed(workspaceId)
      return c.json({ ok: true })
    })
    .post('/:id/bring-back', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      if (!(await binMaterial(db, workspaceId, c.req.valid('param').id, false))) throw notFound('grain or strip')
      await changed(workspaceId)
      return c.json({ ok: true })
    })
}
