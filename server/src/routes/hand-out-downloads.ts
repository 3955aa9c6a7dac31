import type { HttpBindings } from '@hono/node-server'
import { RESPONSE_ALREADY_SENT } from '@hono/node-server/utils/response'
import { type Part, readPart } from '@satchel/core/pack/parts'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import type { Db } from '../db/database.ts'
import { findGranted, giveDownloadBack, keepDownload, resumeDownload, takeDownload } from '../db/deliveries.ts'
import { findRelease } from '../db/releases.ts'
import { Problem } from '../errors.ts'
import { type Given, wholeRelease } from '../hand-out/edition-release.ts'
import { copyOf } from '../hand-out/issue.ts'
import { checkNoLook } from '../hand-out/look-ahead.ts'
import { checkLeft, checkRecalled, openBuild, openHandOut, usedUp } from '../hand-out/open-hand-out.ts'
import { partFile } from '../hand-out/part-file.ts'
import { type Sent, sendFile } from '../hand-out/send-file.ts'
import { createToken, hashToken } from '../hand-out/token.ts'
import { noteSecurity } from '../security-log.ts'
import { Token } from './hand-out-token.ts'
import { valid } from './validate.ts'

const Grant = v.object({ ...Token.entries, grant: v.pipe(v.string(), v.minLength(1), v.maxLength(100)) })
/** What of the download: all of it where nothing is said. */
const Wish = v.object({
  as: v.optional(v.pipe(v.string(), v.maxLength(200))),
  of: v.optional(v.pipe(v.string(), v.maxLength(200)), 'all'),
})

/** What a person with a link fetches. */
export const handOutDownloadRoutes = (deps: AppDeps) => {
  const { db, blobs, log } = deps
  return new Hono<{ Bindings: HttpBindings }>()
    .get('/:token/download', valid('param', Token), valid('query', Wish), async (c) => {
      const { token } = c.req.valid('param')
      const part = toPart(c.req.valid('query'))
      const { handOut, release } = await openHandOut(deps, token)
      const copy = await copyOf(deps, handOut, release)
      const { headers, etag, sizeBytes, zipSha, app } = await partFile(deps, release, part, copy)
      // A look ahead costs nothing. The framework makes a new answer of a HEAD, so Node's own cannot be used for it.
      if (c.req.method === 'HEAD') {
        checkLeft(handOut)
        return c.body(null, 200, { ...headers, etag, 'content-length': String(sizeBytes) })
      }
      checkNoLook(handOut)
      // At hand first: a download that this server has no room for does not count.
      await blobs.path(handOut.workspaceId, zipSha)
      // Each asking here is a download that counts; what it leads to can be gone on with after a break, and counts no more.
      const grant = createToken()
      const facts = { workspace: handOut.workspaceId, address: deps.clientAddress(c.env?.incoming) }
      if (
        !(await takeDownload(db, handOut, {
          grantHash: hashToken(grant),
          etag,
          releaseId: release.id,
          buildId: release.buildId,
          part,
          app,
        }))
      ) {
        noteSecurity(log, 'link refused', facts)
        throw usedUp()
      }
      noteSecurity(log, 'link used', facts)
      c.header('cache-control', 'no-store')
      return c.redirect(`/api/h/${encodeURIComponent(token)}/download/${grant}`)
    })
    .get('/:token/download/:grant', valid('param', Grant), async (c) => {
      const { token, grant } = c.req.valid('param')
      const { handOut, release, edition } = await openHandOut(deps, token)
      const grantHash = hashToken(grant)
      const granted = await findGranted(db, handOut, grantHash)
      if (!granted) throw new Problem(410, 'This download was begun too long ago. Open the link itself once more.')
      // one that follows may give a newer release by now: what was begun goes on as it was
      const begun = await findBegun(db, release, { ...granted, isCut: edition !== null })
      const file = await partFile(deps, begun, granted.part, await copyOf(deps, handOut, begun))
      const { headers, etag, sizeBytes, stretches } = file
      // whoever goes on asks for the rest of the very bytes that they have
      if (granted.etag !== null && granted.etag !== etag)
        throw new Problem(410, 'Your copy has changed since this download began. Open the link itself once more.')
      if (c.req.method === 'HEAD') return c.body(null, 200, { ...headers, etag, 'content-length': String(sizeBytes) })
      const path = await blobs.path(handOut.workspaceId, file.zipSha)
      if (!(await resumeDownload(db, handOut, grantHash))) throw usedUp()
      let sent: Sent = 'broken'
      try {
        const what = { path, sizeBytes, etag, headers, ...(stretches ? { stretches } : {}) }
        sent = await sendFile(c.env.incoming, c.env.outgoing, what)
      } finally {
        // it counts once its last byte was sent, whatever came before
        if (sent === 'end') await keepDownload(db, handOut, grantHash)
        else if (sent === 'broken') await giveDownloadBack(db, handOut, grantHash)
      }
      return RESPONSE_ALREADY_SENT
    })
}

/** @throws {Problem} 404 where no part is called that. */
function toPart({ as, of }: v.InferOutput<typeof Wish>): Part | undefined {
  if (as === undefined) return undefined
  const part = readPart(as, of)
  if (!part) throw new Problem(404, 'The download has no such part. Open the link itself once more.')
  return part
}

/** The release, and the download of it, that was begun with. @throws {Problem} 410 where it was recalled since. */
async function findBegun(
  db: Db,
  given: Given,
  { releaseId, buildId, isCut }: { releaseId: string | null; buildId: string | null; isCut: boolean },
): Promise<Given> {
  if (releaseId === null || (isCut && buildId === null)) return given
  const release = await findRelease(db, given.workspaceId, releaseId)
  if (!release) return given
  checkRecalled(release)
  if (buildId !== null) return (await openBuild(db, release, buildId)) ?? given
  return wholeRelease(release)
}
