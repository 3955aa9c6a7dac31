import { toRibbonRecipe } from '@satchel/core/brush/starting-points'
import { binBrushes } from '../db/brush-bin.ts'
import type { Db } from '../db/database.ts'
import { loadGatherLines } from '../db/gather-lines.ts'
import { clearGather, endGather, forgetTaken, type GatherLine, noteTaken } from '../db/gathers.ts'
import { entryOf } from '../db/many.ts'
import { addMaterials, binMaterial, type NewMaterial } from '../db/materials.ts'
import { findFacts, type WorkspaceFacts } from '../db/members.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import { addToNamedPocket, removePocketItems } from '../db/pockets.ts'
import { insertBrushes } from '../db/save-brush.ts'
import { addToSet, ensureSets, updateSet } from '../db/sets.ts'
import { Refusal } from '../errors.ts'
import { nameOf } from './lines.ts'

/** What taking in did. */
export type TakenIn = { brushes: number; sets: number; grains: number; strips: number }

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
    const lines = (await loadGatherLines(tx, workspaceId, gatherId)).filter(
      (line) => line.outcome === 'take' && line.brush,
    )
    if (lines.length === 0) throw new Refusal('clash', 'Nothing is marked to be taken in; choose at least one line.')
    const brushes = lines.filter((line) => line.use !== 'grain')
    const facts = await findFacts(tx, workspaceId)
    const news = brushes.map((line) => toNewBrush(line, facts))
    const ids = await insertBrushes(tx, workspaceId, news)
    const materials = await addMaterials(tx, workspaceId, lines.flatMap(toMaterials))
    const pocketItems: string[] = []
    for (const [name, items] of pinsOf(brushes, ids))
      pocketItems.push(...(await addToNamedPocket(tx, workspaceId, name, items)))
    const grouped = groupBySet(brushes, ids)
    const sets = await ensureSets(tx, workspaceId, [...grouped.keys()], foldersOf(brushes))
    for (const [name, brushIds] of grouped) {
      const setId = sets.ids.get(name.toLowerCase())
      if (setId) await addToSet(tx, workspaceId, setId, brushIds)
    }
    await noteTaken(tx, workspaceId, gatherId, { brushes: ids, sets: sets.made, materials, pocketItems })
    await deleteOrphanBlobs(tx, workspaceId, await clearGather(tx, workspaceId, gatherId))
    const of = (use: GatherLine['use']) => lines.filter((line) => line.use === use).length
    return { brushes: ids.length, sets: grouped.size, grains: of('grain'), strips: of('strip') }
  })
}

/**
 * Takes back what taking a ledger in added: brushes go to the bin, new sets, grains and strips with them.
 * @returns How many brushes; undefined when there is nothing to take back.
 */
export async function undoTakeIn(db: Db, workspaceId: string, gatherId: string): Promise<number | undefined> {
  return db.transaction(async (tx) => {
    const added = await forgetTaken(tx, workspaceId, gatherId)
    if (!added) return undefined
    await removePocketItems(tx, workspaceId, added.pocketItems)
    for (const id of added.materials) await binMaterial(tx, workspaceId, id, true)
    for (const id of added.sets) await updateSet(tx, workspaceId, id, { deletedAt: new Date() })
    return added.brushes.length === 0 ? 0 : binBrushes(tx, workspaceId, added.brushes, true)
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

/** The pockets that came with a pack, by name, their entries in order. */
function pinsOf(lines: readonly GatherLine[], ids: readonly string[]) {
  const pins = lines.flatMap((line, i) => (line.brush?.pins ?? []).map((pin) => ({ ...pin, brushId: entryOf(ids, i) })))
  pins.sort((a, b) => a.at - b.at)
  const byPocket = new Map<string, { brushId: string; sizePx: number; label: string }[]>()
  for (const { pocket, brushId, sizePx, label } of pins)
    byPocket.set(pocket, [...(byPocket.get(pocket) ?? []), { brushId, sizePx, label }])
  return byPocket
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
 * Set names with their brushes. Lines keep the order of the ledger; what came in a pack keeps the pack's order of sets
 * and of the brushes in each. A brush out of a pack lies in all its sets; the curator's choice of another set replaces
 * the first of them.
 */
function groupBySet(lines: GatherLine[], ids: string[]): Map<string, string[]> {
  const firstOfFile = new Map<string, number>()
  for (const [i, line] of lines.entries()) if (!firstOfFile.has(line.fileId)) firstOfFile.set(line.fileId, i)
  const wanted = lines.flatMap((line, i) => {
    const [first, ...others] = line.brush?.inSets ?? []
    const own = { name: line.setName, order: first?.order ?? 0, at: first?.at ?? i }
    return [own, ...others.filter(({ name }) => name !== own.name)].map((inSet) => ({
      ...inSet,
      id: entryOf(ids, i),
      file: firstOfFile.get(line.fileId) ?? 0,
    }))
  })
  wanted.sort((a, b) => a.file - b.file || a.order - b.order || a.at - b.at)
  const bySet = new Map<string, { name: string; ids: string[] }>()
  for (const { name, id } of wanted) {
    if (name === '') continue
    const set = bySet.get(name.toLowerCase())
    if (set) set.ids.push(id)
    else bySet.set(name.toLowerCase(), { name, ids: [id] })
  }
  return new Map([...bySet.values()].map((set) => [set.name, set.ids]))
}

/** Sets that came together out of one folder or zip are grouped under it on the rack. */
function foldersOf(lines: readonly GatherLine[]): (setName: string) => string {
  const folderOf = new Map<string, string>()
  const setsIn = new Map<string, Set<string>>()
  for (const { folder, setName } of lines) {
    const top = nameOf(folder.split('/')[0] ?? '')
    const key = setName.toLowerCase()
    if (folder === '' || setName === '' || folderOf.has(key)) continue
    folderOf.set(key, top)
    setsIn.set(top, (setsIn.get(top) ?? new Set()).add(key))
  }
  return (setName) => {
    const folder = folderOf.get(setName.toLowerCase()) ?? ''
    return (setsIn.get(folder)?.size ?? 0) > 1 ? folder : ''
  }
}
