import { LIBRARY_FILE, LIBRARY_MAX_BYTES } from '@satchel/core/pack/library-file'
import { Hono } from 'hono'
import type { AppDeps } from '../app-deps.ts'
import { insertParcel } from '../db/parcels.ts'
import { countLibrary, isLibraryEmpty } from '../db/whole-library.ts'
import { Problem } from '../errors.ts'
import { NOT_EMPTY } from '../whole-library/give-back.ts'
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
      const mediaType = 'application/zip'
      const stored = await deps.blobs.putStream(deps.db, workspaceId, bodyOf(c), {
        mediaType,
        maxBytes: LIBRARY_MAX_BYTES,
      })
      const parcel = await insertParcel(deps.db, {
        ...{ workspaceId, mediaType, wanted: { kind: 'library' }, title: 'A library file that came' },
        ...{ fileName: LIBRARY_FILE, blobSha: stored.sha256, sizeBytes: stored.sizeBytes },
      })
      const title = 'Putting a library in'
      const payload = { parcelId: parcel.id }
      await deps.jobs.add({ workspaceId, kind: 'give-back', subjectId: workspaceId, title, payload })
      return c.json({ id: parcel.id }, 202)
    })
