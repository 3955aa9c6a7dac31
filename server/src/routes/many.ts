import { Change } from '@satchel/core/many/change'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { findBrushForStroke } from '../db/brushes.ts'
import { findGrain } from '../db/materials.ts'
import { notFound } from '../errors.ts'
import { changedRecipe, changeMany, lookAtChange } from '../library/change-many.ts'
import { tellOfAct } from '../library/tell-of-act.ts'
import { STROKE_SIZES } from '../pictures/picture-sizes.ts'
import { strokePicture } from '../pictures/renders.ts'
import { changingPng, type SignedIn } from './context.ts'
import { Id, Ids, valid } from './validate.ts'

const Wish = v.object({ ids: Ids, change: Change })
const CHANGE_MAX_CHARS = 4000
const OneChange = v.object({ change: v.pipe(v.string(), v.maxLength(CHANGE_MAX_CHARS), v.parseJson(), Change) })

/** What is done to many brushes at once: shown before, and one act when it is done. */
export const manyRoutes = (deps: AppDeps) =>
  new Hono<SignedIn>()
    .post('/look', valid('json', Wish), async (c) =>
      c.json(await lookAtChange(deps, c.get('workspaceId'), c.req.valid('json'))),
    )
    .post('/', valid('json', Wish), async (c) => {
      const workspaceId = c.get('workspaceId')
      const act = await changeMany(deps, workspaceId, c.req.valid('json'))
      await tellOfAct(deps, workspaceId)
      return c.json(act)
    })
    .get('/:id/stroke.png', valid('param', Id), valid('query', OneChange), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const [brush, recipe] = await Promise.all([
        findBrushForStroke(deps.db, workspaceId, id),
        changedRecipe(deps, workspaceId, { id, change: c.req.valid('query').change }),
      ])
      if (!brush || !recipe) throw notFound('brush')
      const grain = await findGrain(deps.db, workspaceId, recipe.ground.grain?.sha256)
      const frames = brush.frames.map((frame) => frame.blobSha)
      const { key, png } = await strokePicture(deps, workspaceId, {
        ...{ frames, grain: grain?.blobSha, recipe },
        ...STROKE_SIZES.line,
      })
      return changingPng(c, key, png)
    })
