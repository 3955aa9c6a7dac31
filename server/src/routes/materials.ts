import { Name } from '@satchel/core/forms/names'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import {
  addMaterials,
  binMaterial,
  findGrain,
  findMaterial,
  listMaterialBrushes,
  listMaterials,
  renameMaterial,
} from '../db/materials.ts'
import { replaceGrain } from '../db/replace-grain.ts'
import { notFound, Problem } from '../errors.ts'
import { readAtMost } from './body.ts'
import type { SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

const List = v.object({ bin: v.optional(v.literal('1')) })

/** A tile that was drawn or mended on the page. */
const TILE_MAX_BYTES = 64 * 1024 * 1024

/** The library's grains and strips. They come in through the ledger, or are drawn and mended on the page. */
export const materialRoutes = ({ db, blobs, workers, events }: AppDeps) => {
  const changed = (workspaceId: string) => events.publish({ workspaceId, topic: 'library' })
  return new Hono<SignedIn>()
    .get('/', valid('query', List), async (c) => {
      const materials = await listMaterials(db, c.get('workspaceId'), { bin: c.req.valid('query').bin === '1' })
      return c.json({ materials })
    })
    .post('/', valid('query', v.object({ name: Name })), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { name } = c.req.valid('query')
      const tooLarge = new Problem(413, `"${name}" is larger than ${TILE_MAX_BYTES / 1024 ** 2} MiB; draw it smaller.`)
      if (Number(c.req.header('content-length') ?? 0) > TILE_MAX_BYTES) throw tooLarge
      const bytes = await readAtMost(c, TILE_MAX_BYTES)
      if (!bytes) throw tooLarge
      const read = await workers.run('readTip', { bytes })
      const [frame, ...others] = read.outcome === 'tip' ? read.frames : []
      if (read.outcome !== 'tip' || !frame || others.length > 0)
        throw new Problem(422, `"${name}" is no single picture that can be kept as a grain; draw it again.`)
      const { png, pixelSha, width, height } = frame
      const id = await db.transaction(async (tx) => {
        const { sha256: blobSha } = await blobs.put(tx, workspaceId, png, 'image/png')
        const seam = { seamAcross: read.seam?.across ?? 0, seamDown: read.seam?.down ?? 0 }
        await addMaterials(tx, workspaceId, [{ kind: 'grain', name, blobSha, pixelSha, width, height, ...seam }])
        return (await findGrain(tx, workspaceId, pixelSha))?.id
      })
      await changed(workspaceId)
      return c.json({ id }, 201)
    })
    .post('/:id/replace', valid('param', Id), valid('json', v.object({ by: Id.entries.id })), async (c) => {
      const workspaceId = c.get('workspaceId')
      const [from, to] = await Promise.all(
        [c.req.valid('param').id, c.req.valid('json').by].map((id) => findMaterial(db, workspaceId, id)),
      )
      if (from?.kind !== 'grain' || to?.kind !== 'grain') throw notFound('grain')
      const count = await replaceGrain(db, from, to)
      await changed(workspaceId)
      return c.json({ changed: count })
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
