import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { arrive, depart, isThing, type Meeting, whoIsThere } from '../db/presence.ts'
import { MEETING_KINDS } from '../db/schema/all.ts'
import { notFound } from '../errors.ts'
import type { SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

const At = v.object({ kind: v.picklist(MEETING_KINDS), id: Id.entries.id })

/** Who is at a brush, a set or a pack just now, and who saved it last. */
export const presenceRoutes = ({ db, events }: AppDeps) => {
  const meetingOf = async (workspaceId: string, { kind, id }: v.InferOutput<typeof At>) => {
    const at = { workspaceId, kind, subjectId: id }
    if (!(await isThing(db, at))) throw notFound(kind)
    return at
  }
  const tell = ({ workspaceId, subjectId }: Meeting) =>
    events.publish({ workspaceId, topic: 'presence', id: subjectId })
  return (
    new Hono<SignedIn>()
      // who only looks sees who is there, and isn't seen
      .get('/:kind/:id', valid('param', At), async (c) => {
        const at = await meetingOf(c.get('workspaceId'), c.req.valid('param'))
        return c.json(await whoIsThere(db, at, c.get('person').id))
      })
      .post('/:kind/:id', valid('param', At), async (c) => {
        const at = await meetingOf(c.get('workspaceId'), c.req.valid('param'))
        const { id: personId } = c.get('person')
        if (await arrive(db, at, personId)) await tell(at)
        return c.json(await whoIsThere(db, at, personId))
      })
      .post('/:kind/:id/leave', valid('param', At), async (c) => {
        const at = await meetingOf(c.get('workspaceId'), c.req.valid('param'))
        if (await depart(db, at, c.get('person').id)) await tell(at)
        return c.json({ ok: true })
      })
  )
}
