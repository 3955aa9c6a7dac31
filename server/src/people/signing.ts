import { SignInCode } from '@satchel/core/forms/account'
import { and, eq } from 'drizzle-orm'
import type { Context } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { session, user } from '../db/schema/all.ts'
import { Problem } from '../errors.ts'
import { noteSecurity, shownAccount } from '../security-log.ts'
import { CLIENT_ADDRESS_HEADER } from './auth.ts'
import { isOfApp, useOnce } from './second-factor.ts'
import { begunBy, endSignIn } from './sessions.ts'

/** What the auth library says where the password was right and a code is wanted too. */
const Redirected = v.object({ twoFactorRedirect: v.literal(true) })

const Credentials = v.object({ email: v.pipe(v.string(), v.trim(), v.toLowerCase(), v.maxLength(320)) })

/** Signs in or out by the auth library: the cookie says who it is, and no token stands in the text. */
export async function answerSigning(deps: AppDeps, c: Context): Promise<Response> {
  const address = deps.clientAddress(c.env?.incoming)
  const headers = new Headers(c.req.raw.headers)
  headers.set(CLIENT_ADDRESS_HEADER, address)
  if (c.req.path.endsWith('/sign-out')) return signOut(deps, c, headers)
  if (c.req.path.endsWith('/sign-in/code')) return signInByCode(deps, c, { headers, address })
  return signIn(deps, c, { headers, address })
}

/** The request as the auth library gets it; its body was read before. */
const passedOn = async (c: Context, headers: Headers): Promise<Request> =>
  new Request(c.req.url, { method: c.req.method, headers, body: await c.req.text() })

/** The second step of signing in, for who has one: a code of their app, or a recovery code. */
async function signInByCode(
  deps: AppDeps,
  c: Context,
  { headers, address }: { headers: Headers; address: string },
): Promise<Response> {
  const typed = v.safeParse(SignInCode, await c.req.json().catch(() => undefined))
  if (!typed.success) throw new Problem(422, 'A code is needed: six digits of your app, or a recovery code.')
  const code = typed.output.code.replaceAll(' ', '')
  const path = isOfApp(code) ? 'verify-totp' : 'verify-backup-code'
  const url = new URL(`/api/auth/two-factor/${path}`, c.req.url)
  // whoever is signed in already is asked by nobody: this is for who is not
  const answer = await deps.auth.handler(
    new Request(url, { method: 'POST', headers: withoutSession(headers), body: JSON.stringify({ code }) }),
  )
  const begun = answer.ok ? await begunBy(deps, answer.headers) : null
  if (begun && isOfApp(code) && !(await useOnce(deps.db, begun.user.id, code))) {
    await endSignIn(deps, begun.user.id, begun.session.id)
    noteSecurity(deps.log, 'code refused', { person: begun.user.id, address })
    throw new Problem(401, 'This code was used already; wait for the next one.')
  }
  if (!begun) {
    noteSecurity(deps.log, 'code refused', { address })
    if (answer.status === 429) throw new Problem(429, 'Too many codes were tried; wait a quarter of an hour.')
    throw new Problem(
      401,
      'That code is not right, or it took too long: type the one that is shown now, or begin anew.',
    )
  }
  noteSecurity(deps.log, 'signed in', { person: begun.user.id, address })
  return new Response('{"ok":true}', { status: 200, headers: answer.headers })
}

/** Without the cookies of a sign-in, which would make a code say something else. */
function withoutSession(headers: Headers): Headers {
  const left = new Headers(headers)
  left.delete('content-length')
  const cookies = (headers.get('cookie') ?? '').split(/; */).filter((cookie) => !/session_(token|data)=/.test(cookie))
  left.set('cookie', cookies.join('; '))
  return left
}

async function signOut({ auth, events, log }: AppDeps, c: Context, headers: Headers): Promise<Response> {
  const left = await auth.api.getSession({ headers: c.req.raw.headers })
  const answer = await auth.handler(await passedOn(c, headers))
  if (left) {
    events.endSession(left.session.id)
    noteSecurity(log, 'signed out', { person: left.user.id })
  }
  return answer
}

async function signIn(
  deps: AppDeps,
  c: Context,
  { headers, address }: { headers: Headers; address: string },
): Promise<Response> {
  const named = v.safeParse(Credentials, await c.req.json().catch(() => undefined))
  const email = named.success ? named.output.email : ''
  const facts = { account: shownAccount(email), address }
  const isKnown = await hasSignedInFrom(deps, email, address)
  try {
    await deps.limits.checkAccount(email, isKnown)
  } catch (error) {
    noteSecurity(deps.log, 'sign-in held up', facts)
    throw error
  }
  const answer = await deps.auth.handler(await passedOn(c, headers))
  if (answer.status === 401) await deps.limits.noteFailure(email, isKnown)
  const asksForCode = answer.ok && v.is(Redirected, await answer.clone().json())
  if (asksForCode) return new Response('{"ok":true,"code":true}', { status: 200, headers: answer.headers })
  noteSecurity(deps.log, answer.ok ? 'signed in' : answer.status === 429 ? 'sign-in held up' : 'sign-in refused', facts)
  if (!answer.ok) return answer
  // A token in the text would be readable by scripts.
  return new Response('{"ok":true}', { status: 200, headers: answer.headers })
}

/** Whether an account has a session that was begun at an address. Sessions belong to people, not to workspaces. */
async function hasSignedInFrom({ db }: AppDeps, email: string, address: string): Promise<boolean> {
  const found = await db
    .select({ id: session.id })
    .from(session)
    .innerJoin(user, eq(user.id, session.userId))
    .where(and(eq(user.email, email), eq(session.ipAddress, address)))
    .limit(1)
  return found.length > 0
}
