import { isSameValue } from '@satchel/core/brush/same-value'
import { planReturn } from '@satchel/core/same/places'
import { holdAct, lockActs, noteUndone } from '../db/acts.ts'
import { binBrushes } from '../db/brush-bin.ts'
import { holdCovers, holdPlans, setCoverNames, setPlan } from '../db/brush-names.ts'
import { carryOutReturn, listBrushesThere, PLACES } from '../db/brush-places.ts'
import { askAgain, setTogether } from '../db/same-marks.ts'
import { goBack } from '../db/save-brush.ts'
import type { Deps } from '../deps.ts'
import { Refusal } from '../errors.ts'

/** What taking an act back came to: how many of its changes stay, since something else was done there since. */
export type Undone = { stayed: number }

/** Takes an act on many brushes back, all of it that was not changed since. */
export async function undoAct(deps: Pick<Deps, 'db'>, workspaceId: string, id: string): Promise<Undone> {
  return deps.db.transaction(async (tx) => {
    await lockActs(tx, workspaceId)
    const act = await holdAct(tx, workspaceId, id)
    if (!act) throw new Refusal('clash', 'This was taken back already, or is too long ago; nothing was changed.')
    const { binned, moves, covers, editions, versions, kept, apart } = act.done
    let stayed = 0
    await binBrushes(tx, workspaceId, binned, false)
    const back = await goBack(tx, workspaceId, versions.map(({ id, from, to }) => ({ id, from: to, to: from }))) // biome-ignore format: from and to change places
    stayed += versions.length - back.size
    const all = moves.flatMap(({ moves }) => moves.flatMap(({ brush, to }) => (to ? [brush, to] : [brush])))
    const there = await listBrushesThere(tx, workspaceId, [...new Set(all)])
    for (const { kind, moves: made } of moves) {
      const ours = made.filter(({ brush }) => there.has(brush))
      const now = await PLACES[kind].load(tx, workspaceId, [...new Set(ours.flatMap(({ brush, to }) => (to ? [brush, to] : [brush])))]) // biome-ignore format: one question
      const plan = planReturn(now, ours)
      await carryOutReturn(tx, workspaceId, kind, ours, plan)
      stayed += made.length - plan.back.length - plan.again.length
    }
    const coversNow = new Map((await holdCovers(tx, workspaceId)).map(({ id, ...names }) => [id, names]))
    for (const { id, before, after } of covers) {
      if (isSameValue(coversNow.get(id), after)) await setCoverNames(tx, workspaceId, id, before)
      else stayed++
    }
    const plansNow = new Map((await holdPlans(tx, workspaceId)).map(({ id, plan }) => [id, plan]))
    for (const { id, before, after } of editions) {
      if (isSameValue(plansNow.get(id), after)) await setPlan(tx, workspaceId, id, before)
      else stayed++
    }
    await askAgain(tx, workspaceId, kept)
    await setTogether(tx, workspaceId, apart)
    await noteUndone(tx, workspaceId, id)
    return { stayed }
  })
}
