import { countOpenFiles } from '@satchel/core/pack/write'
import { draftNotes } from '@satchel/core/releases/draft-notes'
import { proposeVersion, whyStep } from '@satchel/core/releases/version'
import { ENGINE_VERSION } from '@satchel/core/stroke/engine-version'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { findPack } from '../db/packs.ts'
import { listReleases } from '../db/releases.ts'
import { notFound } from '../errors.ts'
import { findPainted, NOW, openNow, openSide, type PaintedBrush } from '../hand-out/compare-releases.ts'
import { findAnswer } from '../pictures/kept-answers.ts'
import { immutablePng, type SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

/** What is shown of a brush that changed. */
export const CHANGE_PICTURES = ['before', 'after', 'difference'] as const
type ChangePicture = (typeof CHANGE_PICTURES)[number]

const Uuid = v.pipe(v.string(), v.uuid())
/** Two releases of a pack, or one and the pack as it is now. */
const Two = v.object({ from: Uuid, to: v.optional(v.union([Uuid, v.literal(NOW)]), NOW) })
const Shown = v.object({ ...Id.entries, brushId: Uuid, what: v.picklist(CHANGE_PICTURES) })

/** What a pack's releases, and the pack as it is now, are told apart by. */
export const differenceRoutes = (deps: AppDeps) => {
  const { db, blobs, renders, workers } = deps
  const find = async (workspaceId: string, id: string) => {
    const pack = await findPack(db, workspaceId, id)
    if (!pack) throw notFound('pack')
    return pack
  }
  return (
    new Hono<SignedIn>()
      // what a release made now would be called, and what is new in it
      .get('/:id/next', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const pack = await find(workspaceId, c.req.valid('param').id)
        const releases = await listReleases(db, workspaceId, pack.id)
        const [last] = releases
        const versions = releases.map(({ version }) => version)
        const { side: now, manifest } = await openNow(db, pack)
        const size = {
          files: countOpenFiles(manifest),
          pictureBytes: [...(now.pictures?.values() ?? [])].reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
        }
        if (!last)
          return c.json({
            ...size,
            version: proposeVersion([], undefined),
            notes: '',
            why: 'it is the first release',
            since: null,
          })
        const was = await openSide(db, pack, last.id)
        const difference = await workers.run('compareReleases', { before: was, after: now })
        return c.json({
          ...size,
          version: proposeVersion(versions, difference),
          notes: draftNotes(difference),
          why: whyStep(difference),
          since: { id: last.id, version: last.version },
        })
      })
      .get('/:id/difference', valid('param', Id), valid('query', Two), async (c) => {
        const pack = await find(c.get('workspaceId'), c.req.valid('param').id)
        const { from, to } = c.req.valid('query')
        const [before, after] = await Promise.all([openSide(db, pack, from), openSide(db, pack, to)])
        return c.json(await workers.run('compareReleases', { before, after }))
      })
      .get('/:id/difference/:brushId/:what', valid('param', Shown), valid('query', Two), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id, brushId, what } = c.req.valid('param')
        const pack = await find(workspaceId, id)
        const { from, to } = c.req.valid('query')
        const [before, after] = await Promise.all([from, to].map((which) => findPainted(db, pack, which, brushId)))
        if (!before || !after) throw notFound('brush')
        // the page asks for all three at once: they are drawn once, together
        const drawn = await findAnswer(renders, { drawnChange: ENGINE_VERSION, before, after }, async () => {
          const read = async ({ recipe, frames, grain }: PaintedBrush) => ({
            recipe,
            frames: await Promise.all(frames.map((sha) => blobs.read(workspaceId, sha))),
            grain: grain && (await blobs.read(workspaceId, grain)),
          })
          const pictures = await workers.run('drawChange', { before: await read(before), after: await read(after) })
          const asText = (name: ChangePicture) => Buffer.from(pictures[name]).toString('base64')
          return Object.fromEntries(CHANGE_PICTURES.map((name) => [name, asText(name)])) as Record<
            ChangePicture,
            string
          >
        })
        const key = renders.key({ change: ENGINE_VERSION, before, after, what })
        return immutablePng(c, key, new Uint8Array(Buffer.from(drawn[what], 'base64')))
      })
  )
}
