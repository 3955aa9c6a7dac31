import { Hono } from 'hono'
import type { AppDeps } from '../app-deps.ts'
import { listActs } from '../db/acts.ts'
import { tellOfAct } from '../library/tell-of-act.ts'
import { undoAct } from '../library/undo-act.ts'
import { compareNow } from '../same-marks/compare-marks.ts'
import type { SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

/** What was done to many brushes of the library in one step, and is taken back in one. */
export const actRoutes = (deps: AppDeps) =>
  new Hono<SignedIn>()
    .get('/', async (c) => c.json({ acts: await listActs(deps.db, c.get('workspaceId')) }))
    .post('/:id/undo', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const undone = await undoAct(deps, workspaceId, c.req.valid('param').id)
      await compareNow(deps, workspaceId)
      await tellOfAct(deps, workspaceId)
      return c.json(undone)
    })
