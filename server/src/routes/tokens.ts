import { NewToken } from '@satchel/core/forms/members'
import { TOKEN_PREFIX, TOKEN_SCOPES } from '@satchel/core/members/tokens'
import { Hono } from 'hono'
import { createMiddleware } from 'hono/factory'
import type { AppDeps } from '../app-deps.ts'
import { countTokens, endToken, insertToken, listTokens } from '../db/tokens.ts'
import { notFound, Problem } from '../errors.ts'
import { createToken } from '../hand-out/token.ts'
import { byToken, hashOfToken } from '../people/identify.ts'
import { noteSecurity } from '../security-log.ts'
import type { SignedIn } from './context.ts'
import { about } from './noted.ts'
import { Id, valid } from './validate.ts'

/** Open tokens of one person. */
const TOKENS_MAX = 20

/** Lets only people through: no program makes another key for itself, or invites somebody. */
export const peopleOnly = createMiddleware<SignedIn>(async (c, next) => {
  if (c.get('isToken')) throw new Problem(403, 'A token cannot do this; sign in and do it on the page.')
  await next()
})

/** Tokens by which programs come: one's own, and for the owner those of all members. */
export const tokenRoutes = ({ db, events, log }: AppDeps) => {
  const whose = (role: string, personId: string) => (role === 'owner' ? undefined : personId)
  return new Hono<SignedIn>()
    .get('/', async (c) =>
      c.json({
        tokens: await listTokens(db, c.get('workspaceId'), whose(c.get('role'), c.get('person').id)),
      }),
    )
    .post('/', peopleOnly, valid('json', NewToken), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id: userId } = c.get('person')
      if ((await countTokens(db, workspaceId, userId)) >= TOKENS_MAX)
        throw new Problem(429, `You have ${TOKENS_MAX} tokens here already; end some of them first.`)
      const { name, scope, days } = c.req.valid('json')
      const token = `${TOKEN_PREFIX}${createToken()}`
      const made = { userId, name, scope, days, tokenHash: hashOfToken(token) }
      const { id, expiresAt } = await insertToken(db, workspaceId, made)
      about(c, `${name}, to ${TOKEN_SCOPES[scope].called.toLowerCase()}`)
      noteSecurity(log, 'token made', { person: userId, workspace: workspaceId })
      return c.json({ id, expiresAt, token }, 201)
    })
    .post('/:id/end', peopleOnly, valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const name = await endToken(db, workspaceId, id, whose(c.get('role'), c.get('person').id))
      if (name === undefined) throw notFound('token')
      events.endSession(byToken(id))
      about(c, name)
      noteSecurity(log, 'token ended', { person: c.get('person').id, workspace: workspaceId })
      return c.json({ ok: true })
    })
}
