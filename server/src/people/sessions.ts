import { and, desc, eq, gt } from 'drizzle-orm'
import type { AppDeps } from '../app-deps.ts'
import { chooseWorkspace } from '../db/members.ts'
import { session } from '../db/schema/all.ts'
import { noteSecurity } from '../security-log.ts'

/** However much it is used, a sign-in ends after so many days. */
export const SESSION_DAYS_MAX = 30
const DAY_MS = 24 * 60 * 60 * 1000
/** A clock that was set back may be wrong by so much; a sign-in from further ahead is none. */
const AHEAD_MS = DAY_MS

type Deps = Pick<AppDeps, 'auth' | 'db' | 'events' | 'log'>

/** Who is signed in by a request's cookies; null where nobody is, or since too long ago: then that sign-in ends. */
export async function findSession({ auth, db, events, log }: Deps, headers: Headers) {
  const found = await auth.api.getSession({ headers })
  if (!found) return null
  const ageMs = Date.now() - found.session.createdAt.getTime()
  if (ageMs <= SESSION_DAYS_MAX * DAY_MS && ageMs >= -AHEAD_MS) return found
  await db.delete(session).where(eq(session.id, found.session.id))
  events.endSession(found.session.id)
  noteSecurity(log, 'sign-in ended by its age', { person: found.user.id })
  return null
}

/** A sign-in as its person sees it: no token of it is told. */
export type SignIn = { id: string; isThis: boolean; begunAt: Date; usedAt: Date; from: string; browser: string }
const BROWSER_MAX_CHARS = 200

/** The sign-ins of a person that have not ended, the latest first. They belong to people, not to workspaces. */
export async function listSignIns(
  { db }: Pick<Deps, 'db'>,
  { userId, currentId }: { userId: string; currentId: string },
): Promise<SignIn[]> {
  const rows = await db
    .select()
    .from(session)
    .where(and(eq(session.userId, userId), gt(session.expiresAt, new Date())))
    .orderBy(desc(session.updatedAt))
  return rows.map(({ id, createdAt, updatedAt, ipAddress, userAgent }) => ({
    id,
    isThis: id === currentId,
    begunAt: createdAt,
    usedAt: updatedAt,
    from: ipAddress ?? '',
    browser: (userAgent ?? '').slice(0, BROWSER_MAX_CHARS),
  }))
}

/** Ends one of a person's own sign-ins, with its live streams. @returns Whether there was one. */
export async function endSignIn({ db, events }: Deps, userId: string, id: string): Promise<boolean> {
  const ended = await db
    .delete(session)
    .where(and(eq(session.userId, userId), eq(session.id, id)))
    .returning({ id: session.id })
  if (ended.length > 0) events.endSession(id)
  return ended.length > 0
}

/** What a browser sends back of the cookies that an answer sets. */
const cookieOf = (answered: Headers): string =>
  answered
    .getSetCookie()
    .map((cookie) => cookie.split(';')[0])
    .join('; ')

/** The sign-in that an answer of the auth library has begun. */
export const begunBy = ({ auth }: Pick<Deps, 'auth'>, answered: Headers) =>
  auth.api.getSession({ headers: new Headers({ cookie: cookieOf(answered) }) })

/** Where a sign-in takes the place of another one, it goes on in the same workspace. */
export async function goOnIn(
  deps: Pick<Deps, 'auth' | 'db'>,
  answered: Headers,
  workspaceId: string | undefined,
): Promise<void> {
  const begun = workspaceId === undefined ? undefined : await begunBy(deps, answered)
  if (begun && workspaceId !== undefined)
    await chooseWorkspace(deps.db, { userId: begun.user.id, sessionId: begun.session.id, workspaceId })
}
