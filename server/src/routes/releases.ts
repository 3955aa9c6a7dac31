import { Hono } from 'hono'
import * as v from 'valibot'
import { findPack } from '../db/packs.ts'
import type { AppDeps } from '../deps.ts'
import { notFound } from '../errors.ts'
import { createRelease } from '../hand-out/create-release.ts'
import type { SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

const NOTES_MAX_CHARS = 5_000

const NewRelease = v.object({
  version: v.pipe(v.string(), v.trim(), v.maxLength(60)),
  notes: v.optional(v.pipe(v.string(), v.maxLength(NOTES_MAX_CHARS)), ''),
})

/** A pack's releases. */
export const releaseRoutes = (deps: AppDeps) =>
  new Hono<SignedIn>().post('/:id/releases', valid('param', Id), valid('json', NewRelease), async (c) => {
    const workspaceId = c.get('workspaceId')
    const pack = await findPack(deps.db, workspaceId, c.req.valid('param').id)
    if (!pack) throw notFound('pack')
    const release = await createRelease(deps, pack, c.req.valid('json'))
    await deps.events.publish({ workspaceId, topic: 'packs', id: pack.id })
    return c.json({ id: release.id }, 201)
  })
