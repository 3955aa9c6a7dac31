import { FRAMES_MAX } from '@satchel/core/limits'
import { Hono } from 'hono'
import * as v from 'valibot'
import { type NewTip, setTip } from '../db/brush-tips.ts'
import { findBrushForStroke } from '../db/brushes.ts'
import type { StoredFrame } from '../db/schema/library.ts'
import type { AppDeps } from '../deps.ts'
import { notFound, Problem } from '../errors.ts'
import { toPixelKey } from '../workers/read-tip.ts'
import type { SignedIn } from './context.ts'
import { Count, Id, valid } from './validate.ts'

const Change = v.object({
  /** The version the change is made on. */
  from: Count,
  /** Which frames there are then, by their places now; one may be there twice, or no more. */
  order: v.pipe(
    v.array(v.pipe(v.number(), v.integer(), v.minValue(0))),
    v.minLength(1, 'a tip has one frame at least'),
    v.maxLength(FRAMES_MAX, `a tip has ${FRAMES_MAX} frames at most`),
  ),
  even: v.optional(
    v.object({ size: v.boolean(), align: v.picklist(['no', 'centres', 'base lines']), tone: v.boolean() }),
  ),
  /** Shadows drawn as grey become black that lets more through. */
  blacken: v.optional(v.boolean(), false),
})

/** The frames of a brush: how they stand beside each other, their order, and what makes them alike. */
export const frameRoutes = ({ db, blobs, workers, events }: AppDeps) =>
  new Hono<SignedIn>()
    .get('/:id/frames', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const brush = await findBrushForStroke(db, workspaceId, c.req.valid('param').id)
      if (!brush) throw notFound('brush')
      const { reading } = brush.recipe.colour
      const pngs = await Promise.all(brush.frames.map(({ blobSha }) => blobs.read(workspaceId, blobSha)))
      return c.json({
        reading,
        frames: brush.frames,
        ...(await workers.run('compareFrames', { frames: pngs, reading })),
      })
    })
    .post('/:id/frames', valid('param', Id), valid('json', Change), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const { from, order, even, blacken } = c.req.valid('json')
      const brush = await findBrushForStroke(db, workspaceId, id, from)
      if (!brush) throw notFound('brush')
      const frames = order.map((place) => brush.frames[place])
      if (!frames.every((frame) => frame !== undefined))
        throw new Problem(422, `The brush has ${brush.frames.length} frames; the order names another one.`)
      const pngs = await Promise.all(frames.map(({ blobSha }) => blobs.read(workspaceId, blobSha)))
      const { reading } = brush.recipe.colour
      const changed = await workers.run('changeFrames', { frames: pngs, reading, even, blacken })
      const version = await db.transaction(async (tx) => {
        const stored: StoredFrame[] = []
        for (const [i, { png, pixelSha, width, height }] of changed.frames.entries()) {
          const { sha256 } = await blobs.put(tx, workspaceId, png, 'image/png')
          const name = frames[i]?.name
          stored.push({ blobSha: sha256, pixelSha, width, height, ...(name ? { name } : {}) })
        }
        const tip: NewTip = {
          frames: stored,
          pixelKey: toPixelKey(stored.map((frame) => frame.pixelSha)),
          ...{ alikeKey: changed.alike?.key ?? null, alikeMark: changed.alike?.mark ?? null },
        }
        return setTip(tx, workspaceId, id, { tip, from })
      })
      if (version === undefined)
        throw new Problem(409, 'This brush was changed somewhere else meanwhile; reload it and make the change again.')
      await events.publish({ workspaceId, topic: 'library', id })
      return c.json({ version })
    })
