import type { Db } from '../db/database.ts'
import { findHandOutByToken, type HandOut } from '../db/hand-outs.ts'
import type { Release } from '../db/releases.ts'
import { Problem, recalledSentence } from '../errors.ts'
import { hashToken } from './token.ts'

/** The hand-out behind a link that still works; otherwise says which way it is dead, and nothing about the pack. */
export async function openHandOut(db: Db, token: string): Promise<{ handOut: HandOut; release: Release }> {
  const found = await findHandOutByToken(db, hashToken(token))
  if (!found)
    throw new Problem(
      404,
      'This link leads nowhere. Check that it was copied whole, or ask whoever sent it for a new one.',
    )
  const { handOut, release } = found
  if (handOut.withdrawnAt)
    throw new Problem(410, 'This hand-out has been withdrawn. Ask whoever sent it if you still need it.')
  if (handOut.endsAt && handOut.endsAt.getTime() <= Date.now()) {
    throw new Problem(410, 'This hand-out has ended. Ask whoever sent it for a new link.')
  }
  checkRecalled(release)
  return found
}

/** @throws {Problem} 410 where the release was recalled. */
export function checkRecalled(release: Release): void {
  if (release.recalledAt)
    throw new Problem(410, `${recalledSentence(release)} If you have it already, ask whoever sent it for another one.`)
}

export const usedUp = () =>
  new Problem(410, 'All downloads of this hand-out have been used. Ask whoever sent it for a new link.')

/** @throws {Problem} 410 where all its downloads are used. */
export function checkLeft({ downloadLimit, downloads }: HandOut): void {
  if (downloadLimit !== null && downloads >= downloadLimit) throw usedUp()
}
