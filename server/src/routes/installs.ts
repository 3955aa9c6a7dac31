import { Readable } from 'node:stream'
import { STAND_INS, type StandInName } from '@satchel/core/destinations/destination'
import { Name } from '@satchel/core/forms/names'
import { FileShaText } from '@satchel/core/hashes'
import type { Conflicts } from '@satchel/core/installs/compare-folder'
import { toFileName } from '@satchel/core/pack/file-name'
import { toBase64 } from '@satchel/core/raster/base64'
import { ENGINE_VERSION } from '@satchel/core/stroke/engine-version'
import { create as createDisposition } from 'content-disposition'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import {
  changeInstall,
  dropInstall,
  findInstall,
  listFolder,
  listInstallFiles,
  listInstalls,
  type StandInFile,
} from '../db/installs.ts'
import { listLatestJobs } from '../db/jobs.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import { listPlaces } from '../db/places.ts'
import { notFound, Problem } from '../errors.ts'
import { zipInstall } from '../fit/carry-over.ts'
import { findAnyDestination } from '../fit/destinations.ts'
import { renewElsewhere, settleElsewhere } from '../fit/elsewhere.ts'
import { CONFLICT_ANSWERS, findConflicts, findDrift, putIn, repair, takeOut } from '../fit/installs.ts'
import { orderInstall, writeInstall } from '../fit/order-install.ts'
import { readBack, readFolder } from '../fit/read-back.ts'
import { upgrade } from '../fit/upgrade.ts'
import { findAnswer, peekAnswer } from '../pictures/kept-answers.ts'
import { whyLost } from '../queue/lost-work.ts'
import type { StandInFound } from '../workers/results.ts'
import type { SignedIn } from './context.ts'
import { BrushesOrRelease, Id, isEither, PATH_MAX_CHARS, valid } from './validate.ts'

const New = v.pipe(
  v.object({
    name: Name,
    destinationId: v.pipe(v.string(), v.regex(/^[0-9a-z-]{1,40}$/, 'a destination')),
    ...BrushesOrRelease,
  }),
  v.check((wish) => isEither(wish), 'brushes of the library are wanted, or a release'),
)
const Put = v.object({ answer: v.picklist(CONFLICT_ANSWERS) })
const StandIn = v.object({ standIn: v.picklist(STAND_INS) })
/** A look at all of a folder, or until so many brushes are found. */
const Look = v.object({
  ...StandIn.entries,
  most: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1000))),
})
const FolderPath = v.pipe(v.string(), v.nonEmpty(), v.maxLength(PATH_MAX_CHARS))
const InFolder = v.object({
  ...StandIn.entries,
  path: FolderPath,
  /** The files that the brush was read from, as JSON. */
  files: v.pipe(v.string(), v.maxLength(8 * PATH_MAX_CHARS), v.parseJson(), v.array(FolderPath), v.maxLength(8)),
})

const PathInFolder = v.pipe(v.string(), v.nonEmpty(), v.maxLength(PATH_MAX_CHARS))
const NAMES_MAX = 20_000
const Names = v.pipe(v.array(PathInFolder), v.maxLength(NAMES_MAX))
const Settle = v.object({
  answer: v.picklist(CONFLICT_ANSWERS),
  there: v.pipe(v.array(v.object({ path: PathInFolder, sha256: FileShaText })), v.maxLength(NAMES_MAX)),
  names: Names,
})
const Elsewhere = v.object({ folder: v.nullable(Name) })

const NO_CONFLICTS: Conflicts = { same: [], other: [], by: [] }

/** What an app finds follows from the files in its folder, and how it reads them. */
const lookOf = (standIn: StandInName, files: readonly StandInFile[]) => ({
  lookInto: standIn,
  files: files.map(({ path, blobSha }) => [path, blobSha]),
  reader: READER_VERSION,
})
/** Counts the ways in which the apps read their folders: another way finds its answers anew. */
const READER_VERSION = 2

/** Brushes in the folders of apps: put in, looked after, taken out. */
export const installRoutes = (deps: AppDeps) => {
  const { blobs, db, events, jobs, workers } = deps
  const changed = (workspaceId: string) => events.publish({ workspaceId, topic: 'fit' })
  const find = async (workspaceId: string, id: string) => {
    const found = await findInstall(db, workspaceId, id)
    if (!found) throw notFound('install')
    return found
  }

  /** One whose files are written, and lie in no folder of ours. */
  const findReady = async (workspaceId: string, id: string) => {
    const install = await find(workspaceId, id)
    if (install.state !== 'ready') throw new Problem(409, 'It is not ready for that; look at it again.')
    return install
  }

  return new Hono<SignedIn>()
    .get('/', async (c) => {
      const workspaceId = c.get('workspaceId')
      const installs = await listInstalls(db, workspaceId)
      const unwritten = installs.filter(({ state }) => state === 'preparing').map(({ id }) => id)
      const writing = await listLatestJobs(db, workspaceId, 'fit-install', unwritten)
      return c.json({
        installs: installs.map((install) => ({
          ...install,
          /** Why its files are not written and nobody writes them any more; null otherwise. */
          lost: (install.state === 'preparing' && whyLost(writing.get(install.id))) || null,
        })),
      })
    })
    .post('/', valid('json', New), async (c) => {
      const workspaceId = c.get('workspaceId')
      const install = await orderInstall(deps, workspaceId, c.req.valid('json'))
      return c.json({ id: install.id }, 201)
    })
    .post('/:id/write', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const install = await find(workspaceId, c.req.valid('param').id)
      if (install.state !== 'preparing') throw new Problem(409, 'Its files are written already; look at it again.')
      const destination = await findAnyDestination(db, workspaceId, install.destinationId)
      if (!destination) throw new Problem(409, 'Its destination is gone; forget this install and make another one.')
      await writeInstall(deps, install, destination.name)
      return c.json({ ok: true })
    })
    .get('/folder', valid('query', StandIn), async (c) => {
      const { standIn } = c.req.valid('query')
      const files = await listFolder(db, c.get('workspaceId'), standIn)
      return c.json({
        files: files.map(({ path, sizeBytes }) => ({ path, sizeBytes })),
        /** What the app finds in it, where that is known; otherwise it has to be asked for. */
        found: (await peekAnswer<StandInFound>(deps.renders, lookOf(standIn, files))) ?? null,
      })
    })
    .post('/folder/look', valid('json', Look), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { standIn, most } = c.req.valid('json')
      const look = async (): Promise<StandInFound> => {
        const folder = await readFolder(deps, workspaceId, standIn)
        return workers.run('readStandIn', { standIn, folder, tried: [], ...(most === undefined ? {} : { most }) })
      }
      const whole = lookOf(standIn, await listFolder(db, workspaceId, standIn))
      // a look at the first alone is soon had, and not kept
      return c.json(
        most === undefined
          ? await findAnswer(deps.renders, whole, look)
          : ((await peekAnswer<StandInFound>(deps.renders, whole)) ?? (await look())),
      )
    })
    .get('/folder/stroke.png', valid('query', InFolder), async (c) => {
      const { standIn, path, files } = c.req.valid('query')
      const workspaceId = c.get('workspaceId')
      const wanted = new Set([path, ...files])
      const there = (await listFolder(db, workspaceId, standIn)).filter((file) => wanted.has(file.path))
      const key = deps.renders.key({ stroke: lookOf(standIn, there), engine: ENGINE_VERSION, path })
      const png = await deps.renders.get(key, async () => {
        const folder = await readFolder(deps, workspaceId, standIn, wanted)
        const drawn = await workers.run('drawStandIn', { standIn, folder, path })
        if (!drawn) throw notFound('brush in this folder')
        return drawn
      })
      return c.body(new Uint8Array(png), 200, { 'content-type': 'image/png' })
    })
    .get('/folder/brush', valid('query', InFolder), async (c) => {
      const { standIn, path, files } = c.req.valid('query')
      const folder = await readFolder(deps, c.get('workspaceId'), standIn, new Set([path, ...files]))
      const found = await workers.run('openStandIn', { standIn, folder, path })
      if (!found) throw notFound('brush in this folder')
      const { recipe, frames, grain } = found
      return c.json({ recipe, frames: frames.map(toBase64), grain: grain === undefined ? null : toBase64(grain) })
    })
    .get('/:id', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const install = await find(workspaceId, c.req.valid('param').id)
      const { standIn } = install
      const [files, folder, places] = await Promise.all([
        listInstallFiles(db, workspaceId, install.id),
        standIn ? listFolder(db, workspaceId, standIn) : [],
        standIn ? listPlaces(db, { workspaceId, standIn }) : new Map(),
      ])
      return c.json({
        ...install,
        files: files.map(({ path, sizeBytes, blobSha }) => ({ path, sizeBytes, sha256: blobSha })),
        conflicts: install.state === 'ready' ? findConflicts(install.id, files, folder, places) : NO_CONFLICTS,
        drift: install.state === 'in' ? findDrift(install.id, files, folder, places) : [],
      })
    })
    .get('/:id/files.zip', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const install = await find(workspaceId, c.req.valid('param').id)
      if (install.state === 'preparing') throw new Problem(409, 'Its files are still being written; try again soon.')
      const zip = await zipInstall(deps, install)
      return c.body(Readable.toWeb(Readable.from(zip)) as ReadableStream, 200, {
        'content-type': 'application/zip',
        'content-disposition': createDisposition(`${toFileName(install.name)}.zip`),
      })
    })
    .get('/:id/file', valid('param', Id), valid('query', v.object({ path: PathInFolder })), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { path } = c.req.valid('query')
      const files = await listInstallFiles(db, workspaceId, c.req.valid('param').id)
      const file = files.find((each) => each.path === path)
      if (!file) throw notFound('file of this install')
      return c.body(new Uint8Array(await blobs.read(workspaceId, file.blobSha)), 200, {
        'content-type': 'application/octet-stream',
      })
    })
    .post('/:id/settle', valid('param', Id), valid('json', Settle), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { answer, ...found } = c.req.valid('json')
      await settleElsewhere(deps, await findReady(workspaceId, c.req.valid('param').id), answer, found)
      await changed(workspaceId)
      return c.json({ ok: true })
    })
    .post('/:id/renew', valid('param', Id), valid('json', v.object({ names: Names })), async (c) => {
      const workspaceId = c.get('workspaceId')
      const install = await findReady(workspaceId, c.req.valid('param').id)
      await renewElsewhere(deps, install, c.req.valid('json').names)
      await changed(workspaceId)
      return c.json({ ok: true })
    })
    .post('/:id/elsewhere', valid('param', Id), valid('json', Elsewhere), async (c) => {
      const workspaceId = c.get('workspaceId')
      const install = await findReady(workspaceId, c.req.valid('param').id)
      await changeInstall(db, install, { elsewhere: c.req.valid('json').folder })
      await changed(workspaceId)
      return c.json({ ok: true })
    })
    .post('/:id/put', valid('param', Id), valid('json', Put), async (c) => {
      const workspaceId = c.get('workspaceId')
      await putIn(deps, workspaceId, c.req.valid('param').id, c.req.valid('json').answer)
      await changed(workspaceId)
      return c.json({ ok: true })
    })
    .post('/:id/verify', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const install = await find(workspaceId, c.req.valid('param').id)
      if (install.state !== 'in' && install.elsewhere === null)
        throw new Problem(409, 'It lies in no folder just now; put it in first.')
      return c.json(await readBack(deps, install))
    })
    .post('/:id/repair', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const repaired = await repair(deps, workspaceId, c.req.valid('param').id)
      await changed(workspaceId)
      return c.json({ repaired })
    })
    .post('/:id/upgrade', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const done = await upgrade(deps, workspaceId, c.req.valid('param').id)
      await changed(workspaceId)
      return c.json(done)
    })
    .post('/:id/take-out', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const done = await takeOut(deps, workspaceId, c.req.valid('param').id)
      await changed(workspaceId)
      return c.json(done)
    })
    .delete('/:id', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const install = await find(workspaceId, c.req.valid('param').id)
      if (install.state === 'in' || install.elsewhere !== null)
        throw new Problem(409, 'It lies in a folder; take it out first.')
      const files = await listInstallFiles(db, workspaceId, install.id)
      await jobs.stopAllOf(workspaceId, install.id)
      await dropInstall(db, workspaceId, install.id)
      await deleteOrphanBlobs(
        db,
        workspaceId,
        files.map(({ blobSha }) => blobSha),
      )
      await changed(workspaceId)
      return c.json({ ok: true })
    })
}
