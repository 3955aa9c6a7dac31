import { openAsBlob } from 'node:fs'
import type { HttpBindings } from '@hono/node-server'
import { HandOutNote } from '@satchel/core/forms/hand-out'
import type { FileSha } from '@satchel/core/hashes'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import { ROLES } from '@satchel/core/members/roles'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { findFetched } from '../db/deliveries.ts'
import { keepHandOutNote } from '../db/hand-out-notes.ts'
import { findMembership } from '../db/members.ts'
import { findKept } from '../db/mends.ts'
import type { Release } from '../db/releases.ts'
import { Problem } from '../errors.ts'
import { classOf } from '../hand-out/class-page.ts'
import { layOutNotes, layOutText } from '../hand-out/help-texts.ts'
import { checkNoLook, isLook } from '../hand-out/look-ahead.ts'
import { checkLeft, openHandOut } from '../hand-out/open-hand-out.ts'
import { arrivesIn, partsOf } from '../hand-out/parts.ts'
import { findSession } from '../people/sessions.ts'
import { STROKE_SIZES } from '../pictures/picture-sizes.ts'
import { strokePicture, tipPicture } from '../pictures/renders.ts'
import { immutablePng } from './context.ts'
import { handOutDownloadRoutes } from './hand-out-downloads.ts'
import { Token } from './hand-out-token.ts'
import { valid } from './validate.ts'

const Stroke = v.object({ ...Token.entries, brushId: v.pipe(v.string(), v.uuid()) })
const Frame = v.object({ ...Stroke.entries, at: v.pipe(v.string(), v.regex(/^\d{1,4}$/), v.transform(Number)) })
const As = v.object({ as: v.pipe(v.string(), v.maxLength(200)) })
const Note = v.object({
  sentId: v.pipe(v.string(), v.uuid()),
  app: v.pipe(v.string(), v.trim(), v.maxLength(NAME_MAX_CHARS)),
  ...HandOutNote.entries,
})

/** Pictures of a brush that is tried on the page: more is nothing for a phone. */
const TRIED_MAX_BYTES = 32 * 1024 * 1024
/** The longer side that frames are shown with, px. */
const FRAME_SIDE_PX = 144

/** What a person with a link may do: see the pack, see its strokes, download it. No account, and nothing else. */
export const handOutPageRoutes = (deps: AppDeps) => {
  const { db, blobs } = deps
  /** Whether who asks is signed in here, and may put brushes into a library. */
  const mayTake = async (headers: Headers) => {
    const session = headers.has('cookie') ? await findSession(deps, headers) : undefined
    const who = session && { userId: session.user.id, sessionId: session.session.id }
    const membership = who ? await findMembership(db, who) : undefined
    return membership !== undefined && ROLES[membership.role].mayWrite
  }
  return (
    new Hono<{ Bindings: HttpBindings }>()
      .use('/:token/*', async (c, next) => {
        await deps.limits.takeLink(c.req.param('token'))
        await next()
      })
      .get('/:token', valid('param', Token), async (c) => {
        const opened = await openHandOut(deps, c.req.valid('param').token)
        const { handOut, release } = opened
        checkLeft(handOut)
        const { title, maker, licence, help, single, sets, brushes } = release.manifest
        const notes = await layOutNotes(deps, brushes)
        const fetched = await findFetched(db, handOut)
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
          fetchedVersion: fetched?.version ?? null,
          isLook: isLook(handOut),
          canTake: await mayTake(c.req.raw.headers),
          files: release.files,
          ...classOf(opened, fetched),
          endsAt: handOut.endsAt,
          downloadsLeft: handOut.downloadLimit === null ? null : handOut.downloadLimit - handOut.downloads,
          coverBrushId: release.coverBrushId,
          hasCover: release.coverSha !== null,
          zipBytes: release.zipBytes,
          zipFiles: release.zipFiles,
          single,
          sets,
          ...(await partsOf(deps, release)),
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
        const { handOut, release } = await openHandOut(deps, c.req.valid('param').token)
        checkLeft(handOut)
        if (!release.coverSha) throw new Problem(404, 'This pack has no cover.')
        return immutablePng(c, release.coverSha, await blobs.read(handOut.workspaceId, release.coverSha))
      })
      .get('/:token/strokes/:brushId', valid('param', Stroke), async (c) => {
        const { token, brushId } = c.req.valid('param')
        const { handOut, release } = await openHandOut(deps, token)
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
        const { handOut, release } = await openHandOut(deps, token)
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
      .get('/:token/brushes/:brushId/frames/:at', valid('param', Frame), async (c) => {
        const { token, brushId, at } = c.req.valid('param')
        const { handOut, release } = await openHandOut(deps, token)
        checkLeft(handOut)
        const { frozen, recipe } = findBrush(release, brushId)
        const blobSha = frozen.blobs[at]
        if (!blobSha) throw new Problem(404, 'This brush has no such frame.')
        const wish = { blobSha, reading: recipe.colour.reading, sidePx: FRAME_SIDE_PX }
        const { key, png } = await tipPicture(deps, handOut.workspaceId, wish)
        return immutablePng(c, key, png)
      })
      // what arrives of each brush in an app, and how large each part of that is
      .get('/:token/arrives', valid('param', Token), valid('query', As), async (c) => {
        const { handOut, release } = await openHandOut(deps, c.req.valid('param').token)
        checkLeft(handOut)
        const arrives = await arrivesIn(deps, release, c.req.valid('query').as)
        if (!arrives) throw new Problem(404, 'This hand-out has nothing for that app.')
        c.header('cache-control', 'no-store')
        return c.json(arrives)
      })
      .post('/:token/notes', valid('param', Token), valid('json', Note), async (c) => {
        const { handOut, release } = await openHandOut(deps, c.req.valid('param').token)
        checkNoLook(handOut)
        const { id: handOutId, workspaceId } = handOut
        const note = { workspaceId, handOutId, releaseId: release.id, ...c.req.valid('json') }
        if (!(await keepHandOutNote(db, note)))
          throw new Problem(429, 'The maker has many notes from this link already. Write to them by mail.')
        await deps.events.publish({ workspaceId, topic: 'packs', id: release.packId })
        return c.json({ ok: true }, 201)
      })
      .route('/', handOutDownloadRoutes(deps))
  )
}

/** @throws {Problem} 404 where the release has no such brush. */
function findBrush({ brushes, manifest }: Release, brushId: string) {
  const frozen = brushes.find((brush) => brush.id === brushId)
  const recipe = manifest.brushes.find((brush) => brush.id === brushId)?.recipe
  if (!frozen || !recipe) throw new Problem(404, 'This brush is not in the hand-out.')
  return { frozen, recipe }
}
