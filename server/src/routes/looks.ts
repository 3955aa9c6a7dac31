import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { findBrush } from '../db/brushes.ts'
import { listLines } from '../db/list-brushes.ts'
import { countStaleLooks } from '../db/stroke-looks.ts'
import { notFound, Problem } from '../errors.ts'
import { findLike, LIKE_BY, type LikeBy, type Wanted } from '../looks/find-like.ts'
import { readAtMost } from './body.ts'
import type { SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

const By = v.object({ by: v.picklist(LIKE_BY) })

/** A picture that brushes are looked for by. */
const PICTURE_MAX_BYTES = 64 * 1024 * 1024

/** How strokes of the library look, and which brushes look like something. */
export const lookRoutes = (deps: AppDeps) => {
  const { db, pool, landmarks } = deps
  const tell = async (workspaceId: string, by: LikeBy, wanted: Wanted) => {
    const likes = await findLike(deps, workspaceId, by, wanted)
    const likenessOf = new Map(likes.map(({ id, likeness }) => [id, likeness]))
    const lines = await listLines(pool, workspaceId, [...likenessOf.keys()])
    return { likes: lines.map((line) => ({ ...line, likeness: likenessOf.get(line.id) ?? 0 })) }
  }
  return new Hono<SignedIn>()
    .get('/', async (c) => {
      const workspaceId = c.get('workspaceId')
      const count = () => countStaleLooks(db, workspaceId)
      return c.json({ unmeasured: await landmarks.keep(workspaceId, 'looks to measure', count) })
    })
    .post('/like/:id', valid('param', Id), valid('query', By), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      if (!(await findBrush(db, workspaceId, id))) throw notFound('brush')
      return c.json(await tell(workspaceId, c.req.valid('query').by, { brushId: id }))
    })
    .post('/like', valid('query', By), async (c) => {
      const tooLarge = new Problem(
        413,
        `This picture is larger than ${PICTURE_MAX_BYTES / 1024 ** 2} MiB; take a smaller one.`,
      )
      if (Number(c.req.header('content-length') ?? 0) > PICTURE_MAX_BYTES) throw tooLarge
      const bytes = await readAtMost(c, PICTURE_MAX_BYTES)
      if (!bytes) throw tooLarge
      if (bytes.length === 0) throw new Problem(422, 'There is no picture in this; choose or draw one.')
      return c.json(await tell(c.get('workspaceId'), c.req.valid('query').by, { bytes }))
    })
}
