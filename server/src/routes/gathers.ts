import { kindWord } from '@satchel/core/brush-file/kinds'
import { PICTURE_USES } from '@satchel/core/grain/picture-use'
import { HEAVY_TIP_SIDE_PX, UPLOAD_MAX_BYTES } from '@satchel/core/limits'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { Db } from '../db/database.ts'
import {
  addGatherFile,
  countGatherFiles,
  decideGatherLines,
  findGather,
  findOpenGather,
  listGatherLines,
  loadGatherLines,
  openGather,
} from '../db/gathers.ts'
import { findOpenJob, listOpenJobs } from '../db/jobs.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import type { AppDeps } from '../deps.ts'
import { notFound, Problem } from '../errors.ts'
import { markDuplicates } from '../gather/mark-duplicates.ts'
import { restoreLine } from '../gather/shrink-job.ts'
import { cancelGather, takeIn, undoTakeIn } from '../gather/take-in.ts'
import { parsePayload } from '../queue/job-kinds.ts'
import { drawParcel } from '../starter/parcel.ts'
import type { SignedIn } from './context.ts'
import { Id, Ids, Name, valid } from './validate.ts'

const PATH_MAX_CHARS = 1024
const FilePath = v.object({
  path: v.pipe(
    v.string(),
    v.maxLength(PATH_MAX_CHARS),
    v.transform((path) => path.replaceAll('\\', '/').replace(/^\/+/, '')),
    v.nonEmpty('the file needs a name'),
    v.check((path) => !path.split('/').includes('..'), 'the path leaves its folder'),
  ),
})
const Decision = v.object({
  ids: Ids,
  outcome: v.optional(v.picklist(['take', 'skip'])),
  setName: v.optional(v.union([v.literal(''), Name])),
  name: v.optional(Name),
  use: v.optional(v.picklist(PICTURE_USES)),
})
const Shrink = v.object({ ids: Ids, smaller: v.boolean() })

/** The ledger: files come in, are read by a job, decided on, and taken in or dropped. */
export const gatherRoutes = ({ db, blobs, jobs, events }: AppDeps) => {
  const known = async (workspaceId: string, id: string) => {
    if (!(await findGather(db, workspaceId, id))) throw notFound('ledger')
  }
  return new Hono<SignedIn>()
    .get('/parcel', (c) => c.body(new Uint8Array(drawParcel()), 200, { 'content-type': 'application/zip' }))
    .get('/current', async (c) => {
      const gather = await findOpenGather(db, c.get('workspaceId'))
      return c.json({ id: gather?.id ?? null })
    })
    .post('/', async (c) => {
      const workspaceId = c.get('workspaceId')
      const gather = await openGather(db, workspaceId)
      return c.json({ id: gather.id }, 201)
    })
    .get('/:id', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const gather = await findGather(db, workspaceId, id)
      if (!gather) throw notFound('ledger')
      const [files, lines, job] = await Promise.all([
        countGatherFiles(db, workspaceId, id),
        listGatherLines(db, workspaceId, id),
        findOpenJob(db, workspaceId, 'gather-read', id),
      ])
      return c.json({
        id,
        state: gather.state,
        files,
        lines: lines.map((line) => ({ ...line, kindWord: kindWord(line.kind) })),
        /** How far reading is, in pictures; none while nothing is read. */
        reading: job ? { jobId: job.id, done: job.done, total: job.total, startedAt: job.startedAt } : null,
        heavyPx: HEAVY_TIP_SIDE_PX,
      })
    })
    .put('/:id/files', valid('param', Id), valid('query', FilePath), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const { path } = c.req.valid('query')
      const gather = await findGather(db, workspaceId, id)
      if (gather?.state !== 'open') throw tooLate(path)
      if (Number(c.req.header('content-length') ?? 0) > UPLOAD_MAX_BYTES) throw tooLarge(path)
      const stored = await blobs
        .putStream(db, workspaceId, bodyOf(c.req.raw), {
          mediaType: 'application/octet-stream',
          maxBytes: UPLOAD_MAX_BYTES,
        })
        .catch((error: unknown) => {
          throw error instanceof Error && error.name === 'LimitError' ? tooLarge(path) : error
        })
      const file = await addGatherFile(db, {
        workspaceId,
        gatherId: id,
        path,
        sizeBytes: stored.sizeBytes,
        blobSha: stored.sha256,
      })
      if (!file) {
        await deleteOrphanBlobs(db, workspaceId, [stored.sha256])
        throw tooLate(path)
      }
      await jobs.add({ workspaceId, kind: 'gather-read', subjectId: id, title: 'Reading files', payload: {} })
      await events.publish({ workspaceId, topic: 'gather', id })
      return c.json({ id: file.id }, 201)
    })
    .post('/:id/read', valid('param', Id), async (c) => {
      const { id } = c.req.valid('param')
      await known(c.get('workspaceId'), id)
      await jobs.add({
        workspaceId: c.get('workspaceId'),
        kind: 'gather-read',
        subjectId: id,
        title: 'Reading files',
        payload: {},
      })
      return c.json({ ok: true })
    })
    .post('/:id/decide', valid('param', Id), valid('json', Decision), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { ids, ...change } = c.req.valid('json')
      const { id: gatherId } = c.req.valid('param')
      await known(workspaceId, gatherId)
      if (change.use && change.use !== 'tip') await checkOnePicture(db, { workspaceId, gatherId, ids })
      const changed = await decideGatherLines(db, { workspaceId, gatherId, ids }, change)
      if (change.use) await markDuplicates(db, workspaceId, gatherId)
      await events.publish({ workspaceId, topic: 'gather', id: gatherId })
      return c.json({ changed })
    })
    .post('/:id/shrink', valid('param', Id), valid('json', Shrink), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const { ids, smaller } = c.req.valid('json')
      await known(workspaceId, id)
      if (smaller) {
        const title = ids.length === 1 ? 'Making a smaller copy' : `Making ${ids.length} smaller copies`
        await jobs.add({
          workspaceId,
          kind: 'gather-shrink',
          subjectId: ids[0] ?? id,
          title,
          payload: { gatherId: id, lineIds: ids },
        })
        return c.json({ queued: true })
      }
      for (const line of await loadGatherLines(db, workspaceId, id, ids)) await restoreLine(db, line)
      await markDuplicates(db, workspaceId, id)
      await events.publish({ workspaceId, topic: 'gather', id })
      return c.json({ queued: false })
    })
    .post('/:id/take', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      if (await findOpenJob(db, workspaceId, 'gather-read', id))
        throw new Problem(409, 'Files are still being read; wait for the last one, or stop the reading.')
      const taken = await takeIn(db, workspaceId, id)
      await Promise.all([
        events.publish({ workspaceId, topic: 'gather', id }),
        events.publish({ workspaceId, topic: 'library' }),
      ])
      return c.json(taken)
    })
    .post('/:id/undo', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      await known(workspaceId, id)
      const binned = await undoTakeIn(db, workspaceId, id)
      if (binned === undefined) throw new Problem(409, 'This was taken back already; the brushes lie in the bin.')
      await events.publish({ workspaceId, topic: 'library' })
      return c.json({ binned })
    })
    .post('/:id/cancel', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      await known(workspaceId, id)
      const cancelled = await cancelGather(db, workspaceId, id)
      const reading = await findOpenJob(db, workspaceId, 'gather-read', id)
      const shrinking = await listOpenJobs(db, workspaceId, 'gather-shrink')
      const ofThis = shrinking.filter((job) => parsePayload('gather-shrink', job.payload).gatherId === id)
      for (const job of [...(reading ? [reading] : []), ...ofThis]) await jobs.stop(workspaceId, job.id)
      await events.publish({ workspaceId, topic: 'gather', id })
      return c.json({ cancelled })
    })
}

/** A grain or strip is one picture, and what came with a recipe stays a brush. */
async function checkOnePicture(db: Db, where: { workspaceId: string; gatherId: string; ids: string[] }): Promise<void> {
  for (const line of await loadGatherLines(db, where.workspaceId, where.gatherId, where.ids)) {
    if (line.frames.length > 1 || line.kind === 'pack')
      throw new Problem(
        422,
        `"${line.name}" is a whole brush and stays one; only single pictures can be grain or strip.`,
      )
  }
}

const tooLate = (path: string) => new Problem(409, `"${path}" came after the ledger was closed; drop it again.`)

const tooLarge = (path: string) =>
  new Problem(413, `"${path}" is larger than ${UPLOAD_MAX_BYTES / 1024 ** 3} GiB; split it and drop the parts.`)

async function* bodyOf(request: Request): AsyncGenerator<Uint8Array> {
  if (request.body) for await (const chunk of request.body) yield chunk
}
