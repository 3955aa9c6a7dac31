import { openAsBlob } from 'node:fs'
import type { HttpBindings } from '@hono/node-server'
import { RESPONSE_ALREADY_SENT } from '@hono/node-server/utils/response'
import type { FileSha } from '@satchel/core/hashes'
import { toFileName } from '@satchel/core/pack/file-name'
import { create as createDisposition } from 'content-disposition'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import type { Db } from '../db/database.ts'
import {
  findFetchedVersion,
  findGranted,
  giveDownloadBack,
  keepDownload,
  resumeDownload,
  takeDownload,
} from '../db/deliveries.ts'
import { findHandOutByToken, type HandOut } from '../db/hand-outs.ts'
import { findKept } from '../db/mends.ts'
import { findRelease, type Release } from '../db/releases.ts'
import { Problem, recalledSentence } from '../errors.ts'
import { layOutNotes, layOutText } from '../hand-out/help-texts.ts'
import { type Sent, sendFile } from '../hand-out/send-file.ts'
import { createToken, hashToken } from '../hand-out/token.ts'
import { STROKE_SIZES } from '../pictures/picture-sizes.ts'
import { strokePicture } from '../pictures/renders.ts'
import { noteSecurity } from '../security-log.ts'
import { immutablePng } from './context.ts'
import { valid } from './validate.ts'

const Token = v.object({ token: v.pipe(v.string(), v.minLength(1), v.maxLength(100)) })
const Grant = v.object({ ...Token.entries, grant: v.pipe(v.string(), v.minLength(1), v.maxLength(100)) })
const Stroke = v.object({ token: v.pipe(v.string(), v.maxLength(100)), brushId: v.pipe(v.string(), v.uuid()) })

/** Pictures of a brush that is tried on the page: more is nothing for a phone. */
const TRIED_MAX_BYTES = 32 * 1024 * 1024

/** What a person with a link may do: see the pack, see its strokes, download it. No account, and nothing else. */
export const handOutPageRoutes = (deps: AppDeps) => {
  const { db, blobs, log } = deps
  return (
    new Hono<{ Bindings: HttpBindings }>()
      .use('/:token/*', async (c, next) => {
        await deps.limits.takeLink(c.req.param('token'))
        await next()
      })
      .get('/:token', valid('param', Token), async (c) => {
        const { handOut, release } = await openHandOut(db, c.req.valid('param').token)
        checkLeft(handOut)
        const { title, maker, licence, help, single, sets, brushes, destinations } = release.manifest
        const notes = await layOutNotes(deps, brushes)
        c.header('cache-control', 'no-store')
        return c.json({
          title,
          maker,
          licence,
          help: help.trim() === '' ? [] : await layOutText(deps, help),
          version: release.version,
          notes: release.notes,
          forWhom: handOut.name,
          follows: handOut.follows,
          fetchedVersion: (await findFetchedVersion(db, handOut)) ?? null,
          endsAt: handOut.endsAt,
          downloadsLeft: handOut.downloadLimit === null ? null : handOut.downloadLimit - handOut.downloads,
          coverBrushId: release.coverBrushId,
          hasCover: release.coverSha !== null,
          zipBytes: release.zipBytes,
          zipFiles: release.zipFiles,
          single,
          sets,
          destinations,
          brushes: brushes.map(({ id, name, recipe, frames }) => ({
            id,
            name,
            note: notes.get(id) ?? [],
            frames: frames.length,
            sizePx: recipe.mark.sizePx,
            behaviour: recipe.colour.behaviour,
          })),
        })
      })
      .get('/:token/cover.png', valid('param', Token), async (c) => {
        const { handOut, release } = await openHandOut(db, c.req.valid('param').token)
        checkLeft(handOut)
        if (!release.coverSha) throw new Problem(404, 'This pack has no cover.')
        return immutablePng(c, release.coverSha, await blobs.read(handOut.workspaceId, release.coverSha))
      })
      .get('/:token/strokes/:brushId', valid('param', Stroke), async (c) => {
        const { token, brushId } = c.req.valid('param')
        const { handOut, release } = await openHandOut(db, token)
        checkLeft(handOut)
        const { frozen, recipe } = findBrush(release, brushId)
        const pictures = { frames: frozen.blobs, grain: frozen.grainBlob }
        const { key, png } = await strokePicture(deps, handOut.workspaceId, {
          ...pictures,
          recipe,
          ...STROKE_SIZES.cover,
        })
        return immutablePng(c, key, png)
      })
      // all that painting with it takes, in one answer: its recipe, its frames in their order, its grain
      .get('/:token/brushes/:brushId', valid('param', Stroke), async (c) => {
        const { token, brushId } = c.req.valid('param')
        const { handOut, release } = await openHandOut(db, token)
        checkLeft(handOut)
        const { frozen, recipe } = findBrush(release, brushId)
        const { workspaceId } = handOut
        const files = [...frozen.blobs, ...(frozen.grainBlob ? [frozen.grainBlob] : [])]
        const sizes = await findKept(db, workspaceId, [...new Set(files)])
        if (files.reduce((sum, sha) => sum + (sizes.get(sha) ?? 0), 0) > TRIED_MAX_BYTES)
          throw new Problem(413, 'This brush is too large to be tried here; it is in the download like all others.')
        const form = new FormData()
        form.set('recipe', JSON.stringify(recipe))
        // files are read as they are sent: many who try at once take no memory
        const add = async (name: 'frame' | 'grain', sha: FileSha) =>
          form.append(name, await openAsBlob(await blobs.path(workspaceId, sha), { type: 'image/png' }), `${name}.png`)
        for (const sha of frozen.blobs) await add('frame', sha)
        if (frozen.grainBlob) await add('grain', frozen.grainBlob)
        const answer = new Response(form)
        answer.headers.set('cache-control', 'private, no-store')
        return answer
      })
      .get('/:token/download', valid('param', Token), async (c) => {
        const { token } = c.req.valid('param')
        const { handOut, release } = await openHandOut(db, token)
        const { headers, etag, zipSha } = toFile(release)
        // A look ahead costs nothing. The framework makes a new answer of a HEAD, so Node's own cannot be used for it.
        if (c.req.method === 'HEAD') {
          checkLeft(handOut)
          return c.body(null, 200, { ...headers, etag, 'content-length': String(release.zipBytes) })
        }
        // At hand first: a download that this server has no room for does not count.
        await blobs.path(handOut.workspaceId, zipSha)
        // Each asking here is a download that counts; what it leads to can be gone on with after a break, and counts no more.
        const grant = createToken()
        const facts = { workspace: handOut.workspaceId, address: deps.clientAddress(c.env?.incoming) }
        if (!(await takeDownload(db, handOut, { grantHash: hashToken(grant), releaseId: release.id }))) {
          noteSecurity(log, 'link refused', facts)
          throw usedUp()
        }
        noteSecurity(log, 'link used', facts)
        c.header('cache-control', 'no-store')
        return c.redirect(`/api/h/${encodeURIComponent(token)}/download/${grant}`)
      })
      .get('/:token/download/:grant', valid('param', Grant), async (c) => {
        const { token, grant } = c.req.valid('param')
        const { handOut, release } = await openHandOut(db, token)
        const grantHash = hashToken(grant)
        const granted = await findGranted(db, handOut, grantHash)
        if (!granted) throw new Problem(410, 'This download was begun too long ago. Open the link itself once more.')
        // one that follows may give a newer release by now: what was begun goes on as it was
        const { zipSha, zipBytes, headers, etag } = toFile(await findBegun(db, release, granted.releaseId))
        if (c.req.method === 'HEAD') return c.body(null, 200, { ...headers, etag, 'content-length': String(zipBytes) })
        const path = await blobs.path(handOut.workspaceId, zipSha)
        if (!(await resumeDownload(db, handOut, grantHash))) throw usedUp()
        let sent: Sent = 'broken'
        try {
          sent = await sendFile(c.env.incoming, c.env.outgoing, { path, sizeBytes: zipBytes, etag, headers })
        } finally {
          // it counts once its last byte was sent, whatever came before
          if (sent === 'end') await keepDownload(db, handOut, grantHash)
          else if (sent === 'broken') await giveDownloadBack(db, handOut, grantHash)
        }
        return RESPONSE_ALREADY_SENT
      })
  )
}

/** @throws {Problem} 404 where the release has no such brush. */
function findBrush({ brushes, manifest }: Release, brushId: string) {
  const frozen = brushes.find((brush) => brush.id === brushId)
  const recipe = manifest.brushes.find((brush) => brush.id === brushId)?.recipe
  if (!frozen || !recipe) throw new Problem(404, 'This brush is not in the hand-out.')
  return { frozen, recipe }
}

/** The release that a download was begun with. @throws {Problem} 410 where it was recalled since. */
async function findBegun(db: Db, release: Release, releaseId: string | null): Promise<Release> {
  if (releaseId === null || releaseId === release.id) return release
  const begun = (await findRelease(db, release.workspaceId, releaseId)) ?? release
  checkRecalled(begun)
  return begun
}

function checkRecalled(release: Release): void {
  if (release.recalledAt)
    throw new Problem(410, `${recalledSentence(release)} If you have it already, ask whoever sent it for another one.`)
}

/** @throws {Problem} 409 while it is still being built. */
function toFile({ zipSha, zipBytes, manifest, version }: Release) {
  if (!zipSha || zipBytes === null)
    throw new Problem(409, 'This download is still being prepared; try again in a minute.')
  const headers = {
    'content-type': 'application/zip',
    'content-disposition': createDisposition(`${toFileName(manifest.title)} ${version}.zip`),
    'cache-control': 'private, no-cache',
    'x-content-type-options': 'nosniff',
    'referrer-policy': 'no-referrer',
    'accept-ranges': 'bytes',
  }
  return { zipSha, zipBytes, headers, etag: `"${zipSha}"` }
}

/** The hand-out behind a link that still works; otherwise says which way it is dead, and nothing about the pack. */
async function openHandOut(db: Db, token: string): Promise<{ handOut: HandOut; release: Release }> {
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

const usedUp = () =>
  new Problem(410, 'All downloads of this hand-out have been used. Ask whoever sent it for a new link.')

function checkLeft({ downloadLimit, downloads }: HandOut): void {
  if (downloadLimit !== null && downloads >= downloadLimit) throw usedUp()
}
