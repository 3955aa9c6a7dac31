import { LimitError } from '@satchel/core/errors'
import { UPLOAD_MAX_BYTES } from '@satchel/core/limits'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { findGather, findGatherFile } from '../db/gathers.ts'
import { addUploadPiece, findUpload, forgetUpload, openUpload } from '../db/uploads.ts'
import { notFound, Problem } from '../errors.ts'
import { finishUpload, tooLate } from '../gather/finish-upload.ts'
import { announceFiles, takeFile } from '../gather/take-file.ts'
import { checkRoomForFile, checkRoomForUpload } from '../library/room.ts'
import { bodyOf } from './body.ts'
import type { SignedIn } from './context.ts'
import { Id, ListPlace, PATH_MAX_CHARS, valid } from './validate.ts'

const FilePath = v.pipe(
  v.string(),
  v.maxLength(PATH_MAX_CHARS),
  v.transform((path) => path.replaceAll('\\', '/').replace(/^\/+/, '')),
  v.nonEmpty('the file needs a name'),
  v.check((path) => !path.split('/').includes('..'), 'the path leaves its folder'),
)
const InOneGo = v.object({ path: FilePath })
const FileToCome = v.object({
  path: FilePath,
  sizeBytes: v.pipe(v.number(), v.safeInteger(), v.minValue(1, 'an empty file goes up in one go')),
  modifiedMs: v.pipe(v.number(), v.safeInteger()),
})
const OfUpload = v.object({ ...Id.entries, uploadId: Id.entries.id })

/** How files come into a ledger: in one go, or piece by piece, so that one that broke off goes on where it stopped. */
export const uploadRoutes = (deps: AppDeps) => {
  const { db, blobs, events } = deps
  /** How much of a file has come; all of it once it is one of the ledger's. */
  const howFar = async (workspaceId: string, gatherId: string, uploadId: string) => {
    const upload = await findUpload(db, workspaceId, gatherId, uploadId)
    if (upload) return { receivedBytes: upload.receivedBytes, isWhole: false }
    const file = await findGatherFile(db, workspaceId, gatherId, uploadId)
    if (!file) throw notFound('upload')
    return { receivedBytes: file.sizeBytes, isWhole: true }
  }
  return new Hono<SignedIn>()
    .put('/:id/files', valid('param', Id), valid('query', InOneGo), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const { path } = c.req.valid('query')
      const gather = await findGather(db, workspaceId, id)
      if (gather?.state !== 'open') throw tooLate(path)
      const saidBytes = Number(c.req.header('content-length') ?? 0)
      if (saidBytes > UPLOAD_MAX_BYTES) throw tooLarge(path)
      await checkRoomForFile(deps, workspaceId, saidBytes)
      const to = { workspaceId, gatherId: id, admit: async () => path }
      const file = await takeFile(deps, to, bodyOf(c), UPLOAD_MAX_BYTES).catch((error: unknown) => {
        throw error instanceof LimitError ? tooLarge(path) : error
      })
      if (!file) throw tooLate(path)
      return c.json({ id: file.id }, 201)
    })
    .post('/:id/uploads', valid('param', Id), valid('json', FileToCome), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id: gatherId } = c.req.valid('param')
      const file = c.req.valid('json')
      if (file.sizeBytes > UPLOAD_MAX_BYTES) throw tooLarge(file.path)
      const upload = await openUpload(db, { workspaceId, gatherId }, file, (tx) =>
        checkRoomForUpload({ ...deps, db: tx }, workspaceId, file.sizeBytes),
      )
      if (upload === 'ended') throw tooLate(file.path)
      return c.json({ id: upload.id, receivedBytes: upload.receivedBytes }, 201)
    })
    .get('/:id/uploads/:uploadId', valid('param', OfUpload), async (c) => {
      const { id, uploadId } = c.req.valid('param')
      return c.json(await howFar(c.get('workspaceId'), id, uploadId))
    })
    .patch(
      '/:id/uploads/:uploadId',
      valid('param', OfUpload),
      valid('query', v.object({ at: ListPlace })),
      async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id, uploadId } = c.req.valid('param')
        const { at } = c.req.valid('query')
        const upload = await findUpload(db, workspaceId, id, uploadId)
        if (!upload) return c.json(await howFar(workspaceId, id, uploadId))
        const { path, sizeBytes } = upload
        const bytes = new Uint8Array(await c.req.arrayBuffer())
        if (at + bytes.length > sizeBytes)
          throw new Problem(422, `"${path}" is longer than was said; it was changed meanwhile. Drop it again.`)
        const receivedBytes = await addUploadPiece(db, upload, at, bytes)
        if (receivedBytes === undefined)
          throw new Problem(409, `"${path}" goes on from another byte than ${at}; ask how far it has come.`)
        if (receivedBytes === sizeBytes) {
          await finishUpload({ db, blobs }, upload)
          await announceFiles(deps, { workspaceId, gatherId: id })
        }
        return c.json({ receivedBytes, isWhole: receivedBytes === sizeBytes })
      },
    )
    .delete('/:id/uploads/:uploadId', valid('param', OfUpload), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id, uploadId } = c.req.valid('param')
      if (!(await forgetUpload(db, workspaceId, id, uploadId))) throw notFound('upload')
      await events.publish({ workspaceId, topic: 'gather', id })
      return c.json({ ok: true })
    })
}

const tooLarge = (path: string) =>
  new Problem(413, `"${path}" is larger than ${UPLOAD_MAX_BYTES / 1024 ** 3} GiB; split it and drop the parts.`)
