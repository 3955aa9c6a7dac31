import { Hono } from 'hono'
import type { AppDeps } from '../app-deps.ts'
import { addPhoneLink, endPhoneLink, findPhoneLink } from '../db/phone-links.ts'
import { notFound } from '../errors.ts'
import { createToken, hashToken } from '../hand-out/token.ts'
import { checkRoomForPhoneLink } from '../library/room.ts'
import type { SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

const OPEN_MS = 10 * 60_000
/** What is known of a link that has ended is kept for a day: the dialog may still be open. */
const KEPT_MS = 24 * 60 * 60_000

/** Links by which a phone brings photographs, as the curator has them. */
export const phoneLinkRoutes = (deps: AppDeps) => {
  const { db, events, origin } = deps
  return new Hono<SignedIn>()
    .post('/', async (c) => {
      await checkRoomForPhoneLink(deps, c.get('workspaceId'))
      const token = createToken()
      const now = Date.now()
      const { id, endsAt } = await addPhoneLink(
        db,
        { workspaceId: c.get('workspaceId'), tokenHash: hashToken(token), endsAt: new Date(now + OPEN_MS) },
        new Date(now - KEPT_MS),
      )
      return c.json({ id, endsAt, link: `${origin}/p/${token}`, isForThisMachine: isForThisMachine(origin) }, 201)
    })
    .get('/:id', valid('param', Id), async (c) => {
      const link = await findPhoneLink(db, c.get('workspaceId'), c.req.valid('param').id)
      if (!link) throw notFound('link')
      const { photographs, endsAt, holderHash } = link
      return c.json({ photographs, endsAt, isOpened: holderHash !== null, hasEnded: endsAt.getTime() <= Date.now() })
    })
    .delete('/:id', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      if (!(await endPhoneLink(db, workspaceId, c.req.valid('param').id))) throw notFound('link')
      await events.publish({ workspaceId, topic: 'gather' })
      return c.json({ ok: true })
    })
}

/** Whether an address leads to the machine it is asked on: nobody else's phone gets there. */
const isForThisMachine = (origin: string): boolean =>
  /^(127\.|localhost$|.*\.localhost$|\[::1\]$)/.test(new URL(origin).hostname)
