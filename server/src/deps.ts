import type pg from 'pg'
import type { Db } from './db/database.ts'
import type { ListLandmarks } from './db/list-landmarks.ts'
import type { EventBus } from './events.ts'
import type { Signing } from './library/signing.ts'
import type { Log } from './log.ts'
import type { BlobStore } from './pictures/blob-store.ts'
import type { RenderCache } from './pictures/render-cache.ts'
import type { Seal } from './seal.ts'
import type { WorkerPool } from './workers/pool.ts'

/** What jobs and routes work with. */
export type Deps = {
  db: Db
  pool: pg.Pool
  landmarks: ListLandmarks
  blobs: BlobStore
  renders: RenderCache
  workers: WorkerPool
  signing: Signing
  /** Seals the links of hand-outs. */
  links: Seal
  events: EventBus
  log: Log
}
