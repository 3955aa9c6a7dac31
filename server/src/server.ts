import { join } from 'node:path'
import { createAdaptorServer, type ServerType } from '@hono/node-server'
import type { Logger } from 'pino'
import { createApp } from './app.ts'
import { migrateDatabase, openDatabase } from './db/database.ts'
import { ListLandmarks } from './db/list-landmarks.ts'
import type { AppDeps, Deps } from './deps.ts'
import { EventBus } from './events.ts'
import { gatherRead } from './gather/read-job.ts'
import { gatherShrink } from './gather/shrink-job.ts'
import { buildRelease } from './hand-out/build-release.ts'
import { keepBins } from './library/bin-keeper.ts'
import { createAuth } from './people/auth.ts'
import { BlobStore } from './pictures/blob-store.ts'
import { RenderCache } from './pictures/render-cache.ts'
import { JobQueue } from './queue/queue.ts'
import { giveStarters } from './starter/give-starters.ts'
import { createWorkerPool } from './workers/pool.ts'

export type ServerOptions = {
  databaseUrl: string
  /** This server's own folder for caches and scratch files; nothing in it is needed after a restart. */
  cacheFolder: string
  migrationsFolder: string
  workerFile: string
  webFolder?: string
  origin: string
  secret: string
  signInsPerMinute?: number
  /** Whether workspaces get the starter library; the default is yes. */
  starters?: boolean
  log: Logger
}

export type RunningParts = { deps: AppDeps; app: ReturnType<typeof createApp>; close: () => Promise<void> }

/** Puts the server together: database, caches, workers, jobs, routes. Nothing listens yet. */
export async function assembleServer(options: ServerOptions): Promise<RunningParts> {
  const { databaseUrl, cacheFolder, log } = options
  const database = openDatabase(databaseUrl)
  await migrateDatabase(database, options.migrationsFolder)
  const { db, pool } = database
  const events = new EventBus(pool, databaseUrl, log)
  await events.listen()
  const base: Deps = {
    db,
    pool,
    landmarks: new ListLandmarks(events),
    events,
    log,
    blobs: new BlobStore(pool, join(cacheFolder, 'blobs')),
    renders: new RenderCache(join(cacheFolder, 'renders')),
    workers: createWorkerPool(options.workerFile),
  }
  const jobs = new JobQueue(databaseUrl, {
    db,
    events,
    log,
    handlers: {
      'gather-read': gatherRead(base),
      'gather-shrink': gatherShrink(base),
      'build-release': buildRelease(base, join(cacheFolder, 'scratch')),
    },
  })
  await jobs.start()
  const letBinsBe = keepBins(base)
  const auth = createAuth(db, options)
  /** What is being given just now: the database stays open until it is there. */
  const welcomes = new Set<Promise<void>>()
  const deps: AppDeps = {
    ...base,
    jobs,
    auth,
    welcome: (workspaceId) => {
      const giving = options.starters === false ? Promise.resolve() : giveStarters(base, workspaceId)
      const settled = giving.catch(() => undefined).finally(() => welcomes.delete(settled))
      welcomes.add(settled)
      return giving
    },
    origin: options.origin,
    ...(options.webFolder ? { webFolder: options.webFolder } : {}),
  }
  return {
    deps,
    app: createApp(deps),
    close: async () => {
      letBinsBe()
      await Promise.all(welcomes)
      await jobs.close()
      await base.workers.close()
      await events.close()
      await database.close()
    },
  }
}

/** Listens on loopback. @throws {Error} EADDRINUSE when the port is taken. */
export function listen(app: RunningParts['app'], { host, port }: { host: string; port: number }): Promise<ServerType> {
  const server = createAdaptorServer({ fetch: app.fetch })
  return new Promise((done, fail) => {
    server.once('error', fail)
    server.listen(port, host, () => {
      server.off('error', fail)
      done(server)
    })
  })
}
