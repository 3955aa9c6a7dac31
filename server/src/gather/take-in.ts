import { type Recipe, SIZE_MAX_PX } from '@satchel/core/brush/recipe'
import type { Db } from '../db/database.ts'
import { clearGather, endGather, type GatherLine, loadGatherLines } from '../db/gathers.ts'
import { addMaterials, type NewMaterial } from '../db/materials.ts'
import { deleteOrphanBlobs } from '../db/orphans.ts'
import { addToNamedPocket } from '../db/pockets.ts'
import { insertBrushes } from '../db/save-brush.ts'
import { addToSet, ensureSets } from '../db/sets.ts'
import { Problem } from '../errors.ts'

/** What taking in did. */
export type TakenIn = { brushes: number; sets: number; grains: number; strips: number }

/**
 * Takes every line marked "take" into the library, in one transaction: all of them, or none.
 * @throws {Problem} 409 when the gather has ended already, or has nothing to take.
 */
export async function takeIn(db: Db, workspaceId: string, gatherId: string): Promise<TakenIn> {
  return db.transaction(async (tx) => {
    if (!(await endGather(tx, workspaceId, gatherId, 'taken'))) {
      throw new Problem(409, 'These brushes were already taken in or cancelled; reload the page to see the library.')
    }
    const lines = (await loadGatherLines(tx, workspaceId, gatherId)).filter(
      (line) => line.outcome === 'take' && line.brush,
    )
    if (lines.length === 0) throw new Problem(409, 'Nothing is marked to be taken in; choose at least one line.')
    const brushes = lines.filter((line) => line.use !== 'grain')
    const ids = await insertBrushes(tx, workspaceId, brushes.map(toNewBrush))
    await addMaterials(tx, workspaceId, lines.flatMap(toMaterials))
    for (const [name, items] of pinsOf(brushes, ids)) await addToNamedPocket(tx, workspaceId, name, items)
    const placed = placeInSets(brushes, ids)
    const setIds = await ensureSets(tx, workspaceId, [...placed.keys()])
    for (const [name, brushIds] of placed) {
      const setId = setIds.get(name.toLowerCase())
      if (setId) await addToSet(tx, workspaceId, setId, brushIds)
    }
    await deleteOrphanBlobs(tx, workspaceId, await clearGather(tx, workspaceId, gatherId))
    const of = (use: GatherLine['use']) => lines.filter((line) => line.use === use).length
    return { brushes: ids.length, sets: placed.size, grains: of('grain'), strips: of('strip') }
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

function toNewBrush(line: GatherLine) {
  if (!line.brush || !line.pixelKey) throw new Error(`line ${line.id} is to be taken but holds no brush`)
  const { maker, licence, tags, thumbnail } = line.brush
  const recipe = line.use === 'strip' ? toRibbonRecipe(line.brush.recipe, line.height ?? 1) : line.brush.recipe
  const { name, frames, pixelKey, nearBits, nearSignature } = line
  return {
    ...{ name, maker, licence, tags, recipe, frames, pixelKey, nearBits, nearSignature },
    ...(thumbnail ? { thumbnail } : {}),
  }
}

/** The pockets that came with a pack, by name, their entries in order. */
function pinsOf(lines: readonly GatherLine[], ids: readonly string[]) {
  const pins = lines.flatMap((line, i) => (line.brush?.pins ?? []).map((pin) => ({ ...pin, brushId: ids[i] ?? '' })))
  pins.sort((a, b) => a.at - b.at)
  const byPocket = new Map<string, { brushId: string; sizePx: number; label: string }[]>()
  for (const { pocket, brushId, sizePx, label } of pins)
    byPocket.set(pocket, [...(byPocket.get(pocket) ?? []), { brushId, sizePx, label }])
  return byPocket
}

/** A strip's first recipe: repeated as a whole, as wide as it is high. */
function toRibbonRecipe(recipe: Recipe, heightPx: number): Recipe {
  const ribbon = recipe.path.ribbon ?? { lay: 'repeated', leadInPx: 0, leadOutPx: 0 }
  return {
    ...recipe,
    mark: { ...recipe.mark, sizePx: Math.min(SIZE_MAX_PX, heightPx) },
    path: { ...recipe.path, ribbon },
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
 * Set names with their brushes. Lines keep the order of the ledger; what came in a pack keeps the pack's order of sets
 * and of the brushes in each. A brush out of a pack lies in all its sets; the curator's choice of another set replaces
 * the first of them.
 */
function placeInSets(lines: GatherLine[], ids: string[]): Map<string, string[]> {
  const firstOfFile = new Map<string, number>()
  for (const [i, line] of lines.entries()) if (!firstOfFile.has(line.fileId)) firstOfFile.set(line.fileId, i)
  const placed = lines.flatMap((line, i) => {
    const [first, ...others] = line.brush?.places ?? []
    const own = { name: line.setName, order: first?.order ?? 0, at: first?.at ?? i }
    return [own, ...others.filter(({ name }) => name !== own.name)].map((place) => ({
      ...place,
      id: ids[i] ?? '',
      file: firstOfFile.get(line.fileId) ?? 0,
    }))
  })
  placed.sort((a, b) => a.file - b.file || a.order - b.order || a.at - b.at)
  const bySet = new Map<string, { name: string; ids: string[] }>()
  for (const { name, id } of placed) {
    if (name === '') continue
    const set = bySet.get(name.toLowerCase())
    if (set) set.ids.push(id)
    else bySet.set(name.toLowerCase(), { name, ids: [id] })
  }
  return new Map([...bySet.values()].map((set) => [set.name, set.ids]))
}
