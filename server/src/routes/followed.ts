import { LimitError } from '@satchel/core/errors'
import { FolderLook, FollowedAnswer, FollowedFileSent, NewFollowed } from '@satchel/core/forms/followed'
import { UPLOAD_MAX_BYTES } from '@satchel/core/limits'
import { Hono } from 'hono'
import type { AppDeps } from '../app-deps.ts'
import { countFollowed, deleteFollowed, findFollowed, followFolder } from '../db/followed.ts'
import { listFollowed } from '../db/followed-shown.ts'
import { openFolderGather } from '../db/gathers.ts'
import { notFound, Problem } from '../errors.ts'
import { answerFollowed, lookHow, takeFollowedFile, takeLook } from '../gather/followed/look.ts'
import { cancelGather } from '../gather/take-in.ts'
import { checkRoomForFile } from '../library/room.ts'
import { bodyOf } from './body.ts'
import type { SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

/** Folders that one workspace follows. */
const FOLDERS_MAX = 50

/** Folders whose changed files become new versions of their brushes: who has the folder tells how it is, and sends what is wanted of it. */
export const followedRoutes = (deps: AppDeps) => {
  const { db, events } = deps
  return (
    new Hono<SignedIn>()
      .get('/', async (c) => c.json({ folders: await listFollowed(db, c.get('workspaceId')) }))
      .post('/', valid('json', NewFollowed), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id, isNew } = await db.transaction(async (tx) => {
          const made = await followFolder(tx, workspaceId, { ...c.req.valid('json'), userId: c.get('person').id })
          if (made.isNew && (await countFollowed(tx, workspaceId)) > FOLDERS_MAX)
            throw new Problem(429, `${FOLDERS_MAX} folders are followed here already; end some of them first.`)
          return made
        })
        await events.publish({ workspaceId, topic: 'followed', id })
        return c.json({ id, isNew }, 201)
      })
      .get('/:id', valid('param', Id), async (c) =>
        c.json(await lookHow(deps, { workspaceId: c.get('workspaceId'), folderId: c.req.valid('param').id })),
      )
      .post('/:id/look', valid('param', Id), valid('json', FolderLook), async (c) => {
        const of = { workspaceId: c.get('workspaceId'), folderId: c.req.valid('param').id }
        return c.json(await takeLook(deps, of, c.req.valid('json').files))
      })
      .put('/:id/files', valid('param', Id), valid('query', FollowedFileSent), async (c) => {
        const workspaceId = c.get('workspaceId')
        const wanted = { workspaceId, folderId: c.req.valid('param').id, ...c.req.valid('query') }
        const tooLarge = () =>
          new Problem(
            413,
            `"${wanted.path}" is larger than ${UPLOAD_MAX_BYTES / 1024 ** 3} GiB; take it out of the folder.`,
          )
        const saidBytes = Number(c.req.header('content-length') ?? 0)
        if (saidBytes > UPLOAD_MAX_BYTES) throw tooLarge()
        await checkRoomForFile(deps, workspaceId, saidBytes)
        const { id } = await takeFollowedFile(deps, wanted, bodyOf(c), UPLOAD_MAX_BYTES).catch((error: unknown) => {
          throw error instanceof LimitError ? tooLarge() : error
        })
        return c.json({ id }, 201)
      })
      .post('/:id/answer', valid('param', Id), valid('json', FollowedAnswer), async (c) => {
        const of = { workspaceId: c.get('workspaceId'), folderId: c.req.valid('param').id }
        return c.json(await answerFollowed(deps, { ...of, ...c.req.valid('json') }))
      })
      // its brushes stay; what was sent and not read yet goes
      .delete('/:id', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await findFollowed(db, workspaceId, id))) throw notFound('folder')
        const { id: gatherId } = await openFolderGather(db, workspaceId, id)
        await cancelGather(db, workspaceId, gatherId)
        if ((await deleteFollowed(db, workspaceId, id)) === undefined) throw notFound('folder')
        await events.publish({ workspaceId, topic: 'followed' })
        return c.json({ ok: true })
      })
  )
}
