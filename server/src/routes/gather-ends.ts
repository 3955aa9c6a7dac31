import { suggestRules } from '@satchel/core/loose-ends/rename-rule'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { findGather } from '../db/gathers.ts'
import { notFound } from '../errors.ts'
import { findLedgerEnds, mendLedger, undoLedgerMend } from '../gather/ledger-ends.ts'
import type { SignedIn } from './context.ts'
import { MendingSaid } from './mending-said.ts'
import { Id, valid } from './validate.ts'

const RULES_SHOWN = 5

/** Loose ends of a library that is in the ledger: found, mended and undone before anything is taken in. */
export const gatherEndRoutes = (deps: AppDeps) => {
  const { db, events, jobs } = deps
  const known = async (workspaceId: string, id: string) => {
    const gather = await findGather(db, workspaceId, id)
    if (!gather) throw notFound('ledger')
    return gather
  }
  /** What has become a brush, or is none any more, is compared anew. */
  const changed = async (workspaceId: string, id: string) => {
    await jobs.add({ workspaceId, kind: 'gather-read', subjectId: id, title: 'Comparing pictures', payload: {} })
    await events.publish({ workspaceId, topic: 'gather', id })
  }
  return new Hono<SignedIn>()
    .get('/:id/loose-ends', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const gather = await known(workspaceId, id)
      const { ends, files, brushes } = await findLedgerEnds(deps, workspaceId, id)
      const paths = files.map(({ path }) => path)
      return c.json({
        ends,
        paths,
        brushes,
        rules: suggestRules(ends, new Set(paths)).slice(0, RULES_SHOWN),
        mends: gather.mends
          .map(({ id: mendId, ends: count, at }) => ({ id: mendId, ends: count, createdAt: at }))
          .reverse(),
      })
    })
    .post('/:id/loose-ends', valid('param', Id), valid('json', v.object({ mending: MendingSaid })), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      await known(workspaceId, id)
      const done = await mendLedger(deps, workspaceId, id, c.req.valid('json').mending)
      await changed(workspaceId, id)
      return c.json(done)
    })
    .post(
      '/:id/loose-ends/:mendId/undo',
      valid('param', v.object({ ...Id.entries, mendId: Id.entries.id })),
      async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id, mendId } = c.req.valid('param')
        await known(workspaceId, id)
        await undoLedgerMend(deps, workspaceId, id, mendId)
        await changed(workspaceId, id)
        return c.json({ stayed: [] as string[] })
      },
    )
}
