import { createHash } from 'node:crypto'
import type { Role } from '@satchel/core/members/roles'
import { roleByToken } from '@satchel/core/members/tokens'
import type { AppDeps } from '../app-deps.ts'
import { findMembership } from '../db/members.ts'
import { findToken, noteTokenUsed } from '../db/tokens.ts'
import { findSession } from './sessions.ts'

export type Person = { id: string; name: string; email: string }
/** Who asks, where, and as what. */
export type Identity = {
  person: Person
  workspaceId: string
  workspaceName: string
  role: Role
  /** The sign-in or the token that it is by: what ends with it listens to this. */
  by: string
  isToken: boolean
}
/** `without` is somebody who is signed in and belongs to no workspace. */
export type Identified = { who: Identity } | { without: Person } | undefined

/** The token of a request that comes by one: then nothing is asked of its cookies. */
export function tokenOf(headers: Headers): string | undefined {
  const said = headers.get('authorization')
  return said !== null && /^bearer /i.test(said) ? said.slice('bearer '.length).trim() : undefined
}

export const hashOfToken = (token: string): string => createHash('sha256').update(token).digest('hex')
/** What ends with a token listens to this. */
export const byToken = (id: string): string => `token ${id}`

/** Who asks by a request: a person who is signed in, or a program by a token. */
export async function identify(
  deps: Pick<AppDeps, 'auth' | 'db' | 'events' | 'log'>,
  headers: Headers,
): Promise<Identified> {
  const token = tokenOf(headers)
  if (token !== undefined) {
    const found = await findToken(deps.db, hashOfToken(token))
    if (!found) return undefined
    await noteTokenUsed(deps.db, found.id)
    const { person, workspaceId, workspace, scope, role } = found
    const as = roleByToken(scope, role)
    return {
      who: { person, workspaceId, workspaceName: workspace, role: as, by: byToken(found.id), isToken: true },
    }
  }
  const session = await findSession(deps, headers)
  if (!session) return undefined
  const { id, name, email } = session.user
  const person = { id, name, email }
  const membership = await findMembership(deps.db, { userId: id, sessionId: session.session.id })
  if (!membership) return { without: person }
  const { workspaceId, workspace, role } = membership
  return { who: { person, workspaceId, workspaceName: workspace, role, by: session.session.id, isToken: false } }
}
