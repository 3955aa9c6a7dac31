import { CoverCrop, CoverPlan } from '@satchel/core/cover/cover'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { findPack, setCover } from '../db/packs.ts'
import { notFound, Problem } from '../errors.ts'
import { composeCover, paintCover, takeCover } from '../hand-out/covers.ts'
import { readAtMost } from './body.ts'
import { immutablePng, type SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

/** A picture for a cover, bytes. */
const PICTURE_MAX_BYTES = 64 * 1024 * 1024
const Composed = v.object({ cover: CoverPlan })
const Number01 = v.pipe(v.string(), v.maxLength(20), v.transform(Number))
const Crop = v.pipe(v.object({ left: Number01, top: Number01, width: Number01, height: Number01 }), CoverCrop)

/** What stands for a pack: composed of strokes, or a picture of one's own. */
export const coverRoutes = (deps: AppDeps) => {
  const { db, events, blobs } = deps
  const open = async (workspaceId: string, id: string) => {
    const pack = await findPack(db, workspaceId, id)
    if (!pack) throw notFound('pack')
    return pack
  }
  const changed = (workspaceId: string, id: string) => events.publish({ workspaceId, topic: 'packs', id })
  return (
    new Hono<SignedIn>()
      .get('/:id/cover.png', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { coverSha } = await open(workspaceId, c.req.valid('param').id)
        if (!coverSha) throw new Problem(404, 'This pack has no cover yet.')
        return immutablePng(c, coverSha, await blobs.read(workspaceId, coverSha))
      })
      // what a cover would look like; nothing is kept of it
      .post('/:id/cover/look', valid('param', Id), valid('json', Composed), async (c) => {
        const workspaceId = c.get('workspaceId')
        await open(workspaceId, c.req.valid('param').id)
        const png = await paintCover(deps, workspaceId, c.req.valid('json').cover)
        return c.body(new Uint8Array(png), 200, { 'content-type': 'image/png', 'cache-control': 'no-store' })
      })
      .put('/:id/cover', valid('param', Id), valid('json', Composed), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        await composeCover(deps, await open(workspaceId, id), c.req.valid('json').cover)
        await changed(workspaceId, id)
        return c.json({ ok: true })
      })
      .post('/:id/cover/picture', valid('param', Id), valid('query', Crop), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        const pack = await open(workspaceId, id)
        const bytes = await readAtMost(c, PICTURE_MAX_BYTES)
        if (!bytes) throw new Problem(413, 'This picture is larger than 64 MiB; choose a smaller one.')
        await takeCover(deps, pack, { bytes, crop: c.req.valid('query') })
        await changed(workspaceId, id)
        return c.json({ ok: true })
      })
      .delete('/:id/cover', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await db.transaction((tx) => setCover(tx, { workspaceId, id }, { cover: null, coverSha: null }))))
          throw notFound('pack')
        await changed(workspaceId, id)
        return c.json({ ok: true })
      })
  )
}
