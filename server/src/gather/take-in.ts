import { toRibbonRecipe } from '@satchel/core/brush/starting-points'
import { outerSets } from '@satchel/core/forms/set-folders'
import { binBrushes } from '../db/brush-bin.ts'
import type { Db } from '../db/database.ts'
import { loadGatherLines } from '../db/gather-lines.ts'
import { clearGather, endGather, forgetTaken, type GatherLine, noteTaken } from '../db/gathers.ts'
import { entryOf } from '../db/many.ts'
import { addMaterials, binMaterial, type NewMaterial } from '../db/materials.ts'
import { findFacts, type WorkspaceFacts } from '../db/members.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import { removePocketItems } from '../db/pockets.ts'
import { goBack, insertBrushes } from '../db/save-brush.ts'
import { addToSet, ensureSets, ownSetsAmong, updateSet } from '../db/sets.ts'
import { listOfferedCards } from '../db/setup-cards.ts'
import { forgetOrigins, lockTaking, noteOrigins } from '../db/taken.ts'
import { Refusal } from '../errors.ts'
import { layOutCards, undoCards } from '../library/setup-cards.ts'
import { noteFollowed } from './followed/note-followed.ts'
import { nameOf } from './lines.ts'
import { findSetsOf, notePacks, noteSame, originOfLine, partNewer, takeNewer } from './newer/take-newer.ts'

/** What taking in did. */
export type TakenIn = {
  brushes: number
  sets: number
  grains: number
  strips: number
  /** Brushes that are as a newer release has them by now, or joined with it. */
  followed: number
  /** Brushes of a newer release of which nothing had to be changed. */
  kept: number
  /** Pockets that were laid out by setup cards. */
  pockets: string[]
}

/**
 * Takes every line marked "take" into the library, in one transaction: all of them, or none.
 * @throws {Refusal} When the gather has ended already, or has nothing to take.
 */
export async function takeIn(db: Db, workspaceId: string, gatherId: string): Promise<TakenIn> {
  return db.transaction(async (tx) => {
    if (!(await endGather(tx, workspaceId, gatherId, 'taken'))) {
      throw new Refusal(
        'clash',
        'These brushes were already taken in or cancelled; reload the page to see the library.',
      )
    }
    const all = (await loadGatherLines(tx, workspaceId, gatherId)).filter((line) => line.brush)
    const lines = all.filter((line) => line.outcome === 'take')
    const offered = await listOfferedCards(tx, workspaceId, gatherId, { hold: true })
    const chosen = offered.filter((card) => card.isChosen)
    if (lines.length === 0 && chosen.length === 0)
      throw new Refusal('clash', 'Nothing is marked to be taken in; choose at least one line.')
    await lockTaking(tx, workspaceId)
    const act = { workspaceId, gatherId }
    const { fresh, newer } = await partNewer(tx, workspaceId, lines)
    const brushes = fresh.filter((line) => line.use !== 'grain')
    const facts = await findFacts(tx, workspaceId)
    const news = brushes.map((line) => toNewBrush(line, facts))
    const ids = await insertBrushes(tx, workspaceId, news)
    const homes = await findSetsOf(tx, workspaceId, [...new Set(all.flatMap(({ brush }) => brush?.source?.key ?? []))])
    const sets = await intoSets(tx, workspaceId, brushes, { ids, homes })
    const same = all.filter(isSameAlready)
    const packIds = await notePacks(tx, act, [...lines, ...same], homes)
    const origins = brushes.flatMap((line, i) => (line.origin ? originOfLine(line, entryOf(ids, i), packIds) : []))
    await noteOrigins(tx, workspaceId, gatherId, origins)
    await noteFollowed(tx, workspaceId, gatherId, { lines: all, taken: brushes, ids })
    const { followed, restored, kept, grains } = await takeNewer(tx, act, newer, packIds)
    // of what is the same already, this release is the one it is told from later
    await noteSame(tx, act, same, packIds)
    const newIds = new Map(brushes.map((line, i) => [line.id, entryOf(ids, i)]))
    const laid = await layOutCards(tx, act, all, { chosen, newIds, homes })
    const materials = await addMaterials(tx, workspaceId, [
      ...fresh.flatMap(toMaterials),
      ...grains.flatMap(toMaterials),
    ])
    await noteTaken(tx, workspaceId, gatherId, {
      ...{ brushes: ids, sets: sets.made, materials, pocketItems: [] },
      ...{ followed, restored, cards: laid.cards },
    })
    await deleteOrphanBlobs(tx, workspaceId, await clearGather(tx, workspaceId, gatherId))
    const of = (use: GatherLine['use']) => fresh.filter((line) => line.use === use).length
    return {
      ...{ brushes: ids.length, sets: sets.count, grains: of('grain'), strips: of('strip') },
      ...{ followed: followed.length, kept, pockets: laid.pockets },
    }
  })
}

/** What taking back did. */
export type TakenBack = {
  binned: number
  /** Brushes that are again as they were. */
  back: number
  /** Brushes that were changed since, and stay. */
  stayed: number
}

/**
 * Takes back what taking a ledger in did: new brushes go to the bin, new sets, grains and strips with them, and brushes that followed
 * a newer release are as they were. What somebody changed of them since is not undone.
 * @returns Undefined when there is nothing to take back.
 */
export async function undoTakeIn(db: Db, workspaceId: string, gatherId: string): Promise<TakenBack | undefined> {
  return db.transaction(async (tx) => {
    await lockTaking(tx, workspaceId)
    const added = await forgetTaken(tx, workspaceId, gatherId)
    if (!added) return undefined
    await removePocketItems(tx, workspaceId, added.pocketItems)
    await undoCards(tx, workspaceId, gatherId)
    const { followed = [], restored = [] } = added
    const back = await goBack(
      tx,
      workspaceId,
      followed.map(({ id, from, to }) => ({ id, from: to, to: from })),
    )
    const moved = new Set(followed.flatMap(({ id }) => (back.has(id) ? [] : [id])))
    await forgetOrigins(tx, workspaceId, gatherId, [...moved])
    for (const id of added.materials) await binMaterial(tx, workspaceId, id, true)
    for (const id of added.sets) await updateSet(tx, workspaceId, id, { deletedAt: new Date() })
    const again = restored.filter((id) => !moved.has(id))
    if (again.length > 0) await binBrushes(tx, workspaceId, again, true)
    const binned = added.brushes.length === 0 ? 0 : await binBrushes(tx, workspaceId, added.brushes, true)
    return { binned, back: followed.length - moved.size, stayed: moved.size }
  })
}

/** Drops a gather and all that only it holds. */
export async function cancelGather(db: Db, workspaceId: string, gatherId: string): Promise<boolean> {
  return db.transaction(async (tx) => {
    if (!(await endGather(tx, workspaceId, gatherId, 'cancelled'))) return false
    await deleteOrphanBlobs(tx, workspaceId, await clearGather(tx, workspaceId, gatherId))
    return true
  })
}

/** A line that was passed over by itself, since nothing of it is new. */
const isSameAlready = ({ taken, outcome, decided }: GatherLine) =>
  taken?.standing === 'same' && !taken.isStrange && outcome === 'skip' && !decided

/** @param facts Whose it is where it says nothing itself; what comes in a pack is whoever's that says, or nobody's. */
function toNewBrush(line: GatherLine, facts: WorkspaceFacts) {
  if (!line.brush || !line.pixelKey) throw new Error(`line ${line.id} is to be taken but holds no brush`)
  const { tags, thumbnail, fileKeys } = line.brush
  const usual = line.kind === 'pack' ? { maker: '', licence: '' } : facts
  const maker = line.brush.maker || usual.maker
  const licence = line.brush.licence || usual.licence
  const recipe = line.use === 'strip' ? toRibbonRecipe(line.brush.recipe, line.height ?? 1) : line.brush.recipe
  const { name, frames, pixelKey, alikeKey, alikeMark } = line
  return {
    name,
    maker,
    licence,
    tags,
    recipe,
    frames,
    pixelKey,
    alikeKey,
    alikeMark,
    ...(thumbnail ? { thumbnail } : {}),
    ...(fileKeys ? { fileKeys } : {}),
  }
}

/** The grains and strips that a line brings: itself, or those of a brush out of a pack. */
function toMaterials({ use, name, frames, grain, seamAcross, seamDown, brush }: GatherLine): NewMaterial[] {
  const [frame] = frames
  const seam = { seamAcross: seamAcross ?? 1, seamDown: seamDown ?? 1 }
  const own: NewMaterial[] = frame && use !== 'tip' ? [{ kind: use, name, ...frame, ...seam }] : []
  const strip: NewMaterial[] =
    frame && brush?.recipe.path.ribbon && use === 'tip' ? [{ kind: 'strip', name, ...frame, ...seam }] : []
  return [...own, ...strip, ...(grain ? [{ kind: 'grain' as const, ...grain }] : [])]
}

/**
 * Puts brushes into their sets. What came in a pack whose sets went somewhere before goes there again, however those are called by now;
 * else it is a set of that name, which is made where there is none.
 * @param homes Where the sets of packs went, by the pack's key and the set's name there; what comes new is added.
 * @returns How many sets they went to, and those that were made.
 */
async function intoSets(
  tx: Db,
  workspaceId: string,
  lines: readonly GatherLine[],
  { ids, homes }: { ids: readonly string[]; homes: Map<string, Map<string, string>> },
) {
  const onRack = await ownSetsAmong(
    tx,
    workspaceId,
    [...homes.values()].flatMap((sets) => [...sets.values()]),
  )
  const wanted = setsWanted(lines, ids).map((each) => {
    const home = homes.get(each.key)?.get(each.packSet)
    return { ...each, home: home && each.name === each.packSet && onRack.has(home) ? home : undefined }
  })
  const names = [...new Map(wanted.flatMap(({ home, name }) => (home ? [] : [[name.toLowerCase(), name]]))).values()]
  const outer = outerSets(lines, nameOf)
  const ensured = await ensureSets(tx, workspaceId, names, (name) => outer.get(name.toLowerCase()) ?? '')
  const bySet = new Map<string, string[]>()
  for (const { key, packSet, home, name, id } of wanted) {
    const setId = home ?? ensured.ids.get(name.toLowerCase())
    if (!setId) throw new Error(`no set was made for ${name}`)
    const members = bySet.get(setId)
    if (members) members.push(id)
    else bySet.set(setId, [id])
    if (key && packSet) homes.set(key, (homes.get(key) ?? new Map()).set(packSet, setId))
  }
  for (const [setId, brushIds] of bySet) await addToSet(tx, workspaceId, setId, brushIds)
  return { count: bySet.size, made: ensured.made }
}

/**
 * Which brush goes to the set of which name. Lines keep the order of the ledger; what came in a pack keeps the pack's order of sets
 * and of the brushes in each. A brush out of a pack lies in all its sets; the curator's choice of another set replaces
 * the first of them.
 */
function setsWanted(lines: readonly GatherLine[], ids: readonly string[]) {
  const firstOfFile = new Map<string, number>()
  for (const [i, line] of lines.entries()) if (!firstOfFile.has(line.fileId)) firstOfFile.set(line.fileId, i)
  const wanted = lines.flatMap((line, i) => {
    const [first, ...others] = line.brush?.inSets ?? []
    const own = { name: line.setName, packSet: first?.name ?? '', order: first?.order ?? 0, at: first?.at ?? i }
    const further = others.filter(({ name }) => name !== own.name).map((each) => ({ ...each, packSet: each.name }))
    return [own, ...further].map((inSet) => ({
      ...inSet,
      id: entryOf(ids, i),
      key: line.brush?.source?.key ?? '',
      file: firstOfFile.get(line.fileId) ?? 0,
    }))
  })
  wanted.sort((a, b) => a.file - b.file || a.order - b.order || a.at - b.at)
  return wanted.filter(({ name }) => name !== '')
}
