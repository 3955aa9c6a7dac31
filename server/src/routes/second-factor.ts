import { KnownOnly, SecondFactorCode } from '@satchel/core/forms/account'
import { APIError } from 'better-auth/api'
import { Hono } from 'hono'
import type { AppDeps } from '../app-deps.ts'
import { findMembership } from '../db/members.ts'
import { Problem } from '../errors.ts'
import { useOnce } from '../people/second-factor.ts'
import { findSession, goOnIn } from '../people/sessions.ts'
import { noteSecurity } from '../security-log.ts'
import { valid } from './validate.ts'

/** One's own second factor: codes of an app beside the password (RFC 6238), and recovery codes for when the app is lost. */
export const secondFactorRoutes = (deps: AppDeps) => {
  const { auth, db, events, limits, log } = deps
  const signedInOnly = async (headers: Headers) => {
    const session = await findSession(deps, headers)
    if (!session) throw new Problem(401, 'Your sign-in has ended; sign in again to go on.')
    const who = { userId: session.user.id, sessionId: session.session.id }
    return { ...who, workspaceId: (await findMembership(db, who))?.workspaceId }
  }
  /** Asks the auth library for what takes the password; a wrong one counts as such. */
  const withPassword = async <Result>(userId: string, ask: () => Promise<Result>): Promise<Result> => {
    const account = `password of ${userId}`
    await limits.checkAccount(account, false)
    try {
      return await ask()
    } catch (error) {
      if (!(error instanceof APIError)) throw error
      if (error.body?.code !== 'INVALID_PASSWORD')
        throw new Problem(409, 'This is another way by now; load the page anew.')
      await limits.noteFailure(account, false)
      throw new Problem(422, 'That is not the password you have now; type it again.')
    }
  }
  return (
    new Hono()
      // what is begun changes nothing until a code has shown that the app knows the secret
      .post('/second/begin', valid('json', KnownOnly), async (c) => {
        const { headers } = c.req.raw
        const { userId } = await signedInOnly(headers)
        const { password } = c.req.valid('json')
        const made = await withPassword(userId, () => auth.api.enableTwoFactor({ body: { password }, headers }))
        noteSecurity(log, 'second factor begun', { person: userId })
        if (made.method !== 'totp') throw new Error('the auth library made another second factor')
        return c.json({ uri: made.totpURI, codes: made.backupCodes })
      })
      .post('/second/confirm', valid('json', SecondFactorCode), async (c) => {
        const { headers } = c.req.raw
        const { userId, sessionId, workspaceId } = await signedInOnly(headers)
        const account = `code of ${userId}`
        await limits.checkAccount(account, false)
        const { code } = c.req.valid('json')
        const answer = await auth.api
          .verifyTOTP({ body: { code }, headers, returnHeaders: true })
          .catch((error: unknown) => {
            if (error instanceof APIError) return undefined
            throw error
          })
        if (!answer) {
          await limits.noteFailure(account, false)
          throw new Problem(422, 'That code is not right, or its half minute is over; type the one that is shown now.')
        }
        await useOnce(db, userId, code)
        await goOnIn(deps, answer.headers, workspaceId)
        events.endSession(sessionId)
        noteSecurity(log, 'second factor on', { person: userId })
        for (const cookie of answer.headers.getSetCookie()) c.header('set-cookie', cookie, { append: true })
        return c.json({ ok: true })
      })
      .post('/second/codes', valid('json', KnownOnly), async (c) => {
        const { headers } = c.req.raw
        const { userId } = await signedInOnly(headers)
        const { password } = c.req.valid('json')
        const made = await withPassword(userId, () => auth.api.generateBackupCodes({ body: { password }, headers }))
        noteSecurity(log, 'recovery codes made', { person: userId })
        return c.json({ codes: made.backupCodes })
      })
      .post('/second/end', valid('json', KnownOnly), async (c) => {
        const { headers } = c.req.raw
        const { userId, sessionId, workspaceId } = await signedInOnly(headers)
        const { password } = c.req.valid('json')
        const answer = await withPassword(userId, () =>
          auth.api.disableTwoFactor({ body: { password }, headers, returnHeaders: true }),
        )
        await goOnIn(deps, answer.headers, workspaceId)
        events.endSession(sessionId)
        noteSecurity(log, 'second factor off', { person: userId })
        for (const cookie of answer.headers.getSetCookie()) c.header('set-cookie', cookie, { append: true })
        return c.json({ ok: true })
      })
  )
}
