import { setMaxListeners } from 'node:events'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { createAdaptorServer, type ServerType } from '@hono/node-server'
import { createApp } from './app.ts'
import type { AppDeps } from './app-deps.ts'
import { checkPackJob } from './check-list/measure-pack.ts'
import { createClientAddress } from './client-address.ts'
import { migrateDatabase, openDatabase } from './db/database.ts'
import { ListLandmarks } from './db/list-landmarks.ts'
import { hasFreshMarks } from './db/same-marks.ts'
import { hasStaleLooks } from './db/stroke-looks.ts'
import type { Deps } from './deps.ts'
import { EventBus } from './events.ts'
import { publishReleaseJob } from './exchanges/publish.ts'
import { keepFolders } from './fit/class-over.ts'
import { fitAllJob } from './fit/measure-all.ts'
import { FitMeasurer } from './fit/measurer.ts'
import { prepareInstallJob } from './fit/prepare-install.ts'
import { gatherRead } from './gather/read-job.ts'
import { gatherShrink } from './gather/shrink-job.ts'
import { announceFiles } from './gather/take-file.ts'
import { buildEdition } from './hand-out/build-edition.ts'
import { buildRelease } from './hand-out/build-release.ts'
import { keepEditions } from './hand-out/prepare-editions.ts'
import { keepBins } from './library/bin-keeper.ts'
import { keepUp } from './library/keep-up.ts'
import { measureOldSeams } from './library/measure-seams.ts'
import { keepCards } from './library/setup-cards.ts'
import { Signing } from './library/signing.ts'
import type { Log } from './log.ts'
import { measureLooksJob, measureNow } from './looks/measure-looks.ts'
import { resetMailer } from './mail/reset-mail.ts'
import { keepMailing, type MailSettings, sendMails } from './mail/send-mails.ts'
import { makeSourceJob } from './make/make-job.ts'
import { makeParcel } from './parcels/make-parcel.ts'
import { createAuth } from './people/auth.ts'
import { type AccessLimitOptions, createAccessLimits } from './people/limits.ts'
import { BlobStore } from './pictures/blob-store.ts'
import { keepCache } from './pictures/cache-keeper.ts'
import { checkStore, keepFiles } from './pictures/keep-files.ts'
import { openStore } from './pictures/open-store.ts'
import { RenderCache } from './pictures/render-cache.ts'
import type { StoreAddress } from './pictures/store-address.ts'
import { JobQueue } from './queue/queue.ts'
import { compareMarksJob, compareNow } from './same-marks/compare-marks.ts'
import { Seal } from './seal.ts'
import { keepSettling } from './shops/settle.ts'
import { PATIENCE, type Patience, StallWatch } from './stalls.ts'
import { giveStarters } from './starter/give-starters.ts'
import { giveBackJob } from './whole-library/give-back.ts'
import { createWorkerPool } from './workers/pool.ts'

const DRAIN_LOOK_MS = 50
const CACHE_MB = 4000
const WORKSPACE_GB = 100

export type ServerOptions = {
  databaseUrl: string
  /** This server's own folder for caches and scratch files; nothing in it is needed after a restart. */
  cacheFolder: string
  /** How much of that folder's disk to use, MB. */
  cacheBudgetMb?: number
  migrationsFolder: string
  workerFile: string
  /** How far what nobody looks at gives way on the machine; see `workers/pool.ts`. */
  niceness?: number
  webFolder?: string
  origin: string
  /** What the files of one workspace may take up together, GiB. */
  workspaceGb?: number
  /** Names, with ports, by which it is asked besides the origin's. */
  hosts?: readonly string[]
  secret: string
  signInsPerMinute?: number
  limits?: AccessLimitOptions
  /** Balancers whose word on a client's address counts; see `createClientAddress`. */
  trustedProxies?: string
  /** Refuses nested connections; see `openDatabase`. */
  strictConnections?: boolean
  /** Through what mails go out, and where a stand-in shows them; without it none do. */
  mailing?: (MailSettings & { mailbox?: string }) | undefined
  shopPage?: string | undefined
  exchanges?: readonly string[] | undefined
  /** Where larger files rest, instead of the database. */
  store?: StoreAddress | undefined
  /** Whether workspaces get the starter library; the default is yes. */
  starters?: boolean
  log: Log
}

export type RunningParts = {
  deps: AppDeps
  app: ReturnType<typeof createApp>
  /** From now on nothing new begins: requests get 503, live streams end; what runs goes on. */
  drain: () => void
  close: () => Promise<void>
}

/** Puts the server together: database, caches, workers, jobs, routes. Nothing listens yet. */
export async function assembleServer(options: ServerOptions): Promise<RunningParts> {
  const { databaseUrl, cacheFolder, log } = options
  const exchanges = options.exchanges ?? []
  const workspaceBytesMax = (options.workspaceGb ?? WORKSPACE_GB) * 1024 ** 3
  const database = openDatabase(databaseUrl, {
    onLost: (error) => log.warn({ err: error }, 'lost a database connection'),
    strict: options.strictConnections ?? false,
  })
  await migrateDatabase(database, options.migrationsFolder)
  const { db, pool } = database
  const store = options.store && (await openStore(options.store))
  await checkStore({ db, log }, store)
  const events = new EventBus(pool, databaseUrl, log)
  await events.listen()
  const base: Deps = {
    db,
    pool,
    landmarks: new ListLandmarks(events),
    events,
    log,
    blobs: new BlobStore(pool, join(cacheFolder, 'blobs'), { bytesMost: workspaceBytesMax, store }),
    renders: new RenderCache(join(cacheFolder, 'renders')),
    signing: new Signing(db, options.secret),
    links: new Seal(options.secret, 'links of hand-outs'),
    workers: createWorkerPool(options.workerFile, { niceness: options.niceness }),
  }
  // before jobs, which have scratch files of their own
  const letCacheBe = await keepCache(cacheOf(cacheFolder, options.cacheBudgetMb), log)
  const scratch = join(cacheFolder, 'scratch')
  const jobs: JobQueue = new JobQueue({
    db,
    events,
    log,
    handlers: {
      'gather-read': gatherRead(base, { scratch, announce: (of) => announceFiles({ ...base, jobs }, of) }),
      'gather-shrink': gatherShrink(base),
      'build-release': buildRelease(base, scratch),
      'build-edition': buildEdition(base, scratch),
      'send-mails': sendMails(base, options.mailing),
      'make-parcel': makeParcel(base, scratch),
      'give-back': giveBackJob(base, scratch),
      'check-pack': checkPackJob(base),
      'make-source': makeSourceJob(base),
      'fit-all': fitAllJob(base),
      'fit-install': prepareInstallJob(base),
      'compare-marks': compareMarksJob(base),
      'measure-looks': measureLooksJob(base),
      'publish-release': publishReleaseJob({ ...base, exchanges }),
    },
  })
  await jobs.start()
  const fit = new FitMeasurer(base)
  const letFilesBe = store ? keepFiles({ ...base, store, scratch }) : async () => undefined
  const letBinsBe = keepBins(base)
  const letEditionsBe = keepEditions({ ...base, jobs })
  const letMailsBe = options.mailing ? keepMailing({ ...base, jobs }) : () => undefined
  const seams = measureOldSeams(base).catch((error: Error) => log.error({ err: error }, 'measuring seams'))
  const sendReset = options.mailing ? resetMailer(options.mailing, options.origin, log) : undefined
  const auth = createAuth(db, { ...options, sendReset })
  const stopping = new AbortController()
  setMaxListeners(0, stopping.signal) // every live stream listens
  /** What is being given just now: the database stays open until it is there. */
  const welcomes = new Set<Promise<void>>()
  const deps: AppDeps = {
    ...base,
    stopping: stopping.signal,
    clientAddress: createClientAddress(options.trustedProxies),
    limits: createAccessLimits(options.limits),
    jobs,
    fit,
    auth,
    welcome: (workspaceId) => {
      const giving = options.starters === false ? Promise.resolve() : giveStarters(base, workspaceId)
      const settled = giving.catch(() => undefined).finally(() => welcomes.delete(settled))
      welcomes.add(settled)
      return giving
    },
    origin: options.origin,
    mailing: options.mailing,
    shopPage: options.shopPage,
    exchanges,
    workspaceBytesMax,
    hosts: new Set([new URL(options.origin).host, ...(options.hosts ?? [])].map((host) => host.toLowerCase())),
    ...(options.webFolder ? { webFolder: options.webFolder } : {}),
  }
  const letSalesBe = keepSettling(deps)
  const letCardsBe = keepCards(deps)
  const letFoldersBe = keepFolders(deps)
  const letLibrariesBe = keepUp(deps, [
    { waits: hasFreshMarks, begin: compareNow },
    { waits: hasStaleLooks, begin: measureNow },
  ])
  return {
    deps,
    app: createApp(deps),
    drain: () => stopping.abort(),
    close: async () => {
      stopping.abort()
      letBinsBe()
      letEditionsBe()
      letMailsBe()
      letSalesBe()
      letCardsBe()
      letFoldersBe()
      letLibrariesBe()
      letCacheBe()
      await Promise.all([...welcomes, seams, letFilesBe()])
      await jobs.close()
      // what is measured for somebody's page ends with its process
      await base.workers.close()
      await fit.close()
      await events.close()
      store?.close()
      // nothing is written into the cache of a server that is gone
      await Promise.all([base.blobs.settled(), base.renders.settled()])
      await database.close()
    },
  }
}

const cacheOf = (folder: string, budgetMb = CACHE_MB) => ({
  folders: [join(folder, 'blobs'), join(folder, 'renders')],
  leftovers: [join(folder, 'scratch')],
  budgetBytes: budgetMb * 1e6,
})

/** Requests that were taken and not answered whole yet. */
const running = new WeakMap<ServerType, Set<ServerResponse>>()

/** Waits until what runs has ended, so long at most, and closes; until then new requests are still heard and refused. */
export async function drained(server: ServerType, withinMs: number): Promise<void> {
  const end = Date.now() + withinMs
  while ((running.get(server)?.size ?? 0) > 0 && Date.now() < end) await sleep(DRAIN_LOOK_MS)
  const closed = new Promise((done) => server.close(done))
  if ('closeAllConnections' in server) server.closeAllConnections()
  await closed
}

/**
 * How long a connection stays open for the next request. Node's own five seconds are shorter than what clients and proxies
 * count on, common practice: a request sent as it closes is lost ("connection reset").
 */
const KEEP_IDLE_MS = 75_000

/** Listens on loopback. @throws {Error} EADDRINUSE when the port is taken. */
export function listen(
  app: Pick<RunningParts['app'], 'fetch'>,
  { host, port, patience = PATIENCE }: { host: string; port: number; patience?: Patience },
): Promise<ServerType> {
  const server = createAdaptorServer({
    fetch: app.fetch,
    serverOptions: { requestTimeout: 0, keepAliveTimeout: KEEP_IDLE_MS },
  })
  const stalls = new StallWatch(patience)
  server.once('close', () => stalls.close())
  const open = new Set<ServerResponse>()
  running.set(server, open)
  server.on('request', (request: IncomingMessage, response: ServerResponse) => {
    open.add(response)
    stalls.add(request)
    response.once('close', () => open.delete(response))
  })
  return new Promise((done, fail) => {
    server.once('error', fail)
    server.listen(port, host, () => {
      server.off('error', fail)
      done(server)
    })
  })
}
