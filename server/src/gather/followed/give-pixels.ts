import type { PaintReading, Recipe } from '@satchel/core/brush/recipe'
import { insertAct, NOTHING_DONE } from '../../db/acts.ts'
import { setTip } from '../../db/brush-tips.ts'
import { loadCurrent } from '../../db/change-brushes.ts'
import type { Db } from '../../db/database.ts'
import { changeAct, findDayAct, setDayAct } from '../../db/followed.ts'
import { loadTipKeys } from '../../db/followed-brushes.ts'
import type { GatherLine } from '../../db/gathers.ts'
import type { ActDone } from '../../db/schema/all.ts'

/** New pixels for a brush, out of a file that was read. */
export type Gift = { brushId: string; line: GatherLine; readingBefore: PaintReading }
export type OfDay = { folderId: string; day: string; name: string }

/**
 * Gives brushes the pixels that their files hold by now, each as a new version; all else of them stays. Those in the bin, and those that have these pixels
 * already, stay as they are. All of a day's are one act. Ask within a transaction that holds the folder.
 * @returns How many brushes have new pixels.
 */
export async function givePixels(tx: Db, workspaceId: string, gifts: readonly Gift[], of: OfDay): Promise<number> {
  const ids = gifts.map(({ brushId }) => brushId)
  const current = await loadCurrent(tx, workspaceId, ids, { hold: true })
  const keys = await loadTipKeys(tx, workspaceId, ids)
  const versions: ActDone['versions'] = []
  for (const { brushId, line, readingBefore } of gifts) {
    const brush = current.get(brushId)
    if (!brush || !line.pixelKey || !line.brush) continue
    const { reading } = line.brush.recipe.colour
    if (keys.get(brushId) === line.pixelKey && reading === readingBefore) continue
    const { frames, pixelKey, alikeKey, alikeMark } = line
    const read = (recipe: Recipe): Recipe =>
      reading === readingBefore ? recipe : { ...recipe, colour: { ...recipe.colour, reading } }
    const wish = { tip: { frames, pixelKey, alikeKey, alikeMark }, from: brush.version, change: read }
    const to = await setTip(tx, workspaceId, brushId, wish)
    if (to === undefined) continue
    versions.push({ id: brushId, from: brush.version, to })
    // a second gift to the same brush goes on from here
    current.set(brushId, { ...brush, version: to })
    keys.set(brushId, pixelKey)
  }
  if (versions.length > 0) await noteInAct(tx, workspaceId, versions, of)
  return new Set(versions.map(({ id }) => id)).size
}

/**
 * Adds versions to the act of a day. Where a brush goes on from the version that the act brought it to, both are one step;
 * where somebody has changed it in between, only what came after that can be taken back.
 */
async function noteInAct(tx: Db, workspaceId: string, versions: ActDone['versions'], { name, ...day }: OfDay) {
  const act = await findDayAct(tx, workspaceId, day)
  const of = new Map(act?.done.versions.map((each) => [each.id, each]))
  for (const { id, from, to } of versions) {
    const before = of.get(id)
    of.set(id, { id, from: before?.to === from ? before.from : from, to })
  }
  const done = { ...(act?.done ?? NOTHING_DONE), versions: [...of.values()] }
  const said = `"${name}": ${of.size === 1 ? '1 brush has' : `${of.size} brushes have`} new pixels`
  if (act) await changeAct(tx, workspaceId, act.id, { said, done })
  else await setDayAct(tx, workspaceId, day, await insertAct(tx, workspaceId, said, done))
}
