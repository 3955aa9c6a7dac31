import { PAINT_READINGS } from '@satchel/core/brush/recipe'
import { FileShaText } from '@satchel/core/hashes'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../deps.ts'
import { notFound } from '../errors.ts'
import { tipPicture } from '../pictures/renders.ts'
import { immutablePng, type SignedIn } from './context.ts'
import { valid } from './validate.ts'

const Sha = v.object({ sha: FileShaText })
const Tip = v.object({
  reading: v.optional(v.picklist(PAINT_READINGS), 'dark'),
  side: v.optional(v.pipe(v.string(), v.transform(Number), v.integer(), v.minValue(8), v.maxValue(1024)), '96'),
})

/** Stored pictures: as they are for the stroke engine, or small and as they paint for lists. */
export const pictureRoutes = (deps: AppDeps) => {
  const { db, blobs } = deps
  return new Hono<SignedIn>()
    .get('/:sha', valid('param', Sha), async (c) => {
      const { sha } = c.req.valid('param')
      const found = await blobs.find(db, c.get('workspaceId'), sha)
      if (!found) throw notFound('picture')
      return immutablePng(c, sha, await blobs.read(c.get('workspaceId'), sha))
    })
    .get('/:sha/tip.png', valid('param', Sha), valid('query', Tip), async (c) => {
      const { sha } = c.req.valid('param')
      const { reading, side } = c.req.valid('query')
      const found = await blobs.find(db, c.get('workspaceId'), sha)
      if (!found) throw notFound('picture')
      const { key, png } = await tipPicture(deps, c.get('workspaceId'), { blobSha: sha, reading, sidePx: side })
      return immutablePng(c, key, png)
    })
}
