import { and, eq } from 'drizzle-orm'
import type { Context } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { session, user } from '../db/schema/all.ts'
import { noteSecurity, shownAccount } from '../security-log.ts'
import { CLIENT_ADDRESS_HEADER } from './auth.ts'

const Credentials = v.object({ email: v.pipe(v.string(), v.trim(), v.toLowerCase(), v.maxLength(320)) })

/** Signs in or out by the auth library: the cookie says who it is, and no token stands in the text. */
export async function answerSigning(deps: AppDeps, c: Context): Promise<Response> {
  const address = deps.clientAddress(c.env?.incoming)
  const headers = new Headers(c.req.raw.headers)
  headers.set(CLIENT_ADDRESS_HEADER, address)
  return c.req.path.endsWith('/sign-out') ? signOut(deps, c, headers) : signIn(deps, c, { headers, address })
}

/** The request as the auth library gets it; its body was read before. */
const passedOn = async (c: Context, headers: Headers): Promise<Request> =>
  new Request(c.req.url, { method: c.req.method, headers, body: await c.req.text() })

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
