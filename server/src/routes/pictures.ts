import { createReadStream } from 'node:fs'
import { Readable } from 'node:stream'
import { PAINT_READINGS } from '@satchel/core/brush/recipe'
import { FileShaText } from '@satchel/core/hashes'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { notFound } from '../errors.ts'
import { findPicture } from '../pictures/find-picture.ts'
import { TIP_SIDES_PX } from '../pictures/picture-sizes.ts'
import { tipPicture } from '../pictures/renders.ts'
import { immutableHeaders, immutablePng, type SignedIn } from './context.ts'
import { valid } from './validate.ts'

const Sha = v.object({ sha: FileShaText })
const Tip = v.object({
  reading: v.optional(v.picklist(PAINT_READINGS), 'dark'),
  side: v.optional(v.pipe(v.string(), v.transform(Number), v.picklist(TIP_SIDES_PX)), '96'),
})

/** Stored pictures: as they are for the stroke engine, or small and as they paint for lists. */
export const pictureRoutes = (deps: AppDeps) => {
  return new Hono<SignedIn>()
    .get('/:sha', valid('param', Sha), async (c) => {
      const { sha } = c.req.valid('param')
      const found = await findPicture(deps, c.get('workspaceId'), sha)
      if (!found) throw notFound('picture')
      const { headers, isFresh } = immutableHeaders(c, sha)
      if (isFresh) return c.body(null, 304, headers)
      const about = { ...headers, 'content-type': 'image/png', 'content-length': String(found.sizeBytes) }
      // of a look ahead nobody reads the body: a file opened for it would stay open
      if (c.req.method === 'HEAD') return c.body(null, 200, about)
      return c.body(Readable.toWeb(createReadStream(found.path)) as ReadableStream, 200, about)
    })
    .get('/:sha/tip.png', valid('param', Sha), valid('query', Tip), async (c) => {
      const { sha } = c.req.valid('param')
      const { reading, side } = c.req.valid('query')
      if (!(await findPicture(deps, c.get('workspaceId'), sha))) throw notFound('picture')
      const { key, png } = await tipPicture(deps, c.get('workspaceId'), { blobSha: sha, reading, sidePx: side })
      return immutablePng(c, key, png)
    })
}
