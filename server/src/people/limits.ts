import { createHash } from 'node:crypto'
import { RateLimiterMemory, RateLimiterRes } from 'rate-limiter-flexible'
import { Refusal } from '../errors.ts'

/** What is counted of what anybody may ask, signed in or not: by link, and by account that is signed in to. */
export type AccessLimits = {
  /** Counts a request of a hand-out's link. @throws {Refusal} Where there are too many. */
  takeLink(token: string): Promise<void>
  /**
   * Refuses attempts at an account after many wrong passwords from strange places. Who has signed in to it from an
   * address before is not held up there by what others try.
   * @throws {Refusal} Where there were too many.
   */
  checkAccount(email: string, isKnownAddress: boolean): Promise<void>
  /**
   * Counts that somebody has forgotten a password. @param address Where it is asked from.
   * @returns Whether a mail may go to that account yet: nobody fills another one's mailbox.
   * @throws {Refusal} Where too many are asked for from there.
   */
  takeForgotten(email: string, address: string): Promise<boolean>
  /** Notes a wrong password from a strange place. */
  noteFailure(email: string, isKnownAddress: boolean): Promise<void>
}

export type AccessLimitOptions = { linkRequestsPerMinute?: number; failuresPerAccount?: number }

/** A page of a pack of 500 brushes asks for as many strokes, once. */
const LINK_REQUESTS = 1200
const FAILURES = 20
/** Mails that one mailbox gets, and that are asked for from one place, in a quarter of an hour. */
const FORGOTTEN = { mailbox: 3, place: 10 }
const MINUTE_S = 60
const FAILURE_WINDOW_S = 15 * MINUTE_S

/** Counts lie in this server's memory: several servers count apart, and a new start begins anew. */
export function createAccessLimits({
  linkRequestsPerMinute = LINK_REQUESTS,
  failuresPerAccount = FAILURES,
}: AccessLimitOptions = {}): AccessLimits {
  const links = new RateLimiterMemory({ points: linkRequestsPerMinute, duration: MINUTE_S })
  const failures = new RateLimiterMemory({ points: failuresPerAccount, duration: FAILURE_WINDOW_S })
  const mailboxes = new RateLimiterMemory({ points: FORGOTTEN.mailbox, duration: FAILURE_WINDOW_S })
  const places = new RateLimiterMemory({ points: FORGOTTEN.place, duration: FAILURE_WINDOW_S })
  const isTaken = async (limiter: RateLimiterMemory, name: string) => {
    try {
      await limiter.consume(nameOf(name))
      return true
    } catch (error) {
      if (!(error instanceof RateLimiterRes)) throw error
      return false
    }
  }
  return {
    async takeLink(token) {
      if (!(await isTaken(links, token)))
        throw new Refusal('tooMuch', 'This link is asked for too often just now; try again in a minute.')
    },
    async takeForgotten(email, address) {
      if (!(await isTaken(places, address)))
        throw new Refusal('tooMuch', 'Too many passwords were asked for from here; try again in a quarter of an hour.')
      return isTaken(mailboxes, email)
    },
    async checkAccount(email, isKnownAddress) {
      const found = isKnownAddress ? null : await failures.get(nameOf(email))
      if (found && found.consumedPoints >= failuresPerAccount)
        throw new Refusal(
          'tooMuch',
          'There were too many wrong passwords for this account. Wait a quarter of an hour, or sign in where you did before.',
        )
    },
    async noteFailure(email, isKnownAddress) {
      if (!isKnownAddress) await failures.penalty(nameOf(email), 1)
    },
  }
}

/** Neither tokens nor addresses are kept as they are. */
const nameOf = (secret: string) => createHash('sha256').update(secret.trim().toLowerCase()).digest('base64url')
