import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { findPack } from '../db/packs.ts'
import { findRelease, recallRelease } from '../db/releases.ts'
import { notFound, Problem } from '../errors.ts'
import { buildAgain, createRelease } from '../hand-out/create-release.ts'
import type { SignedIn } from './context.ts'
import { about } from './noted.ts'
import { Id, valid } from './validate.ts'

const NOTES_MAX_CHARS = 5_000

const NewRelease = v.object({
  version: v.pipe(v.string(), v.trim(), v.maxLength(60)),
  notes: v.optional(v.pipe(v.string(), v.maxLength(NOTES_MAX_CHARS)), ''),
})

const RECALL_MAX_CHARS = 500
const Recall = v.object({
  reason: v.pipe(v.string(), v.trim(), v.minLength(1, 'a recall needs a reason'), v.maxLength(RECALL_MAX_CHARS)),
})

const OfRelease = v.object({ ...Id.entries, releaseId: Id.entries.id })

/** A pack's releases. */
export const releaseRoutes = (deps: AppDeps) =>
  new Hono<SignedIn>()
    .post('/:id/releases/:releaseId/build', valid('param', OfRelease), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id, releaseId } = c.req.valid('param')
      const pack = await findPack(deps.db, workspaceId, id)
      const release = await findRelease(deps.db, workspaceId, releaseId)
      if (!pack || release?.packId !== id) throw notFound('release')
      if (release.state === 'ready') throw new Problem(409, 'It is built already; look at it again.')
      await buildAgain(deps, pack, release)
      await deps.events.publish({ workspaceId, topic: 'packs', id })
      return c.json({ ok: true })
    })
    .post('/:id/releases/:releaseId/recall', valid('param', OfRelease), valid('json', Recall), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id, releaseId } = c.req.valid('param')
      const release = await findRelease(deps.db, workspaceId, releaseId)
      if (release?.packId !== id) throw notFound('release')
      if (!(await recallRelease(deps.db, workspaceId, releaseId, c.req.valid('json').reason)))
        throw new Problem(409, `Release ${release.version} was recalled already; look at it again.`)
      about(c, `${release.manifest.title} ${release.version}`)
      await deps.events.publish({ workspaceId, topic: 'packs', id })
      await deps.events.publish({ workspaceId, topic: 'fit' })
      return c.json({ ok: true })
    })
    .post('/:id/releases', valid('param', Id), valid('json', NewRelease), async (c) => {
      const workspaceId = c.get('workspaceId')
      const pack = await findPack(deps.db, workspaceId, c.req.valid('param').id)
      if (!pack) throw notFound('pack')
      const release = await createRelease(deps, pack, c.req.valid('json'))
      about(c, `${pack.title} ${release.version}`)
      await deps.events.publish({ workspaceId, topic: 'packs', id: pack.id })
      return c.json({ id: release.id }, 201)
    })
