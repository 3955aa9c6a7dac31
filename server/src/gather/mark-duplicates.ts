import { NearIndex } from '@satchel/core/compare/near-index'
import type { Db } from '../db/database.ts'
import {
  type FoundDuplicate,
  type GatherLine,
  listTipHashes,
  loadGatherLines,
  setLineDuplicates,
} from '../db/gathers.ts'
import { listMaterials } from '../db/materials.ts'
import type { Duplicate } from '../db/schema/gather.ts'

/** Lines that are noted by one statement. */
const NOTES_AT_ONCE = 1000

/**
 * Finds which lines repeat a brush of the library or an earlier line. Exact copies are skipped unless the curator has
 * decided otherwise; near ones are taken, with a word about it.
 */
export async function markDuplicates(db: Db, workspaceId: string, gatherId: string): Promise<void> {
  const exact = new Map<string, Duplicate>()
  const near = new NearIndex<Duplicate>()
  for (const tip of await listTipHashes(db, workspaceId)) {
    const original = { of: 'library', name: tip.name, picture: { blobSha: tip.blobSha, reading: tip.reading } } as const
    exact.set(`tip ${tip.pixelKey}`, { ...original, how: 'exact' })
    if (tip.nearBits && tip.nearSignature)
      near.add({ ...original, how: 'near' }, { bits: tip.nearBits, signature: tip.nearSignature })
  }
  for (const { kind, pixelSha, name } of await listMaterials(db, workspaceId, { bin: false })) {
    exact.set(`${kind} ${pixelSha}`, { of: 'library', how: 'exact', name })
  }
  const notes: FoundDuplicate[] = []
  for (const line of await loadGatherLines(db, workspaceId, gatherId)) {
    if (!line.pixelKey) continue
    const key = `${line.use} ${line.pixelKey}`
    const found = exact.get(key) ?? (line.use === 'tip' ? findNear(near, line) : undefined) ?? null
    const note = noteOf(line, found)
    if (note) notes.push(note)
    if (notes.length >= NOTES_AT_ONCE) await setLineDuplicates(db, workspaceId, notes.splice(0))
    const [frame] = line.frames
    const picture = frame && { blobSha: frame.blobSha, reading: line.brush?.recipe.colour.reading ?? 'dark' }
    const original = { of: 'batch', name: line.name, picture } as const
    if (!exact.has(key)) exact.set(key, found ? { ...found, how: 'exact' } : { ...original, how: 'exact' })
    // A copy is never the original of another one: what looks like it looks like what it was copied from.
    if (!found && line.use === 'tip' && line.nearBits && line.nearSignature)
      near.add({ ...original, how: 'near' }, { bits: line.nearBits, signature: line.nearSignature })
  }
  await setLineDuplicates(db, workspaceId, notes)
}

function findNear(near: NearIndex<Duplicate>, { nearBits, nearSignature }: GatherLine): Duplicate | undefined {
  return nearBits && nearSignature ? near.find({ bits: nearBits, signature: nearSignature })?.id : undefined
}

/** What is new about a line; nothing where all of it is known. */
function noteOf(line: GatherLine, duplicate: Duplicate | null): FoundDuplicate | undefined {
  const outcome = line.decided ? null : duplicate?.how === 'exact' ? 'skip' : 'take'
  const same = JSON.stringify(line.duplicate) === JSON.stringify(duplicate)
  if (same && (outcome === null || outcome === line.outcome)) return undefined
  return { id: line.id, duplicate, outcome }
}
