import type { PixelSha } from '@satchel/core/hashes'
import { PACK_FORMAT, PACK_VERSION, type PackManifest } from '@satchel/core/pack/manifest'
import type { SQL } from 'drizzle-orm'
import type { Db } from '../db/database.ts'
import { listChoices } from '../db/fit-choices.ts'
import { findMaterials } from '../db/materials.ts'
import { idsInPack, listNotes, listSingle } from '../db/pack-brushes.ts'
import { listPackSets, type Pack } from '../db/packs.ts'
import { listPockets } from '../db/pockets.ts'
import { type LoadedBrush, loadBrushes } from '../db/releases.ts'
import type { FrozenDestination } from '../db/schema/all.ts'
import { listSetBrushes } from '../db/sets.ts'
import { Refusal } from '../errors.ts'
import { allDestinations, type KnownDestination } from '../fit/destinations.ts'
import { withoutFile } from '../pictures/thumbnail-file.ts'
import { licenceText } from './pack-texts.ts'

/**
 * Everything a release keeps, as it is now: later changes to brushes and sets do not reach it.
 * @throws {Refusal} Where the pack holds no brush, or a grain of one is gone.
 */
export async function freeze(db: Db, pack: Pack, version: string) {
  const { workspaceId, id } = pack
  const [sets, single, notes] = await Promise.all([
    listPackSets(db, workspaceId, id),
    listSingle(db, workspaceId, id),
    listNotes(db, workspaceId, id),
  ])
  const ids = idsInPack(workspaceId, id)
  return freezeContents(db, { ...pack, packId: id, release: version, what: 'pack', sets, single, notes, ids })
}

/** What is frozen: which brushes by themselves and in which sets, and what is said of all of them. */
export type Contents = Pick<Pack, 'workspaceId' | 'title' | 'maker' | 'licence' | 'licenceText' | 'help'> & {
  /** What it is called where there is nothing in it. */
  what: string
  /** The pack that it is a release of, if any. */
  packId?: string
  release: string
  sets: readonly { id: string; name: string }[]
  single: readonly { id: string }[]
  notes: ReadonlyMap<string, string>
  /** A query in brackets for the ids of all its brushes. */
  ids: SQL
  destinationIds: readonly string[]
}

/**
 * Everything that goes out, as it is now.
 * @throws {Refusal} Where there is no brush in it, or a grain of one is gone.
 */
export async function freezeContents(db: Db, contents: Contents) {
  const { workspaceId, sets, single, notes } = contents
  const items = await listSetBrushes(
    db,
    workspaceId,
    sets.map((set) => set.id),
  )
  const [brushes, destinations] = await Promise.all([
    loadBrushes(db, workspaceId, contents.ids),
    allDestinations(db, workspaceId),
  ])
  if (brushes.length === 0)
    throw new Refusal('unfit', `This ${contents.what} holds no brush yet; choose a brush, or a set that has some.`)
  const loaded = new Set(brushes.map(({ id }) => id))
  const order = new Map<string, number>()
  for (const id of [...single.map((each) => each.id), ...items.map((item) => item.brushId)])
    if (!order.has(id)) order.set(id, order.size)
  brushes.sort((a, b) => (order.get(a.id) ?? 0) - (order.get(b.id) ?? 0))
  const materials = await loadMaterials(db, workspaceId, brushes)
  const grainBlobs = new Map(materials.grains.map((grain) => [grain.pixelSha, grain.blobSha]))
  const manifest: PackManifest = {
    format: PACK_FORMAT,
    version: PACK_VERSION,
    ...(contents.packId && { pack: contents.packId }),
    title: contents.title,
    maker: contents.maker,
    licence: contents.licence,
    help: contents.help,
    release: contents.release,
    brushes: brushes.map(({ id, name, maker, licence, tags, recipe, frames, fileKeys, thumbnail }) => ({
      id,
      name,
      maker,
      licence: licence || contents.licence,
      tags,
      recipe,
      frames: frames.map((frame) => frame.pixelSha),
      frameNames: frames.some((frame) => frame.name) ? frames.map((frame) => frame.name) : [],
      keys: fileKeys,
      thumbnail: withoutFile(thumbnail),
      note: notes.get(id) ?? '',
    })),
    grains: materials.grains.map(({ pixelSha, name }) => ({ sha256: pixelSha, name })),
    strips: materials.strips,
    pockets: await loadPockets(db, workspaceId, new Set(brushes.map((brush) => brush.id))),
    single: single.flatMap(({ id }) => (loaded.has(id) ? [id] : [])),
    sets: sets
      .map((set) => ({
        name: set.name,
        brushes: items
          .filter(({ setId, brushId }) => setId === set.id && loaded.has(brushId))
          .map((item) => item.brushId),
      }))
      .filter((set) => set.brushes.length > 0),
    destinations: destinations
      .filter(({ id }) => contents.destinationIds.includes(id))
      .map(({ description }) => description.name),
  }
  return {
    manifest,
    destinations: await freezeDestinations(db, contents, destinations, brushes),
    /** Which version of each brush it is. */
    versions: brushes.map(({ id, version: at }) => [id, at] as const),
    brushes: brushes.map(({ id, frames, recipe, thumbnail }) => ({
      id,
      thumbnailBlob: 'blobSha' in thumbnail ? thumbnail.blobSha : undefined,
      grainBlob: recipe.ground.grain && grainBlobs.get(recipe.ground.grain.sha256),
      blobs: frames.map((frame) => frame.blobSha),
      pixels: frames.map((frame) => frame.pixelSha),
      widths: frames.map((frame) => frame.width),
      heights: frames.map((frame) => frame.height),
    })),
    licenceText: await licenceText(contents.licence, contents.licenceText, contents.maker),
  }
}

/** Where the pack is meant to go, and what was answered for its brushes there. */
async function freezeDestinations(
  db: Db,
  { workspaceId, destinationIds }: Pick<Contents, 'workspaceId' | 'destinationIds'>,
  known: readonly KnownDestination[],
  brushes: readonly { id: string }[],
): Promise<FrozenDestination[]> {
  const meant = known.filter(({ id }) => destinationIds.includes(id))
  const ids = brushes.map(({ id }) => id)
  const choicesOf = await listChoices(
    db,
    workspaceId,
    meant.map(({ id }) => id),
    ids,
  )
  return meant.map(({ id, description }) => ({
    id,
    description,
    choices: ids.flatMap((brushId): FrozenDestination['choices'] => {
      const choices = choicesOf(brushId, id)
      return Object.keys(choices).length > 0 ? [[brushId, choices]] : []
    }),
  }))
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
 * @throws {Refusal} Where a grain is gone: without it the brush would paint otherwise.
 */
async function loadMaterials(db: Db, workspaceId: string, brushes: LoadedBrush[]) {
  const wanted = new Map<PixelSha, string>(
    brushes.flatMap(({ name, recipe }) => (recipe.ground.grain ? [[recipe.ground.grain.sha256, name] as const] : [])),
  )
  const grains = await findMaterials(db, workspaceId, 'grain', [...wanted.keys()])
  const found = new Set(grains.map((grain) => grain.pixelSha))
  for (const [sha256, name] of wanted)
    if (!found.has(sha256))
      throw new Refusal('unfit', `The grain of "${name}" is gone; choose another for it under Tune, then release.`)
  const ribbons = brushes.filter(({ recipe }) => recipe.path.ribbon)
  const stripOf = new Map(
    ribbons.flatMap(({ name, frames: [strip] }): [PixelSha, string][] => (strip ? [[strip.pixelSha, name]] : [])),
  )
  for (const { pixelSha, name } of await findMaterials(db, workspaceId, 'strip', [...stripOf.keys()]))
    stripOf.set(pixelSha, name)
  return { grains, strips: [...stripOf].map(([sha256, name]) => ({ sha256, name })) }
}
