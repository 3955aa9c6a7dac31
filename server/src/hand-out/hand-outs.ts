import type { Db } from '../db/database.ts'
import { type HandOut, insertHandOut, updateHandOut } from '../db/hand-outs.ts'
import { findRelease } from '../db/releases.ts'
import { notFound, Refusal, recalled } from '../errors.ts'
import { createToken, hashToken } from './token.ts'

export type NewHandOut = {
  packId: string
  releaseId: string
  name: string
  endsAt: Date | null
  downloadLimit: number | null
}

/**
 * Gives a release to somebody.
 * @returns The hand-out, and the secret of its link, which is told this once.
 * @throws {Refusal} If the pack has no such release, it was recalled, or the end lies in the past.
 */
export async function createHandOut(
  db: Db,
  workspaceId: string,
  { packId, releaseId, name, endsAt, downloadLimit }: NewHandOut,
): Promise<{ handOut: HandOut; token: string }> {
  const release = await findRelease(db, workspaceId, releaseId)
  if (release?.packId !== packId) throw notFound('release')
  if (release.recalledAt) throw recalled(release)
  if (endsAt && endsAt.getTime() <= Date.now())
    throw new Refusal('unfit', 'The end lies in the past; choose a later day.')
  const token = createToken()
  const row = { workspaceId, releaseId, name, tokenHash: hashToken(token), endsAt, downloadLimit }
  return { handOut: await insertHandOut(db, row), token }
}

/** Gives a hand-out another link; the old one leads nowhere then. @throws {Refusal} If it is not there. */
export async function renewLink(db: Db, workspaceId: string, id: string): Promise<string> {
  const token = createToken()
  if (!(await updateHandOut(db, workspaceId, id, { tokenHash: hashToken(token) }))) throw notFound('hand-out')
  return token
}
