import { mergeThree } from '@satchel/core/newer/merge'
import { tellUnits } from '@satchel/core/newer/told'
import { isOlder } from '@satchel/core/releases/version'
import type { Db } from '../../db/database.ts'
import { loadGatherLines } from '../../db/gather-lines.ts'
import type { GatherLine } from '../../db/gathers.ts'
import type { LineStanding, LineTaken } from '../../db/schema/taken.ts'
import {
  type FoundTaken,
  findTaken,
  listOriginLines,
  loadWholeBrushes,
  setLinesTaken,
  type TakenBrush,
  type WholeBrush,
} from '../../db/taken.ts'
import { stateOfBrush, stateOfLine } from './states.ts'

/** Lines that are looked at together. */
const AT_ONCE = 500

/** What is done with a line of a standing, where the curator has not decided. */
const OUTCOMES: Record<LineStanding, 'take' | 'skip'> = {
  same: 'skip',
  follows: 'take',
  joins: 'take',
  open: 'take',
  older: 'skip',
  binned: 'skip',
  removed: 'skip',
}

/** Finds which lines are newer than brushes that were taken in before, and how they stand to what those are by now. */
export async function markNewer(db: Db, workspaceId: string, gatherId: string, signal?: AbortSignal): Promise<void> {
  const all = await listOriginLines(db, workspaceId, gatherId)
  for (let at = 0; at < all.length; at += AT_ONCE) {
    signal?.throwIfAborted()
    const some = all.slice(at, at + AT_ONCE)
    const taken = await findTaken(
      db,
      workspaceId,
      some.map(({ origin }) => origin),
    )
    const known = some.filter(({ origin }) => taken.has(origin))
    const ids = known.map(({ id }) => id)
    const lines = ids.length === 0 ? [] : await loadGatherLines(db, workspaceId, gatherId, { ids })
    const brushes = await loadWholeBrushes(
      db,
      workspaceId,
      [...taken.values()].flatMap(({ brushId }) => brushId ?? []),
    )
    const found = lines.flatMap((line): FoundTaken[] => {
      const before = line.origin && taken.get(line.origin)
      if (!before || line.outcome === 'refuse') return []
      const standing = standingOf(line, before, before.brushId ? brushes.get(before.brushId) : undefined)
      return [{ id: line.id, taken: standing, outcome: standing.isStrange ? 'skip' : OUTCOMES[standing.standing] }]
    })
    // taken back since it was noted
    const gone = some.filter(({ origin, isNoted }) => isNoted && !taken.has(origin))
    found.push(...gone.map(({ id }): FoundTaken => ({ id, taken: null, outcome: 'take' })))
    await setLinesTaken(db, workspaceId, found)
  }
}

function standingOf(
  line: GatherLine,
  { base, release: had, signer }: TakenBrush,
  here: WholeBrush | undefined,
): LineTaken {
  if (!here) return { standing: 'removed', brushId: null, name: base.name, had, units: [] }
  const three = { base, mine: stateOfBrush(here), theirs: stateOfLine(line) }
  const merged = mergeThree(three)
  const isBack = isOlder(line.brush?.source?.release ?? '', had)
  const standing = here.deletedAt ? 'binned' : isBack && merged.standing !== 'same' ? 'older' : merged.standing
  const isStrange = signer !== '' && signer !== (line.brush?.source?.signer ?? '')
  const strange = isStrange ? { isStrange } : {}
  return { standing, brushId: here.id, name: three.mine.name, had, ...strange, units: tellUnits(three, merged) }
}
