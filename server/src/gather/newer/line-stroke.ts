import type { Recipe } from '@satchel/core/brush/recipe'
import type { FileSha } from '@satchel/core/hashes'
import { decide, UNDECIDED } from '@satchel/core/newer/merge'
import type { Db } from '../../db/database.ts'
import { findGatherLine } from '../../db/gather-lines.ts'
import { findGrain } from '../../db/materials.ts'
import { findTaken, loadWholeBrushes } from '../../db/taken.ts'
import { stateOfBrush, stateOfLine } from './states.ts'

/** A brush that was changed here and by its maker: as it is here, as they give it, and as it comes out by what was decided. */
export const LINE_STROKES = ['mine', 'theirs', 'result'] as const

/** With what the stroke of such a line is painted; of one that is new here there is only its maker's. */
export async function findLineStroke(
  db: Db,
  workspaceId: string,
  { gatherId, lineId, of }: { gatherId: string; lineId: string; of: (typeof LINE_STROKES)[number] },
): Promise<{ recipe: Recipe; frames: FileSha[]; grain: FileSha | undefined } | undefined> {
  const line = await findGatherLine(db, workspaceId, lineId)
  if (line?.gatherId !== gatherId || !line.brush) return undefined
  const theirs = stateOfLine(line)
  const own = { recipe: theirs.recipe, frames: line.frames.map(({ blobSha }) => blobSha), grain: line.grain?.blobSha }
  if (of === 'theirs') return own
  const before = line.origin === null ? undefined : (await findTaken(db, workspaceId, [line.origin])).get(line.origin)
  const here = before?.brushId && (await loadWholeBrushes(db, workspaceId, [before.brushId])).get(before.brushId)
  if (!before || !here) return undefined
  const mine = stateOfBrush(here)
  const ofMine = { result: mine, from: { pictures: 'mine' as const } }
  const decision = line.decision ?? UNDECIDED
  const { result, from } = of === 'mine' ? ofMine : decide({ base: before.base, mine, theirs }, decision)
  const frames = from.pictures === 'theirs' ? own.frames : here.frames.map(({ blobSha }) => blobSha)
  const wanted = result.recipe.ground.grain?.sha256
  const grain = wanted === line.grain?.pixelSha ? own.grain : (await findGrain(db, workspaceId, wanted))?.blobSha
  return { recipe: result.recipe, frames, grain }
}
