import type { HttpBindings } from '@hono/node-server'
import { RESPONSE_ALREADY_SENT } from '@hono/node-server/utils/response'
import { create as createDisposition } from 'content-disposition'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { listLatestJobs } from '../db/jobs.ts'
import { deleteParcel, findParcel, insertParcel, listParcels } from '../db/parcels.ts'
import { Wanted } from '../db/schema/parcels.ts'
import { notFound, Problem } from '../errors.ts'
import { sendFile } from '../hand-out/send-file.ts'
import { lookAt } from '../parcels/parcel-kinds.ts'
import { whyLost } from '../queue/lost-work.ts'
import type { SignedIn } from './context.ts'
import { about } from './noted.ts'
import { ONLY_OWNER } from './owner-only.ts'
import { Id, valid } from './validate.ts'

/** Parcels of one workspace that wait to be fetched: older ones give way. */
const KEPT_MAX = 20
const Asked = v.object({ wanted: Wanted })
/** A whole library is all that the workspace has: it leaves by its owner alone. */
const isForOwner = ({ kind }: v.InferOutput<typeof Wanted>): boolean => kind === 'library'

/** Files that the curator asks for: what they will hold, how far they are, and the files. */
export const parcelRoutes = (deps: AppDeps) => {
  const { db, jobs, events, blobs } = deps
  return (
    new Hono<SignedIn & { Bindings: HttpBindings }>()
      .get('/', async (c) => {
        const workspaceId = c.get('workspaceId')
        const rows = await listParcels(db, workspaceId)
        const open = rows.filter(({ fileName }) => fileName === null).map(({ id }) => id)
        const working = await listLatestJobs(db, workspaceId, 'make-parcel', open)
        return c.json({
          parcels: rows.map((row) => ({
            ...row,
            jobId: working.get(row.id)?.id ?? null,
            lost: row.fileName === null ? (whyLost(working.get(row.id)) ?? null) : null,
          })),
        })
      })
      // a POST because it is told what is wanted; nothing is kept of it
      .post('/look', valid('json', Asked), async (c) =>
        c.json(await lookAt(deps, c.get('workspaceId'), c.req.valid('json').wanted)),
      )
      .post('/', valid('json', Asked), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { wanted } = c.req.valid('json')
        const { title } = await lookAt(deps, workspaceId, wanted)
        if (isForOwner(wanted)) {
          if (c.get('role') !== 'owner') throw new Problem(403, ONLY_OWNER)
          about(c, title)
        }
        const parcel = await insertParcel(db, { workspaceId, wanted, title })
        try {
          await jobs.add({ workspaceId, kind: 'make-parcel', subjectId: parcel.id, title, payload: {} })
        } catch (error) {
          // too much waits already: nobody would ever make it
          await deleteParcel(db, parcel)
          throw error
        }
        for (const old of (await listParcels(db, workspaceId)).slice(KEPT_MAX)) await deleteParcel(db, old)
        await events.publish({ workspaceId, topic: 'parcels', id: parcel.id })
        return c.json({ id: parcel.id }, 201)
      })
      .get('/:id/file', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const parcel = await findParcel(db, workspaceId, c.req.valid('param').id)
        if (!parcel) throw notFound('file')
        if (isForOwner(parcel.wanted) && c.get('role') !== 'owner') throw new Problem(403, ONLY_OWNER)
        const { blobSha, fileName, mediaType, sizeBytes } = parcel
        if (blobSha === null || fileName === null || mediaType === null || sizeBytes === null)
          throw new Problem(409, 'This file is still being made; try again soon.')
        const path = await blobs.path(workspaceId, blobSha)
        const headers = {
          'content-type': mediaType,
          'content-disposition': createDisposition(fileName),
          'cache-control': 'private, no-cache',
          'x-content-type-options': 'nosniff',
        }
        await sendFile(c.env.incoming, c.env.outgoing, { path, sizeBytes, etag: `"${blobSha}"`, headers })
        return RESPONSE_ALREADY_SENT
      })
      .delete('/:id', valid('param', Id), async (c) => {
        const { id } = c.req.valid('param')
        const workspaceId = c.get('workspaceId')
        if (!(await deleteParcel(db, { workspaceId, id }))) throw notFound('file')
        await events.publish({ workspaceId, topic: 'parcels', id })
        return c.json({ ok: true })
      })
  )
}
