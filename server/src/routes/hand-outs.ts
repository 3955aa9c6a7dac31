import { DownloadLimit } from '@satchel/core/forms/hand-out'
import { Name } from '@satchel/core/forms/names'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { updateHandOut } from '../db/hand-outs.ts'
import { notFound } from '../errors.ts'
import { createHandOut, renewLink } from '../hand-out/hand-outs.ts'
import type { SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

const NewHandOut = v.object({
  releaseId: v.pipe(v.string(), v.uuid()),
  name: Name,
  endsAt: v.optional(v.nullable(v.pipe(v.string(), v.isoTimestamp('an end is a date and time')))),
  downloadLimit: v.optional(v.nullable(DownloadLimit)),
})

/** Releases given to people through links. */
export const handOutRoutes = ({ db, events, origin }: AppDeps) => {
  const changed = (workspaceId: string) => events.publish({ workspaceId, topic: 'packs' })
  const linkOf = (token: string) => `${origin}/h/${token}`
  const setWithdrawn = async (workspaceId: string, id: string, withdrawnAt: Date | null) => {
    if (!(await updateHandOut(db, workspaceId, id, { withdrawnAt }))) throw notFound('hand-out')
    await changed(workspaceId)
  }
  return new Hono<SignedIn>()
    .post('/:id/hand-outs', valid('param', Id), valid('json', NewHandOut), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { endsAt, downloadLimit = null, ...wish } = c.req.valid('json')
      const { handOut, token } = await createHandOut(db, workspaceId, {
        ...wish,
        packId: c.req.valid('param').id,
        endsAt: endsAt ? new Date(endsAt) : null,
        downloadLimit,
      })
      await changed(workspaceId)
      return c.json({ id: handOut.id, link: linkOf(token) }, 201)
    })
    .post('/hand-outs/:id/withdraw', valid('param', Id), async (c) => {
      await setWithdrawn(c.get('workspaceId'), c.req.valid('param').id, new Date())
      return c.json({ ok: true })
    })
    .post('/hand-outs/:id/give-again', valid('param', Id), async (c) => {
      await setWithdrawn(c.get('workspaceId'), c.req.valid('param').id, null)
      return c.json({ ok: true })
    })
    .post('/hand-outs/:id/new-link', valid('param', Id), async (c) => {
      const token = await renewLink(db, c.get('workspaceId'), c.req.valid('param').id)
      await changed(c.get('workspaceId'))
      return c.json({ link: linkOf(token) })
    })
}
