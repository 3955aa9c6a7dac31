import type { HttpBindings } from '@hono/node-server'
import { AnotherPassword, Forgotten, NewPassword, Owner } from '@satchel/core/forms/account'
import { NewWorkspace } from '@satchel/core/forms/members'
import { APIError } from 'better-auth/api'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { insertAuditLines } from '../db/audit.ts'
import {
  chooseWorkspace,
  claimInstall,
  countOwned,
  createWorkspace,
  findMembership,
  isEmptyInstall,
  listMemberships,
  listSessionIds,
  releaseInstallClaim,
} from '../db/members.ts'
import { notFound, Problem } from '../errors.ts'
import { actOnMember } from '../people/members.ts'
import { refuseEasy } from '../people/password.ts'
import { endSignIn, findSession, goOnIn, listSignIns } from '../people/sessions.ts'
import { noteSecurity, shownAccount } from '../security-log.ts'
import { Id, valid } from './validate.ts'

const SignInId = v.object({ id: v.pipe(v.string(), v.regex(/^[\w-]{1,100}$/, 'a sign-in')) })
const Reset = v.object({
  token: v.pipe(v.string(), v.regex(/^[\w-]{1,100}$/, 'a link is wanted')),
  ...AnotherPassword.entries,
})

/** Workspaces of one person: each may fill the disk. */
const OWNED_MAX = 20

/** Who is signed in, one's password, and the first visit of an empty install. */
export const sessionRoutes = (deps: AppDeps) => {
  const { auth, db, events, limits, log, welcome } = deps
  const signedInOnly = async (headers: Headers) => {
    const session = await findSession(deps, headers)
    if (!session) throw new Problem(401, 'Your sign-in has ended; sign in again to go on.')
    return session
  }
  return (
    new Hono<{ Bindings: HttpBindings }>()
      .get('/', async (c) => {
        const session = await findSession(deps, c.req.raw.headers)
        c.header('cache-control', 'no-store')
        if (!session)
          return c.json({
            ...{ signedIn: false as const, empty: await isEmptyInstall(db), without: null },
            sendsMails: deps.mailing !== undefined,
          })
        const { id, name, email } = session.user
        const membership = await findMembership(db, { userId: id, sessionId: session.session.id })
        // an account that belongs to no workspace, or to none any more
        if (!membership)
          return c.json({ signedIn: false as const, empty: false, without: { name, email }, sendsMails: false })
        return c.json({
          ...{ signedIn: true as const, name, email, second: session.user.twoFactorEnabled === true },
          ...membership,
          workspaces: await listMemberships(db, id),
        })
      })
      // goes on in another workspace, in all windows of this sign-in
      .post('/workspace', valid('json', Id), async (c) => {
        const { user, session } = await signedInOnly(c.req.raw.headers)
        const workspaceId = c.req.valid('json').id
        if (!(await chooseWorkspace(db, { userId: user.id, sessionId: session.id, workspaceId })))
          throw notFound('workspace')
        events.endSession(session.id)
        return c.json({ ok: true })
      })
      .post('/workspaces', valid('json', NewWorkspace), async (c) => {
        const { user, session } = await signedInOnly(c.req.raw.headers)
        const owned = await countOwned(db, user.id)
        if (owned === 0)
          throw new Problem(
            403,
            'Who owns a workspace here may make another one; ask an owner to make it and hand it over.',
          )
        if (owned >= OWNED_MAX) throw new Problem(429, `You own ${OWNED_MAX} workspaces already; hand one over first.`)
        const workspaceId = await createWorkspace(db, c.req.valid('json').name, user.id)
        noteSecurity(log, 'workspace made', { person: user.id, workspace: workspaceId })
        welcome(workspaceId).catch((error: unknown) => log.error({ error, workspaceId }, 'no starter library given'))
        await chooseWorkspace(db, { userId: user.id, sessionId: session.id, workspaceId })
        events.endSession(session.id)
        return c.json({ id: workspaceId }, 201)
      })
      // one's own, whatever one may do there
      .post('/leave', valid('json', Id), async (c) => {
        const { user } = await signedInOnly(c.req.raw.headers)
        const workspaceId = c.req.valid('json').id
        await actOnMember(deps, workspaceId, { act: { kind: 'leave' }, by: user.id, about: user.id })
        const line = { workspaceId, person: user.name, kind: 'member' as const, said: `Left: ${user.name}` }
        await insertAuditLines(db, [line])
        return c.json({ ok: true })
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
        const workspaceId = (await findMembership(db, { userId: id, sessionId: session.session.id }))?.workspaceId
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
        await goOnIn(deps, changed.headers, workspaceId)
        for (const ended of before) events.endSession(ended)
        noteSecurity(log, 'password changed', { person: id })
        for (const cookie of changed.headers.getSetCookie()) c.header('set-cookie', cookie, { append: true })
        return c.json({ ok: true })
      })
      // the answer is the same for an account that there is and one that there is not
      .post('/forgotten', valid('json', Forgotten), async (c) => {
        if (!deps.mailing)
          throw new Problem(409, 'This server sends no mails. Ask whoever runs it, or an owner for a new invitation.')
        const { email } = c.req.valid('json')
        const address = deps.clientAddress(c.env?.incoming)
        noteSecurity(log, 'password asked for by mail', { account: shownAccount(email), address })
        if (await limits.takeForgotten(email, address)) await auth.api.requestPasswordReset({ body: { email } })
        return c.json({ ok: true })
      })
      .post('/reset', valid('json', Reset), async (c) => {
        const { token, next } = c.req.valid('json')
        await limits.takeLink(token)
        refuseEasy(next, [])
        const done = await auth.api.resetPassword({ body: { token, newPassword: next } }).catch((error: unknown) => {
          if (error instanceof APIError) return undefined
          throw error
        })
        if (!done) throw new Problem(404, 'This link was used already, or its hour is over; ask for another one.')
        noteSecurity(log, 'password changed by mail', { address: deps.clientAddress(c.env?.incoming) })
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
