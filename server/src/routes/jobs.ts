import { Hono } from 'hono'
import type { AppDeps } from '../app-deps.ts'
import { listJobs } from '../db/jobs.ts'
import { notFound } from '../errors.ts'
import type { SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

/** The drawer of running and ended tasks. */
export const jobRoutes = ({ db, jobs }: AppDeps) =>
  new Hono<SignedIn>()
    .get('/', async (c) => {
      const rows = await listJobs(db, c.get('workspaceId'))
      return c.json({
        jobs: rows.map(({ id, kind, subjectId, title, state, done, total, error, startedAt, endedAt }) => ({
          id,
          kind,
          subjectId,
          title,
          state,
          done,
          total,
          error,
          startedAt,
          endedAt,
        })),
      })
    })
    .post('/:id/stop', valid('param', Id), async (c) => {
      if (!(await jobs.stop(c.get('workspaceId'), c.req.valid('param').id))) throw notFound('task')
      return c.json({ ok: true })
    })
    .post('/:id/resume', valid('param', Id), async (c) => {
      if (!(await jobs.resume(c.get('workspaceId'), c.req.valid('param').id))) throw notFound('task')
      return c.json({ ok: true })
    })
