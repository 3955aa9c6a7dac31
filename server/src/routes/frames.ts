import { FrameEdit } from '@satchel/core/frames/edit-frame'
import { ANIMATION_PIXELS_MAX, ENTRY_MEMORY_MAX_BYTES, FRAMES_MAX } from '@satchel/core/limits'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { listEarlierFrames } from '../db/brush-tips.ts'
import { findBrushForStroke } from '../db/brushes.ts'
import type { Db } from '../db/database.ts'
import type { StoredFrame } from '../db/schema/library.ts'
import { notFound, Problem } from '../errors.ts'
import { storeFrames } from '../library/store-frames.ts'
import { findAnswer, peekAnswer } from '../pictures/kept-answers.ts'
import type { ComparedFrames } from '../workers/results.ts'
import { readAtMost } from './body.ts'
import type { SignedIn } from './context.ts'
import { Count, Id, Ordinal, PATH_MAX_CHARS, valid } from './validate.ts'

const FrameAt = v.pipe(v.number(), v.integer(), v.minValue(0))
/** Frames that were left out before and are shown to be put back. */
const LEFT_OUT_MAX = 24
const Change = v.object({
  /** The version the change is made on. */
  from: Count,
  /** Which frames there are then, by their places now, or in an earlier version; one may be there twice, or no more. */
  order: v.pipe(
    v.array(v.union([FrameAt, v.object({ version: Count, place: FrameAt })])),
    v.minLength(1, 'a tip has one frame at least'),
    v.maxLength(FRAMES_MAX, `a tip has ${FRAMES_MAX} frames at most`),
  ),
  even: v.optional(
    v.object({ size: v.boolean(), align: v.picklist(['no', 'centres', 'base lines']), tone: v.boolean() }),
  ),
  /** Changes of single frames, by their places in the new order. */
  edits: v.optional(v.pipe(v.array(v.object({ at: FrameAt, edit: FrameEdit })), v.maxLength(FRAMES_MAX)), []),
  /** Shadows drawn as grey become black that lets more through. */
  blacken: v.optional(v.boolean(), false),
})

const OneFrame = v.object({ ...Id.entries, ordinal: Ordinal })
const Replace = v.object({
  from: v.pipe(v.string(), v.transform(Number), Count),
  name: v.pipe(v.string(), v.maxLength(PATH_MAX_CHARS)),
})

/** The frames of a brush: how they stand beside each other, their order, and what makes them alike. */
export const frameRoutes = (deps: AppDeps) => {
  const { db, blobs, workers, events, renders } = deps
  return new Hono<SignedIn>()
    .get('/:id/frames', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const brush = await findBrushForStroke(db, workspaceId, id)
      if (!brush) throw notFound('brush')
      const { reading } = brush.recipe.colour
      return c.json({
        reading,
        frames: brush.frames,
        leftOut: await listEarlierFrames(db, workspaceId, id, LEFT_OUT_MAX),
        /** How they stand beside each other, where that is known; otherwise it has to be asked for. */
        compared: (await peekAnswer<ComparedFrames>(renders, comparisonOf(brush))) ?? null,
      })
    })
    .post('/:id/frames/compare', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const brush = await findBrushForStroke(db, workspaceId, c.req.valid('param').id)
      if (!brush) throw notFound('brush')
      return c.json(
        await findAnswer(renders, comparisonOf(brush), async () => {
          const frames = await Promise.all(brush.frames.map(({ blobSha }) => blobs.read(workspaceId, blobSha)))
          return workers.run('compareFrames', { frames, reading: brush.recipe.colour.reading })
        }),
      )
    })
    .post('/:id/frames', valid('param', Id), valid('json', Change), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const { from, order, edits, even, blacken } = c.req.valid('json')
      const brush = await findBrushForStroke(db, workspaceId, id, from)
      if (!brush) throw notFound('brush')
      const earlier = await framesOfVersions(db, workspaceId, id, order)
      const frames = order.map((of) =>
        typeof of === 'number' ? brush.frames[of] : earlier.get(of.version)?.[of.place],
      )
      if (!frames.every((frame) => frame !== undefined))
        throw new Problem(422, `The brush has ${brush.frames.length} frames; the order names another one.`)
      checkTogether(frames)
      const pngs = await Promise.all(frames.map(({ blobSha }) => blobs.read(workspaceId, blobSha)))
      const { reading } = brush.recipe.colour
      const changed = await workers.run('changeFrames', { frames: pngs, reading, edits, even, blacken })
      if ('refused' in changed) throw new Problem(422, `The frames cannot be changed so: ${changed.refused}`)
      const names = frames.map((frame) => frame?.name)
      const version = await storeFrames(deps, { workspaceId, id, from, names, ...changed })
      if (version === undefined) throw movedOn()
      await events.publish({ workspaceId, topic: 'library', id })
      return c.json({ version })
    })
    .put('/:id/frames/:ordinal', valid('param', OneFrame), valid('query', Replace), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id, ordinal } = c.req.valid('param')
      const place = ordinal - 1
      const { from, name } = c.req.valid('query')
      const bytes = await readAtMost(c, ENTRY_MEMORY_MAX_BYTES)
      if (!bytes)
        throw new Problem(
          413,
          `"${name}" is larger than ${ENTRY_MEMORY_MAX_BYTES / 1024 ** 2} MiB; save it smaller and choose it again.`,
        )
      const brush = await findBrushForStroke(db, workspaceId, id, from)
      const old = brush?.frames[place]
      if (!brush || !old) throw notFound('frame')
      const { reading } = brush.recipe.colour
      const read = await workers.run('readFrame', { bytes, reading })
      if ('refused' in read) throw new Problem(422, `"${name}": ${read.refused}`)
      checkTogether(brush.frames.map((frame, i) => (i === place ? read : frame)))
      const pngs = await Promise.all(
        brush.frames.map(({ blobSha }, i) => (i === place ? read.png : blobs.read(workspaceId, blobSha))),
      )
      const changed = await workers.run('changeFrames', { frames: pngs, reading, edits: [], blacken: false })
      if ('refused' in changed) throw new Problem(422, `"${name}" cannot take this place: ${changed.refused}`)
      const names = brush.frames.map((frame, i) => (i === place ? '' : frame.name))
      const version = await storeFrames(deps, { workspaceId, id, from, names, ...changed })
      if (version === undefined) throw movedOn()
      await events.publish({ workspaceId, topic: 'library', id })
      return c.json({ version })
    })
}

const movedOn = () =>
  new Problem(409, 'This brush was changed somewhere else meanwhile; reload it and make the change again.')

/** What a comparison of frames follows from. */
const comparisonOf = ({ frames, recipe }: NonNullable<Awaited<ReturnType<typeof findBrushForStroke>>>) => ({
  compareFrames: frames.map(({ blobSha }) => blobSha),
  reading: recipe.colour.reading,
  measure: COMPARISON_VERSION,
})
/** Counts the ways in which frames were compared: another way finds its answers anew. */
const COMPARISON_VERSION = 1

/** All frames are at work at once. @throws {Problem} If they have more pixels together than can be held. */
function checkTogether(frames: readonly { width: number; height: number }[]): void {
  const pixels = frames.reduce((sum, { width, height }) => sum + width * height, 0)
  if (pixels > ANIMATION_PIXELS_MAX)
    throw new Problem(
      422,
      `These ${frames.length} frames have more than ${ANIMATION_PIXELS_MAX / 1e6} million pixels together; take fewer, or smaller ones.`,
    )
}

/** The frames of the earlier versions that an order names. */
async function framesOfVersions(
  db: Db,
  workspaceId: string,
  id: string,
  order: v.InferOutput<typeof Change>['order'],
): Promise<Map<number, readonly StoredFrame[]>> {
  const versions = new Set(order.flatMap((of) => (typeof of === 'number' ? [] : [of.version])))
  const found = new Map<number, readonly StoredFrame[]>()
  for (const version of versions) {
    const brush = await findBrushForStroke(db, workspaceId, id, version)
    if (brush) found.set(version, brush.frames)
  }
  return found
}
