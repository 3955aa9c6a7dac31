import type { HttpBindings } from '@hono/node-server'
import { ROLES, type Role } from '@satchel/core/members/roles'
import type { Context } from 'hono'
import { createMiddleware } from 'hono/factory'
import type { AppDeps } from '../app-deps.ts'
import { askAs } from '../asking.ts'
import { Problem } from '../errors.ts'
import { identify, type Person, tokenOf } from '../people/identify.ts'

/** What every signed-in request knows. */
export type SignedIn = {
  Bindings: HttpBindings
  Variables: {
    workspaceId: string
    role: Role
    person: Person
    workspaceName: string
    /** The sign-in, or the token, that it is by. */
    sessionId: string
    /** Whether a program asks, by a token. */
    isToken: boolean
    /** What a request was about, in the words of the audit list. */
    about?: string
  }
}

/** Lets only signed-in members through, and says in which workspace they are. */
export const signedIn = (deps: Pick<AppDeps, 'auth' | 'db' | 'events' | 'log'>) =>
  createMiddleware<SignedIn>(async (c, next) => {
    const found = await identify(deps, c.req.raw.headers)
    if (!found) throw new Problem(401, tokenOf(c.req.raw.headers) === undefined ? SIGNED_OUT : TOKEN_OVER)
    if ('without' in found) throw new Problem(403, 'This account belongs to no workspace; ask the owner to add it.')
    const { person, workspaceId, workspaceName, role, by, isToken } = found.who
    c.set('workspaceId', workspaceId)
    c.set('workspaceName', workspaceName)
    c.set('role', role)
    c.set('sessionId', by)
    c.set('isToken', isToken)
    c.set('person', person)
    const shown = c.req.header(SHOWN_WORKSPACE)
    if (shown !== undefined && shown !== workspaceId)
      throw new Problem(409, 'This window shows another workspace than the one you are in now; load it anew.')
    if (!ROLES[role].mayWrite && !isRead(c.req.method)) throw new Problem(403, isToken ? TOKEN_LOOKS : ONLY_LOOKS)
    // whatever this request gives out is this person's; what only shows something ends when they leave
    const signal = isRead(c.req.method) || takesFile(c.req.method, c.req.path) ? c.req.raw.signal : undefined
    await askAs({ workspaceId, personId: person.id, signal }, next)
  })

const SIGNED_OUT = 'Your sign-in has ended; sign in again to go on.'
const TOKEN_OVER = 'This token has ended, or never was one; make another one on the page of members.'
const ONLY_LOOKS = 'You may look but not change things here; ask the owner to make you a curator.'
const TOKEN_LOOKS = 'This token may look but not change things; make one to work on the page of members.'

/** The header by which a page says which workspace it shows, so that nothing is changed in another one by mistake. */
const SHOWN_WORKSPACE = 'x-satchel-workspace'

/** Whole files come here; each of these routes has a limit of its own. */
const TAKES_FILES =
  /^(PUT \/api\/gathers\/[^/]+\/files|POST \/api\/(sources|materials|library|packs\/[^/]+\/cover\/picture)|PUT \/api\/(sources\/[^/]+\/file|brushes\/[^/]+\/frames\/[^/]+|p\/[^/]+\/photographs))$/
/** Whether a request brings a file, in a body of its own kind. */
export const takesFile = (method: string, path: string): boolean => TAKES_FILES.test(`${method} ${path}`)

export const isRead = (method: string): boolean => method === 'GET' || method === 'HEAD'

/** What is said of a picture that never changes under its name, and whether the browser has it. */
export function immutableHeaders(c: Context, key: string) {
  const etag = `"${key.slice(0, 32)}"`
  const headers = { etag, 'cache-control': 'private, max-age=31536000, immutable' }
  return { headers, isFresh: c.req.header('if-none-match') === etag }
}

/** A picture that never changes under its name. */
export function immutablePng(c: Context, key: string, png: Uint8Array): Response {
  const { headers, isFresh } = immutableHeaders(c, key)
  if (isFresh) return c.body(null, 304, headers)
  return c.body(new Uint8Array(png), 200, { ...headers, 'content-type': 'image/png' })
}

/** A picture that may be another one under the same address: the browser asks each time whether it is. */
export function changingPng(c: Context, key: string, png: Uint8Array): Response {
  const { headers, isFresh } = immutableHeaders(c, key)
  const asked = { ...headers, 'cache-control': 'private, no-cache' }
  if (isFresh) return c.body(null, 304, asked)
  return c.body(new Uint8Array(png), 200, { ...asked, 'content-type': 'image/png' })
}
