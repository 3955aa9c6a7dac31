import { EditionPlan } from '@satchel/core/editions/plan'
import { Name } from '@satchel/core/forms/names'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { findBuild, findEdition, listBuilds, listEditions, setEditionDeleted } from '../db/editions.ts'
import { endHandOutsOf } from '../db/hand-outs.ts'
import { listInstallsOf } from '../db/installs.ts'
import { listLatestJobs } from '../db/jobs.ts'
import { findPack } from '../db/packs.ts'
import { findNewestRelease, findRelease } from '../db/releases.ts'
import { notFound, Problem } from '../errors.ts'
import { takeOutOf } from '../fit/class-over.ts'
import { allDestinations } from '../fit/destinations.ts'
import { binEdition, changeEdition, choosableOf, createEdition } from '../hand-out/editions.ts'
import { createLook } from '../hand-out/look-ahead.ts'
import { buildEditionAgain } from '../hand-out/prepare-editions.ts'
import { whyLost } from '../queue/lost-work.ts'
import type { SignedIn } from './context.ts'
import { about } from './noted.ts'
import { Id, valid } from './validate.ts'

const NewEdition = v.object({ name: Name, plan: EditionPlan })
const ChangedEdition = v.object({ ...NewEdition.entries, was: v.pipe(v.number(), v.integer(), v.minValue(1)) })
const Moment = v.object({ at: v.nullable(v.pipe(v.string(), v.isoTimestamp('a moment is a date and time'))) })
const OfEdition = v.object({ ...Id.entries, buildId: Id.entries.id })

/** How releases of a pack are cut for those who get them. */
export const editionRoutes = (deps: AppDeps) => {
  const { db, events, origin, jobs } = deps
  const changed = (workspaceId: string) => events.publish({ workspaceId, topic: 'packs' })
  return (
    new Hono<SignedIn>()
      .get('/:id/editions', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await findPack(db, workspaceId, id))) throw notFound('pack')
        const newest = await findNewestRelease(db, workspaceId, id)
        const editions = await listEditions(db, workspaceId, id)
        return c.json({ editions, newest: newest ? choosableOf(newest) : null })
      })
      .post('/:id/editions', valid('param', Id), valid('json', NewEdition), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = await createEdition(db, workspaceId, c.req.valid('param').id, c.req.valid('json'))
        await changed(workspaceId)
        return c.json({ id }, 201)
      })
      .put('/editions/:id', valid('param', Id), valid('json', ChangedEdition), async (c) => {
        const workspaceId = c.get('workspaceId')
        const version = await changeEdition(db, workspaceId, c.req.valid('param').id, c.req.valid('json'))
        await changed(workspaceId)
        return c.json({ version })
      })
      .delete('/editions/:id', valid('param', Id), async (c) => {
        await binEdition(db, c.get('workspaceId'), c.req.valid('param').id)
        await changed(c.get('workspaceId'))
        return c.json({ ok: true })
      })
      .post('/editions/:id/bring-back', valid('param', Id), async (c) => {
        if (!(await setEditionDeleted(db, c.get('workspaceId'), c.req.valid('param').id, null)))
          throw notFound('edition')
        await changed(c.get('workspaceId'))
        return c.json({ ok: true })
      })
      // the downloads that are built of it
      .get('/editions/:id/builds', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await findEdition(db, workspaceId, id))) throw notFound('edition')
        const builds = await listBuilds(db, workspaceId, id)
        const building = await listLatestJobs(
          db,
          workspaceId,
          'build-edition',
          builds.map((build) => build.id),
        )
        return c.json({
          builds: builds.map((build) => ({
            ...build,
            lost: (build.state === 'ready' ? undefined : whyLost(building.get(build.id))) ?? null,
          })),
        })
      })
      .post('/editions/:id/builds/:buildId/again', valid('param', OfEdition), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id, buildId } = c.req.valid('param')
        const edition = await findEdition(db, workspaceId, id)
        const build = await findBuild(db, workspaceId, buildId)
        const release = build && (await findRelease(db, workspaceId, build.releaseId))
        if (!edition || build?.editionId !== id || !release) throw notFound('download')
        if (build.state === 'ready') throw new Problem(409, 'It is built already; look at it again.')
        await buildEditionAgain({ jobs }, { workspaceId, name: edition.name, buildId, version: release.version })
        await changed(workspaceId)
        return c.json({ ok: true })
      })
      // as its people will see it, now or at a moment to come
      .post('/editions/:id/look', valid('param', Id), valid('json', Moment), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await findEdition(db, workspaceId, id))) throw notFound('edition')
        const { at } = c.req.valid('json')
        return c.json({ link: `${origin}/h/${createLook(deps, workspaceId, id, at === null ? null : new Date(at))}` })
      })
      // what lies in folders because of it: what its end takes out, and what has to be taken out where it lies
      .get('/editions/:id/folders', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await findEdition(db, workspaceId, id))) throw notFound('edition')
        const known = await allDestinations(db, workspaceId)
        const installs = await listInstallsOf(db, workspaceId, id)
        return c.json({
          installs: installs.map(({ destinationId, state, ...each }) => ({
            ...each,
            app: known.find((one) => one.id === destinationId)?.description.name ?? destinationId,
            isOurs: state === 'in',
          })),
        })
      })
      // folders of apps are as they were before, whatever becomes of its links
      .post('/editions/:id/take-out', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await findEdition(db, workspaceId, id))) throw notFound('edition')
        const folders = await takeOutOf(deps, workspaceId, id)
        await events.publish({ workspaceId, topic: 'fit' })
        return c.json(folders)
      })
      // all links of it end now: what they were before comes back, and undoes it
      .post('/editions/:id/end', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        const edition = await findEdition(db, workspaceId, id)
        if (!edition) throw notFound('edition')
        about(c, edition.name)
        const before = await endHandOutsOf(db, workspaceId, id, new Date())
        const folders = await takeOutOf(deps, workspaceId, id)
        await changed(workspaceId)
        if (folders.takenOut.length > 0) await events.publish({ workspaceId, topic: 'fit' })
        return c.json({ before, ...folders })
      })
  )
}
