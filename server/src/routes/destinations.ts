import { parseDestination } from '@satchel/core/destinations/destination'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { addDestination, changeDestination, dropDestination, findDestination } from '../db/destinations.ts'
import { changedElsewhere, notFound } from '../errors.ts'
import { allDestinations } from '../fit/destinations.ts'
import { tryDestination } from '../fit/try-destination.ts'
import type { SignedIn } from './context.ts'
import { Count, Id, valid } from './validate.ts'

const Described = v.object({ description: v.unknown() })
/** `from` is the version that a change was made on. */
const Changed = v.object({ ...Described.entries, from: Count })
const Tried = v.object({ description: v.unknown(), brushId: v.pipe(v.string(), v.uuid()) })

/** Painting apps as they are described: those that come with the product, and a curator's own. */
export const destinationRoutes = (deps: AppDeps) => {
  const { db, events } = deps
  const changed = (workspaceId: string) => events.publish({ workspaceId, topic: 'fit' })
  return (
    new Hono<SignedIn>()
      .get('/destinations', async (c) => c.json({ destinations: await allDestinations(db, c.get('workspaceId')) }))
      .post('/destinations', valid('json', Described), async (c) => {
        const workspaceId = c.get('workspaceId')
        const id = await addDestination(db, workspaceId, parseDestination(c.req.valid('json').description))
        await changed(workspaceId)
        return c.json({ id }, 201)
      })
      .put('/destinations/:id', valid('param', Id), valid('json', Changed), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        const { from, ...said } = c.req.valid('json')
        const version = await changeDestination(db, { workspaceId, id, from }, parseDestination(said.description))
        if (version === undefined) {
          if (!(await findDestination(db, workspaceId, id))) throw notFound('destination')
          throw changedElsewhere('This destination')
        }
        await changed(workspaceId)
        return c.json({ version })
      })
      .delete('/destinations/:id', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        if (!(await dropDestination(db, workspaceId, c.req.valid('param').id))) throw notFound('destination')
        await changed(workspaceId)
        return c.json({ ok: true })
      })
      // a description is tried before it is saved
      .post('/try', valid('json', Tried), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { brushId, description } = c.req.valid('json')
        return c.json(await tryDestination(deps, workspaceId, parseDestination(description), brushId))
      })
  )
}
