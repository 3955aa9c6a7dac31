import { NewPassword, Owner } from '@satchel/core/forms/account'
import { APIError } from 'better-auth/api'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import {
  claimInstall,
  createWorkspace,
  findMembership,
  isEmptyInstall,
  listSessionIds,
  releaseInstallClaim,
} from '../db/members.ts'
import { notFound, Problem } from '../errors.ts'
import { isEasyToGuess, isLeaked } from '../people/password.ts'
import { endSignIn, findSession, listSignIns } from '../people/sessions.ts'
import { noteSecurity } from '../security-log.ts'
import { valid } from './validate.ts'

const SignInId = v.object({ id: v.pipe(v.string(), v.regex(/^[\w-]{1,100}$/, 'a sign-in')) })
function refuseEasy(password: string, known: readonly string[]): void {
  if (isLeaked(password) || isEasyToGuess(password, known))
    throw new Problem(
      422,
      'This password is among the first that are tried. Take several words that do not belong together.',
    )
}

/** Who is signed in, one's password, and the first visit of an empty install. */
export const sessionRoutes = (deps: AppDeps) => {
  const { auth, db, events, limits, log, welcome } = deps
  const signedInOnly = async (headers: Headers) => {
    const session = await findSession(deps, headers)
    if (!session) throw new Problem(401, 'Your sign-in has ended; sign in again to go on.')
    return session
  }
  return (
    new Hono()
      .get('/', async (c) => {
        const session = await findSession(deps, c.req.raw.headers)
        const membership = session ? await findMembership(db, session.user.id) : undefined
        c.header('cache-control', 'no-store')
        if (!session || !membership) return c.json({ signedIn: false as const, empty: await isEmptyInstall(db) })
        const { name, email } = session.user
        return c.json({ signedIn: true as const, name, email, workspace: membership.workspace, role: membership.role })
      })
      .post('/owner', valid('json', Owner), async (c) => {
        const { workspace, ...person } = c.req.valid('json')
        refuseEasy(person.password, [person.name, person.email, workspace])
        if (!(await claimInstall(db)))
          throw new Problem(409, 'This install has an owner already, or gets one just now; sign in instead.')
        try {
          const { headers, response } = await auth.api.signUpEmail({ body: person, returnHeaders: true })
          const workspaceId = await createWorkspace(db, workspace, response.user.id)
          noteSecurity(log, 'first owner made', { person: response.user.id, workspace: workspaceId })
          // Drawing the starter library takes a second or two; nobody waits for it.
          welcome(workspaceId).catch((error: unknown) => log.error({ error, workspaceId }, 'no starter library given'))
          for (const cookie of headers.getSetCookie()) c.header('set-cookie', cookie, { append: true })
          return c.json({ ok: true }, 201)
        } finally {
          await releaseInstallClaim(db)
        }
      })
      // One's own, whatever one may do in the workspace: all other sign-ins of the account end.
      .post('/password', valid('json', NewPassword), async (c) => {
        const { headers } = c.req.raw
        const session = await signedInOnly(headers)
        const { email, name, id } = session.user
        const { current, next } = c.req.valid('json')
        refuseEasy(next, [name, email])
        // apart from signing in: what strangers guess there keeps nobody from a new password
        const account = `password of ${id}`
        await limits.checkAccount(account, false)
        const before = await listSessionIds(db, id)
        const body = { currentPassword: current, newPassword: next, revokeOtherSessions: true }
        const changed = await auth.api
          .changePassword({ body, headers, returnHeaders: true })
          .catch((error: unknown) => {
            if (error instanceof APIError && error.status === 'BAD_REQUEST') return undefined
            throw error
          })
        if (!changed) {
          await limits.noteFailure(account, false)
          noteSecurity(log, 'password change refused', { person: id })
          throw new Problem(422, 'That is not the password you have now; type it again.')
        }
        for (const ended of before) events.endSession(ended)
        noteSecurity(log, 'password changed', { person: id })
        for (const cookie of changed.headers.getSetCookie()) c.header('set-cookie', cookie, { append: true })
        return c.json({ ok: true })
      })
      // where one is signed in, and an end to any of it
      .get('/sign-ins', async (c) => {
        const { user, session } = await signedInOnly(c.req.raw.headers)
        return c.json({ signIns: await listSignIns(deps, { userId: user.id, currentId: session.id }) })
      })
      .post('/sign-ins/:id/end', valid('param', SignInId), async (c) => {
        const { user } = await signedInOnly(c.req.raw.headers)
        if (!(await endSignIn(deps, user.id, c.req.valid('param').id))) throw notFound('sign-in')
        noteSecurity(log, 'sign-in ended', { person: user.id })
        return c.json({ ok: true })
      })
  )
}
