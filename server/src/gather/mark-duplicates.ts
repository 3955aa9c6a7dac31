import { isSeen } from '@satchel/core/alike/differences'
import {
  type ComparedLine,
  type ComparedTip,
  type FoundDuplicate,
  listComparedLines,
  listComparedTips,
  setLineDuplicates,
} from '../db/gather-duplicates.ts'
import { listMaterials } from '../db/materials.ts'
import type { Duplicate } from '../db/schema/gather.ts'
import type { Deps } from '../deps.ts'
import { type Copy, groupAlike, judgePixels } from './group-alike.ts'
import { measureTips } from './measure-tips.ts'

/** Lines that are noted by one statement. */
const NOTES_AT_ONCE = 1000

/**
 * Finds which lines repeat a brush of the library or another line. The same pixels are skipped unless the curator has
 * decided otherwise; what looks alike is taken, with a word about how it differs from its original.
 */
export async function markDuplicates(
  deps: Deps,
  workspaceId: string,
  gatherId: string,
  signal?: AbortSignal,
): Promise<void> {
  const { db } = deps
  await measureTips(deps, workspaceId, signal)
  const tips = await listComparedTips(db, workspaceId)
  const lines = await listComparedLines(db, workspaceId, gatherId)
  const exact = new Map<string, Duplicate>()
  for (const tip of tips) exact.set(`tip ${tip.pixelKey}`, { ...originalOf(tip, 'library'), how: 'exact' })
  for (const { kind, pixelSha, name } of await listMaterials(db, workspaceId, { bin: false }))
    exact.set(`${kind} ${pixelSha}`, { of: 'library', how: 'exact', name })
  const found = new Map<string, Duplicate>()
  const singles: ComparedLine[] = []
  for (const line of lines) {
    const key = `${line.use} ${line.pixelKey}`
    const original = exact.get(key)
    if (original) found.set(line.id, original)
    else {
      exact.set(key, { ...originalOf(line, 'batch'), how: 'exact' })
      if (line.use === 'tip') singles.push(line)
    }
  }
  for (const [line, copy] of await findAlike(deps, workspaceId, { tips, lines: singles, signal })) found.set(line, copy)
  const notes = lines.flatMap((line) => noteOf(line, found.get(line.id) ?? null) ?? [])
  for (let at = 0; at < notes.length; at += NOTES_AT_ONCE)
    await setLineDuplicates(db, workspaceId, notes.slice(at, at + NOTES_AT_ONCE))
}

type Original = Pick<Duplicate, 'of' | 'name' | 'picture'>

const originalOf = ({ name, blobSha, reading }: ComparedTip, of: Duplicate['of']): Original => ({
  of,
  name,
  ...(blobSha ? { picture: { blobSha, reading } } : {}),
})

/** Lines that look like a tip of the library, or like a larger or earlier line, by id. */
async function findAlike(
  deps: Deps,
  workspaceId: string,
  { tips, lines, signal }: { tips: ComparedTip[]; lines: ComparedLine[]; signal: AbortSignal | undefined },
): Promise<Map<string, Duplicate>> {
  // The original of a group is what the library has, or else its largest, and of equally large ones the first.
  const ranked = [...lines].sort((a, b) => b.markArea - a.markArea)
  const before = new Map(lines.map((line) => [line.id, line.duplicate]))
  // what an earlier comparison of the same pixels found
  const known = (own: ComparedTip, original: ComparedTip) => {
    const duplicate = before.get((own as ComparedLine).id)
    return duplicate?.pair === pairOf(own, original) ? duplicate.differs : undefined
  }
  const confirm = async (own: ComparedTip, original: ComparedTip) =>
    known(own, original) ?? judgePixels(deps, workspaceId, own, original)
  const copies = await groupAlike(deps, workspaceId, { originals: tips, others: ranked, confirm, signal })
  return new Map(
    copies.map(({ own, original, differs, isNew }: Copy) => {
      const of = isNew ? 'batch' : 'library'
      const pair = pairOf(own, original)
      return [
        (own as ComparedLine).id,
        { ...originalOf(original, of), how: 'alike', differs, same: !differs.some(isSeen), pair },
      ]
    }),
  )
}

/** Names the comparison of two tips: it comes out the same whenever it is made. */
const pairOf = (own: ComparedTip, original: ComparedTip) =>
  `${own.pixelKey} ${own.reading} ${original.pixelKey} ${original.reading}`

/** What is new about a line; nothing where all of it is known. */
function noteOf(line: ComparedLine, duplicate: Duplicate | null): FoundDuplicate | undefined {
  const outcome = line.decided ? null : duplicate?.how === 'exact' ? 'skip' : 'take'
  const same = JSON.stringify(line.duplicate) === JSON.stringify(duplicate)
  if (same && (outcome === null || outcome === line.outcome)) return undefined
  return { id: line.id, duplicate, outcome }
}
