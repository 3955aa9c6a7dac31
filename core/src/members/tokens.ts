import { ROLES, type Role } from './roles.ts'

/** What a token may be made for, a row each: what it is called, what a program can do by it, and as what it comes. */
export const TOKEN_SCOPES = {
  read: { called: 'Look', does: 'looks at everything and changes nothing', role: 'viewer' },
  work: { called: 'Work', does: 'gathers, releases and hands out, as a curator does', role: 'curator' },
} as const satisfies Record<string, { called: string; does: string; role: Role }>
export type TokenScope = keyof typeof TOKEN_SCOPES
export const TOKEN_SCOPE_NAMES = Object.keys(TOKEN_SCOPES) as [TokenScope, ...TokenScope[]]

/** After how many days a token ends. */
export const TOKEN_DAYS = { least: 1, most: 365, usual: 90 } as const

/** By this a token is known for one wherever it turns up. */
export const TOKEN_PREFIX = 'satchel_'

/** As what a program comes by a token: never as an owner, and never as more than its person is. */
export const roleByToken = (scope: TokenScope, person: Role): Role =>
  ROLES[person].mayWrite ? TOKEN_SCOPES[scope].role : 'viewer'
