import { createHash } from 'node:crypto'
import type { Log } from './log.ts'

/** What of security happens, one line in the log each. */
export type SecurityEvent =
  | 'signed in'
  | 'sign-in refused'
  | 'sign-in held up'
  | 'signed out'
  | 'sign-in ended'
  | 'sign-in ended by its age'
  | 'password changed'
  | 'password asked for by mail'
  | 'password changed by mail'
  | 'code refused'
  | 'second factor begun'
  | 'second factor on'
  | 'second factor off'
  | 'recovery codes made'
  | 'password change refused'
  | 'first owner made'
  | 'workspace made'
  | 'member invited'
  | 'token made'
  | 'token ended'
  | 'member changed'
  | 'member joined'
  | 'request refused'
  | 'key exported'
  | 'key replaced'
  | 'something deleted'
  | 'link used'
  | 'link refused'

/** What is said of it: who, where, what; never a secret. The request is named by the log itself. */
export type SecurityFacts = {
  person?: string | undefined
  workspace?: string | undefined
  /** Of somebody who is not signed in: a name made of the address, which tells two apart and says neither. */
  account?: string | undefined
  address?: string | undefined
  path?: string | undefined
  method?: string | undefined
  status?: number | undefined
}

/** Lines in a minute: whoever is refused a million times fills no disk. */
const LINES_A_MINUTE = 600
const MINUTE_MS = 60_000
const written = new WeakMap<Log, { since: number; lines: number }>()

export function noteSecurity(log: Log, event: SecurityEvent, facts: SecurityFacts = {}): void {
  const now = Date.now()
  const before = written.get(log)
  const isSameMinute = before !== undefined && Math.abs(now - before.since) < MINUTE_MS
  if (before && !isSameMinute && before.lines > LINES_A_MINUTE)
    log.security({ left: before.lines - LINES_A_MINUTE }, 'more of security happened than is written down in a minute')
  const count = isSameMinute ? before : { since: now, lines: 0 }
  count.lines++
  written.set(log, count)
  if (count.lines <= LINES_A_MINUTE) log.security({ event, ...facts }, event)
}

/** An account as it may stand in the log. */
export const shownAccount = (email: string): string =>
  createHash('sha256').update(email.trim().toLowerCase()).digest('hex').slice(0, 12)
