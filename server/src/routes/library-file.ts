import { randomUUID } from 'node:crypto'
import { createWriteStream } from 'node:fs'
import { mkdir, rename, rm } from 'node:fs/promises'
import { pipeline } from 'node:stream/promises'
import { LIBRARY_MAX_BYTES } from '@satchel/core/pack/library-file'
import { Hono } from 'hono'
import type { AppDeps } from '../app-deps.ts'
import { countLibrary, isLibraryEmpty } from '../db/whole-library.ts'
import { Problem } from '../errors.ts'
import { givenPath, NOT_EMPTY } from '../whole-library/give-back.ts'
import { bodyOf } from './body.ts'
import type { SignedIn } from './context.ts'
import { ownerOnly } from './owner-only.ts'

/** The whole library: how much it is, and one that comes back. */
export const libraryFileRoutes = (deps: AppDeps) =>
  new Hono<SignedIn>()
    .get('/', async (c) => {
      const workspaceId = c.get('workspaceId')
      return c.json({
        ...(await countLibrary(deps.db, workspaceId)),
        isEmpty: await isLibraryEmpty(deps.db, workspaceId),
      })
    })
    .post('/', ownerOnly, async (c) => {
      const workspaceId = c.get('workspaceId')
      if (!(await isLibraryEmpty(deps.db, workspaceId))) throw new Problem(409, NOT_EMPTY)
      const fileId = randomUUID()
      const path = givenPath(deps.given, fileId)
      await mkdir(deps.given, { recursive: true })
      try {
        await pipeline(atMost(bodyOf(c)), createWriteStream(`${path}.partial`))
        await rename(`${path}.partial`, path)
      } catch (error) {
        await rm(`${path}.partial`, { force: true })
        throw error
      }
      const title = 'Putting a library in'
      const job = { workspaceId, kind: 'give-back', subjectId: workspaceId, title, payload: { fileId } } as const
      await deps.jobs.add(job)
      return c.json({ fileId }, 202)
    })

async function* atMost(chunks: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  let size = 0
  for await (const chunk of chunks) {
    size += chunk.length
    if (size > LIBRARY_MAX_BYTES) throw new Problem(413, 'This file is larger than any library file; choose another.')
    yield chunk
  }
}
