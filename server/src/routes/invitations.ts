import type { HttpBindings } from '@hono/node-server'
import { Newcomer } from '@satchel/core/forms/members'
import { ROLES } from '@satchel/core/members/roles'
import { APIError } from 'better-auth/api'
import { eq } from 'drizzle-orm'
import { Hono } from 'hono'
import type { AppDeps } from '../app-deps.ts'
import { insertAuditLines } from '../db/audit.ts'
import { findInvitation, isMember, takeInvitation } from '../db/invitations.ts'
import { user } from '../db/schema/all.ts'
import { Problem } from '../errors.ts'
import { hashToken } from '../hand-out/token.ts'
import { refuseEasy } from '../people/password.ts'
import { findSession } from '../people/sessions.ts'
import { noteSecurity } from '../security-log.ts'
import { Token } from './hand-out-token.ts'
import { valid } from './validate.ts'

const over = () => new Problem(404, 'This invitation is open no more. Ask whoever sent it for a new one.')

/** What whoever holds an invitation may do: see where it leads, and join, with an account or by making one. */
export const invitationRoutes = (deps: AppDeps) => {
  const { auth, db, events, log } = deps
  /** Joins, in the audit list too. @throws {Problem} Where somebody else was quicker, or it ended meanwhile. */
  const join = async (token: string, who: { userId: string; sessionId?: string; name: string }) => {
    const taken = await takeInvitation(db, hashToken(token), who)
    if (!taken) throw over()
    const { workspaceId, role, isNew } = taken
    if (isNew) {
      const said = `Joined: ${who.name}, as ${ROLES[role].called.toLowerCase()}`
      await insertAuditLines(db, [{ workspaceId, person: who.name, kind: 'member', said }])
      noteSecurity(log, 'member joined', { person: who.userId, workspace: workspaceId })
    }
    if (who.sessionId) events.endSession(who.sessionId)
    await events.publish({ workspaceId, topic: 'members' })
  }
  return new Hono<{ Bindings: HttpBindings }>()
    .use('/:token/*', async (c, next) => {
      await deps.limits.takeLink(c.req.param('token'))
      await next()
    })
    .get('/:token', valid('param', Token), async (c) => {
      const found = await findInvitation(db, hashToken(c.req.valid('param').token))
      if (!found) throw over()
      const { workspaceId, workspace, role, invitedBy, expiresAt } = found
      const session = await findSession(deps, c.req.raw.headers)
      const { name, email } = session?.user ?? {}
      const isIn = session !== null && (await isMember(db, workspaceId, session.user.id))
      c.header('cache-control', 'no-store')
      return c.json({
        ...{ workspace, role, invitedBy, expiresAt },
        you: name !== undefined && email !== undefined ? { name, email, isIn } : null,
      })
    })
    .post('/:token/join', valid('param', Token), async (c) => {
      const session = await findSession(deps, c.req.raw.headers)
      if (!session) throw new Problem(401, 'Sign in first, and open the link again.')
      const { id, name } = session.user
      await join(c.req.valid('param').token, { userId: id, sessionId: session.session.id, name })
      return c.json({ ok: true })
    })
    .post('/:token/account', valid('param', Token), valid('json', Newcomer), async (c) => {
      const { token } = c.req.valid('param')
      const person = c.req.valid('json')
      if (!(await findInvitation(db, hashToken(token)))) throw over()
      refuseEasy(person.password, [person.name, person.email])
      const { headers, response } = await auth.api
        .signUpEmail({ body: person, returnHeaders: true })
        .catch((error: unknown) => {
          if (error instanceof APIError && error.status === 'UNPROCESSABLE_ENTITY')
            throw new Problem(409, 'There is an account with this e-mail address already; sign in with it and join.')
          throw error
        })
      try {
        await join(token, { userId: response.user.id, name: person.name })
      } catch (error) {
        // nobody keeps an account that leads nowhere
        await db.delete(user).where(eq(user.id, response.user.id))
        throw error
      }
      for (const cookie of headers.getSetCookie()) c.header('set-cookie', cookie, { append: true })
      return c.json({ ok: true }, 201)
    })
}
