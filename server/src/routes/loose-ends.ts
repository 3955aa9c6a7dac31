import { BUILT_IN } from '@satchel/core/destinations/built-in'
import { STAND_INS } from '@satchel/core/destinations/destination'
import { trimSigns } from '@satchel/core/formats/text'
import { suggestRules } from '@satchel/core/loose-ends/rename-rule'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { listMends } from '../db/mends.ts'
import { findFolderEnds } from '../fit/loose-ends.ts'
import { mendEnds, moveFolder, undoMend } from '../fit/mend.ts'
import type { SignedIn } from './context.ts'
import { MendingSaid } from './mending-said.ts'
import { Id, valid } from './validate.ts'

const RULES_SHOWN = 5

/** Characters of a folder: what lies in it has to find room behind it in the names of the database. */
const FOLDER_MAX_CHARS = 200

const App = v.picklist(STAND_INS)
const FolderPath = v.pipe(v.string(), v.maxLength(FOLDER_MAX_CHARS, `a folder may have ${FOLDER_MAX_CHARS} characters`))
/** Parts that no system takes for another place. */
const SafeFolder = v.pipe(
  FolderPath,
  v.nonEmpty('a folder is needed'),
  v.check(
    (path) =>
      path
        .split('/')
        .every((part) => part.trim() === part && trimSigns(part, '.') !== '' && !/[\\:*?"<>|\p{Cc}]/u.test(part)),
    'a folder may not be called like that',
  ),
)
const MendWish = v.object({ standIn: App, mending: MendingSaid })

/** References in the folders of apps that lead nowhere: found, mended, undone. */
export const looseEndRoutes = (deps: AppDeps) => {
  const changed = (workspaceId: string) => deps.events.publish({ workspaceId, topic: 'fit' })
  return new Hono<SignedIn>()
    .get('/', valid('query', v.object({ standIn: App })), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { standIn } = c.req.valid('query')
      const [{ ends, files }, mends] = await Promise.all([
        findFolderEnds(deps, workspaceId, standIn),
        listMends(deps.db, { workspaceId, standIn }),
      ])
      const paths = files.map(({ path }) => path)
      const { settings } = BUILT_IN[standIn].files
      return c.json({
        ends,
        rules: suggestRules(ends, new Set(paths)).slice(0, RULES_SHOWN),
        paths,
        brushes: paths.filter((path) => settings && path.endsWith(`.${settings}`)).length,
        mends: mends.map(({ id, ends: count, createdAt }) => ({ id, ends: count, createdAt })),
      })
    })
    .post('/', valid('json', MendWish), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { standIn, mending } = c.req.valid('json')
      const done = await mendEnds(deps, workspaceId, standIn, mending)
      await changed(workspaceId)
      return c.json(done)
    })
    .post('/:id/undo', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const done = await undoMend(deps, workspaceId, c.req.valid('param').id)
      await changed(workspaceId)
      return c.json(done)
    })
    .post('/move', valid('json', v.object({ standIn: App, from: SafeFolder, to: SafeFolder })), async (c) => {
      const workspaceId = c.get('workspaceId')
      const moved = await moveFolder(deps, workspaceId, c.req.valid('json'))
      await changed(workspaceId)
      return c.json({ moved })
    })
}
