import { createReadStream } from 'node:fs'
import { UPLOAD_MAX_BYTES } from '@satchel/core/limits'
import { toFileName } from '@satchel/core/pack/file-name'
import { PACK_EXTENSION } from '@satchel/core/pack/manifest'
import type { Part } from '@satchel/core/pack/parts'
import type { AppDeps } from '../app-deps.ts'
import { giveDownloadBack, keepDownload, takeDownload } from '../db/deliveries.ts'
import { openGather } from '../db/gathers.ts'
import { Problem } from '../errors.ts'
import { takeFile } from '../gather/take-file.ts'
import { checkRoomForFile } from '../library/room.ts'
import { checkNoLook } from './look-ahead.ts'
import { openHandOut, usedUp } from './open-hand-out.ts'
import { partFile } from './part-file.ts'
import { createToken, hashToken } from './token.ts'

/** The one file with everything, as the person behind the link would fetch it. */
const PART: Part = { as: { kind: 'satchel' }, of: { kind: 'all' } }

/**
 * Puts what a link gives into the ledger of who is signed in here: the same file, counted like a download, without a way round
 * by their disk.
 * @param token The link's secret.
 * @returns The ledger that it waits in.
 * @throws {Problem} As the link itself; where there is no room for it; where the ledger was ended meanwhile.
 */
export async function takeInFromLink(deps: AppDeps, workspaceId: string, token: string): Promise<string> {
  const { db, blobs } = deps
  const { handOut, release } = await openHandOut(deps, token)
  checkNoLook(handOut)
  const { zipSha, sizeBytes, stretches, app } = await partFile(deps, release, PART)
  const [only] = stretches ?? []
  if (!only || !('at' in only) || stretches?.length !== 1) throw new Error('a Satchel pack lies in one piece')
  await checkRoomForFile(deps, workspaceId, sizeBytes)
  const path = await blobs.path(handOut.workspaceId, zipSha)
  const grantHash = hashToken(createToken())
  const wish = { grantHash, releaseId: release.id, buildId: release.buildId, part: PART, app }
  if (!(await takeDownload(db, handOut, wish))) throw usedUp()
  try {
    const { id: gatherId } = await openGather(db, workspaceId)
    const name = `${toFileName(release.manifest.title)} ${release.version}${PACK_EXTENSION}`
    const bytes = createReadStream(path, { start: only.at, end: only.at + only.length - 1 })
    const into = { workspaceId, gatherId, handOutId: handOut.id, admit: async () => name }
    const file = await takeFile(deps, into, bytes, UPLOAD_MAX_BYTES)
    if (!file) throw new Problem(409, 'The ledger was ended meanwhile; press it once more.')
    await keepDownload(db, handOut, grantHash)
    return gatherId
  } catch (error) {
    await giveDownloadBack(db, handOut, grantHash)
    throw error
  }
}
