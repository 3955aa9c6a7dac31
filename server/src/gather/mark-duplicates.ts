import { NearIndex } from '@satchel/core/compare/near-index'
import type { Db } from '../db/database.ts'
import { type GatherLine, listTipHashes, loadGatherLines, setLineDuplicate } from '../db/gathers.ts'
import { listMaterials } from '../db/materials.ts'
import type { Duplicate } from '../db/schema/gather.ts'

/**
 * Finds which lines repeat a brush of the library or an earlier line. Exact copies are skipped unless the curator has
 * decided otherwise; near ones are taken, with a word about it.
 */
export async function markDuplicates(db: Db, workspaceId: string, gatherId: string): Promise<void> {
  const exact = new Map<string, Duplicate>()
  const near = new NearIndex<Duplicate>()
  for (const tip of await listTipHashes(db, workspaceId)) {
    exact.set(`tip ${tip.pixelKey}`, { of: 'library', how: 'exact', name: tip.name })
    if (tip.nearBits && tip.nearSignature) {
      near.add({ of: 'library', how: 'near', name: tip.name }, { bits: tip.nearBits, signature: tip.nearSignature })
    }
  }
  for (const { kind, pixelSha, name } of await listMaterials(db, workspaceId, { bin: false })) {
    exact.set(`${kind} ${pixelSha}`, { of: 'library', how: 'exact', name })
  }
  for (const line of await loadGatherLines(db, workspaceId, gatherId)) {
    if (!line.pixelKey) continue
    const key = `${line.use} ${line.pixelKey}`
    const found = exact.get(key) ?? (line.use === 'tip' ? findNear(near, line) : undefined) ?? null
    await note(db, line, found)
    if (!exact.has(key)) exact.set(key, { of: 'batch', how: 'exact', name: line.name })
    if (line.use === 'tip' && line.nearBits && line.nearSignature) {
      near.add({ of: 'batch', how: 'near', name: line.name }, { bits: line.nearBits, signature: line.nearSignature })
    }
  }
}

function findNear(near: NearIndex<Duplicate>, { nearBits, nearSignature }: GatherLine): Duplicate | undefined {
  return nearBits && nearSignature ? near.find({ bits: nearBits, signature: nearSignature })?.id : undefined
}

async function note(db: Db, line: GatherLine, found: Duplicate | null): Promise<void> {
  const outcome = line.decided ? undefined : found?.how === 'exact' ? 'skip' : 'take'
  const same = JSON.stringify(line.duplicate) === JSON.stringify(found)
  if (same && (outcome === undefined || outcome === line.outcome)) return
  await setLineDuplicate(db, line.workspaceId, line.id, found, outcome)
}
