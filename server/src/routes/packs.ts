import { PACK_FORMAT, PACK_VERSION, type PackManifest } from '@satchel/core/pack/manifest'
import { Hono } from 'hono'
import semver from 'semver'
import * as v from 'valibot'
import { findBrush } from '../db/brushes.ts'
import type { Db } from '../db/database.ts'
import { findMaterials } from '../db/materials.ts'
import {
  createPack,
  findPack,
  findRelease,
  insertHandOut,
  insertRelease,
  listHandOuts,
  listPackSets,
  listPacks,
  listReleases,
  loadPackBrushes,
  type Pack,
  setPackSets,
  updateHandOut,
  updatePack,
} from '../db/packs.ts'
import { listPockets } from '../db/pockets.ts'
import { listSetBrushes } from '../db/sets.ts'
import type { AppDeps } from '../deps.ts'
import { notFound, Problem } from '../errors.ts'
import { BUILD_RELEASE } from '../hand-out/build-release.ts'
import { licenceText } from '../hand-out/pack-texts.ts'
import { createToken, hashToken } from '../hand-out/token.ts'
import { withoutFile } from '../pictures/thumbnail-file.ts'
import type { SignedIn } from './context.ts'
import { Id, Line, Name, valid } from './validate.ts'

const HELP_MAX_CHARS = 20_000
const NOTES_MAX_CHARS = 5_000
const DOWNLOADS_MAX = 100_000
const FIRST_VERSION = '1.0.0'

const Uuid = v.pipe(v.string(), v.uuid())
const NewPack = v.object({ title: Name, maker: v.optional(Line, ''), licence: v.optional(Line, '') })
const Change = v.object({
  title: v.optional(Name),
  maker: v.optional(Line),
  licence: v.optional(Line),
  licenceText: v.optional(v.pipe(v.string(), v.maxLength(HELP_MAX_CHARS))),
  help: v.optional(v.pipe(v.string(), v.maxLength(HELP_MAX_CHARS))),
  coverBrushId: v.optional(v.nullable(Uuid)),
})
const Sets = v.object({ setIds: v.pipe(v.array(Uuid), v.maxLength(500)) })
const NewRelease = v.object({
  version: v.pipe(v.string(), v.trim(), v.maxLength(60)),
  notes: v.optional(v.pipe(v.string(), v.maxLength(NOTES_MAX_CHARS)), ''),
})
const NewHandOut = v.object({
  releaseId: Uuid,
  name: Name,
  endsAt: v.optional(v.nullable(v.pipe(v.string(), v.isoTimestamp('an end is a date and time')))),
  downloadLimit: v.optional(
    v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1, 'a limit is at least 1'), v.maxValue(DOWNLOADS_MAX))),
  ),
})

/** Packs, their releases and hand-outs. */
export const packRoutes = ({ db, jobs, events, origin }: AppDeps) => {
  const changed = (workspaceId: string, id?: string) =>
    events.publish({ workspaceId, topic: 'packs', ...(id ? { id } : {}) })
  return new Hono<SignedIn>()
    .get('/', async (c) => c.json({ packs: await listPacks(db, c.get('workspaceId')) }))
    .post('/', valid('json', NewPack), async (c) => {
      const pack = await createPack(db, c.get('workspaceId'), c.req.valid('json'))
      await changed(c.get('workspaceId'), pack.id)
      return c.json({ id: pack.id }, 201)
    })
    .get('/:id', valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      const pack = await findPack(db, workspaceId, id)
      if (!pack) throw notFound('pack')
      const [sets, releases, handOuts] = await Promise.all([
        listPackSets(db, workspaceId, id),
        listReleases(db, workspaceId, id),
        listHandOuts(db, workspaceId, id),
      ])
      const items = await listSetBrushes(
        db,
        workspaceId,
        sets.map((set) => set.id),
      )
      const counted = sets.map((set) => ({ ...set, count: items.filter((item) => item.setId === set.id).length }))
      const brushes = new Set(items.map((item) => item.brushId)).size
      return c.json({
        ...pack,
        sets: counted,
        brushes,
        releases,
        handOuts,
        nextVersion: nextVersion(releases.map((release) => release.version)),
      })
    })
    .patch('/:id', valid('param', Id), valid('json', Change), async (c) => {
      const change = c.req.valid('json')
      if (change.coverBrushId && !(await findBrush(db, c.get('workspaceId'), change.coverBrushId)))
        throw notFound('brush')
      const pack = await updatePack(db, c.get('workspaceId'), c.req.valid('param').id, change)
      if (!pack) throw notFound('pack')
      await changed(c.get('workspaceId'), pack.id)
      return c.json({ ok: true })
    })
    .delete('/:id', valid('param', Id), async (c) => {
      const pack = await updatePack(db, c.get('workspaceId'), c.req.valid('param').id, { deletedAt: new Date() })
      if (!pack) throw notFound('pack')
      await changed(c.get('workspaceId'), pack.id)
      return c.json({ ok: true })
    })
    .post('/:id/bring-back', valid('param', Id), async (c) => {
      const pack = await updatePack(db, c.get('workspaceId'), c.req.valid('param').id, { deletedAt: null })
      if (!pack) throw notFound('pack')
      await changed(c.get('workspaceId'), pack.id)
      return c.json({ ok: true })
    })
    .put('/:id/sets', valid('param', Id), valid('json', Sets), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { id } = c.req.valid('param')
      if (!(await findPack(db, workspaceId, id))) throw notFound('pack')
      await setPackSets(db, workspaceId, id, c.req.valid('json').setIds)
      await changed(workspaceId, id)
      return c.json({ ok: true })
    })
    .post('/:id/releases', valid('param', Id), valid('json', NewRelease), async (c) => {
      const workspaceId = c.get('workspaceId')
      const pack = await findPack(db, workspaceId, c.req.valid('param').id)
      if (!pack) throw notFound('pack')
      const { version, notes } = c.req.valid('json')
      const earlier = (await listReleases(db, workspaceId, pack.id)).map((release) => release.version)
      checkVersion(version, earlier)
      const frozen = await freeze(db, pack, version)
      const release = await insertRelease(db, {
        ...frozen,
        workspaceId,
        packId: pack.id,
        version,
        notes,
        state: 'building',
        coverBrushId: pack.coverBrushId,
      })
      if (!release) throw new Problem(409, `Release ${version} exists already; choose a higher version.`)
      await jobs.add({
        workspaceId,
        kind: BUILD_RELEASE,
        subjectId: release.id,
        title: `Building ${pack.title} ${version}`,
      })
      await changed(workspaceId, pack.id)
      return c.json({ id: release.id }, 201)
    })
    .post('/:id/hand-outs', valid('param', Id), valid('json', NewHandOut), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { releaseId, name, endsAt, downloadLimit } = c.req.valid('json')
      const release = await findRelease(db, workspaceId, releaseId)
      if (release?.packId !== c.req.valid('param').id) throw notFound('release')
      const ends = endsAt ? new Date(endsAt) : null
      if (ends && ends.getTime() <= Date.now()) throw new Problem(422, 'The end lies in the past; choose a later day.')
      const token = createToken()
      const handOut = await insertHandOut(db, {
        workspaceId, releaseId, name, tokenHash: hashToken(token), endsAt: ends, downloadLimit: downloadLimit ?? null,
      }) // biome-ignore format: one row
      await changed(workspaceId, release.packId)
      return c.json({ id: handOut.id, link: linkOf(origin, token) }, 201)
    })
    .post('/hand-outs/:id/withdraw', valid('param', Id), async (c) => {
      const handOut = await updateHandOut(db, c.get('workspaceId'), c.req.valid('param').id, {
        withdrawnAt: new Date(),
      })
      if (!handOut) throw notFound('hand-out')
      await changed(c.get('workspaceId'))
      return c.json({ ok: true })
    })
    .post('/hand-outs/:id/give-again', valid('param', Id), async (c) => {
      const handOut = await updateHandOut(db, c.get('workspaceId'), c.req.valid('param').id, { withdrawnAt: null })
      if (!handOut) throw notFound('hand-out')
      await changed(c.get('workspaceId'))
      return c.json({ ok: true })
    })
    .post('/hand-outs/:id/new-link', valid('param', Id), async (c) => {
      const token = createToken()
      const handOut = await updateHandOut(db, c.get('workspaceId'), c.req.valid('param').id, {
        tokenHash: hashToken(token),
      })
      if (!handOut) throw notFound('hand-out')
      await changed(c.get('workspaceId'))
      return c.json({ link: linkOf(origin, token) })
    })
}

const linkOf = (origin: string, token: string) => `${origin}/h/${token}`

/** The version that would come next: a minor step above the highest. */
function nextVersion(earlier: string[]): string {
  const [highest] = semver.rsort([...earlier])
  return highest ? (semver.inc(highest, 'minor') ?? FIRST_VERSION) : FIRST_VERSION
}

function checkVersion(version: string, earlier: string[]): void {
  if (semver.valid(version) !== version)
    throw new Problem(422, `"${version}" is no semantic version; write it like 1.2.0.`)
  const [highest] = semver.rsort([...earlier])
  if (highest && !semver.gt(version, highest))
    throw new Problem(422, `${version} is not above ${highest}, the latest release; choose a higher version.`)
}

/** Everything a release keeps, as it is now: later changes to brushes and sets do not reach it. */
export async function freeze(db: Db, pack: Pack, version: string) {
  const { workspaceId } = pack
  const sets = await listPackSets(db, workspaceId, pack.id)
  const items = await listSetBrushes(
    db,
    workspaceId,
    sets.map((set) => set.id),
  )
  const brushes = await loadPackBrushes(db, workspaceId, pack.id)
  if (brushes.length === 0)
    throw new Problem(422, 'This pack holds no brush yet; choose at least one set that has some.')
  const order = new Map<string, number>()
  for (const item of items) if (!order.has(item.brushId)) order.set(item.brushId, order.size)
  brushes.sort((a, b) => (order.get(a.id) ?? 0) - (order.get(b.id) ?? 0))
  const materials = await loadMaterials(db, workspaceId, brushes)
  const grainBlobs = new Map(materials.grains.map((grain) => [grain.pixelSha, grain.blobSha]))
  const manifest: PackManifest = {
    format: PACK_FORMAT,
    version: PACK_VERSION,
    title: pack.title,
    maker: pack.maker,
    licence: pack.licence,
    help: pack.help,
    release: version,
    brushes: brushes.map(({ id, name, maker, licence, tags, recipe, frames, thumbnail }) => ({
      id, name, maker, licence: licence || pack.licence, tags, recipe, frames: frames.map((frame) => frame.pixelSha),
      thumbnail: withoutFile(thumbnail),
    })), // biome-ignore format: one brush
    grains: materials.grains.map(({ pixelSha, name }) => ({ sha256: pixelSha, name })),
    strips: materials.strips,
    pockets: await loadPockets(db, workspaceId, new Set(brushes.map((brush) => brush.id))),
    sets: sets
      .map((set) => ({
        name: set.name,
        brushes: items.filter((item) => item.setId === set.id).map((item) => item.brushId),
      }))
      .filter((set) => set.brushes.length > 0),
  }
  return {
    manifest,
    brushes: brushes.map(({ id, frames, recipe, thumbnail }) => ({
      id,
      thumbnailBlob: 'blobSha' in thumbnail ? thumbnail.blobSha : undefined,
      grainBlob: grainBlobs.get(recipe.ground.grain?.sha256 ?? ''),
      blobs: frames.map((frame) => frame.blobSha),
      pixels: frames.map((frame) => frame.pixelSha),
      widths: frames.map((frame) => frame.width),
      heights: frames.map((frame) => frame.height),
    })),
    licenceText: await licenceText(pack.licence, pack.licenceText, pack.maker),
  }
}

/** The pockets that hold any of the brushes, with those entries only. */
async function loadPockets(db: Db, workspaceId: string, ids: ReadonlySet<string>): Promise<PackManifest['pockets']> {
  const pockets = await listPockets(db, workspaceId)
  return pockets
    .map(({ name, items }) => ({
      name,
      entries: items
        .filter((item) => ids.has(item.brushId))
        .map(({ brushId, sizePx, label }) => ({ brush: brushId, sizePx, label })),
    }))
    .filter((pocket) => pocket.entries.length > 0)
}

/**
 * The grains and strips that brushes use, with their names.
 * @throws {Problem} 422 where a grain is gone: without it the brush would paint otherwise.
 */
async function loadMaterials(db: Db, workspaceId: string, brushes: Awaited<ReturnType<typeof loadPackBrushes>>) {
  const wanted = new Map(
    brushes.flatMap(({ name, recipe }) => (recipe.ground.grain ? [[recipe.ground.grain.sha256, name]] : [])),
  )
  const grains = await findMaterials(db, workspaceId, 'grain', [...wanted.keys()])
  const found = new Set(grains.map((grain) => grain.pixelSha))
  for (const [sha256, name] of wanted)
    if (!found.has(sha256))
      throw new Problem(422, `The grain of "${name}" is gone; choose another for it under Tune, then release.`)
  const ribbons = brushes.filter(({ recipe }) => recipe.path.ribbon)
  const stripOf = new Map(ribbons.map(({ name, frames }) => [frames[0]?.pixelSha ?? '', name]))
  for (const { pixelSha, name } of await findMaterials(db, workspaceId, 'strip', [...stripOf.keys()]))
    stripOf.set(pixelSha, name)
  return { grains, strips: [...stripOf].map(([sha256, name]) => ({ sha256, name })) }
}
