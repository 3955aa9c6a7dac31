import { isSameValue } from '@satchel/core/brush/same-value'
import { FRAMES_MAX } from '@satchel/core/limits'
import { nameKept } from '@satchel/core/same/name-kept'
import { planMoves } from '@satchel/core/same/places'
import { holdBrushes, insertAct, lockActs, NOTHING_DONE } from '../db/acts.ts'
import { binBrushes } from '../db/brush-bin.ts'
import { type CoverNames, holdCovers, holdPlans, setCoverNames, setPlan } from '../db/brush-names.ts'
import { carryOutMoves, PLACES, storedMoves } from '../db/brush-places.ts'
import { setTip } from '../db/brush-tips.ts'
import type { Db } from '../db/database.ts'
import { PLACE_KINDS } from '../db/schema/acts.ts'
import type { ActDone } from '../db/schema/all.ts'
import { loadWholeBrushes, type WholeBrush } from '../db/taken.ts'
import type { Deps } from '../deps.ts'
import { Refusal } from '../errors.ts'
import { toPixelKey } from '../workers/read-tip.ts'

/** A brush that is kept, and those whose uses it takes over. */
export type Keeping = { kept: string; gone: readonly string[] }
/** An act that was done, and how many brushes it has changed. */
export type Act = { id: string; said: string; changed: number }

/**
 * Keeps one brush of each group: wherever the others stand, it stands instead, and they go to the bin. No release changes.
 * @param asFrames Whether the pictures of the others become frames of it, behind its own.
 */
export async function keepOne(
  deps: Pick<Deps, 'db'>,
  workspaceId: string,
  groups: readonly Keeping[],
  { said, asFrames = false }: { said: string; asFrames?: boolean },
): Promise<Act> {
  const keptOf = new Map(groups.flatMap(({ kept, gone }) => gone.map((id) => [id, kept] as const)))
  const ids = [...new Set(groups.flatMap(({ kept, gone }) => [kept, ...gone]))]
  const named = groups.reduce((sum, { gone }) => sum + 1 + gone.length, 0)
  if (ids.length !== named)
    throw new Refusal('unfit', 'A brush can go only once, and one that is kept stays; choose again what is kept.')
  return deps.db.transaction(async (tx) => {
    await lockActs(tx, workspaceId)
    await holdLive(tx, workspaceId, ids)
    const done: ActDone = { ...NOTHING_DONE, moves: [], covers: [], editions: [], versions: [] }
    if (asFrames) done.versions.push(...(await joinFrames(tx, workspaceId, groups)))
    for (const kind of PLACE_KINDS) {
      const places = await PLACES[kind].load(tx, workspaceId, ids)
      const moves = storedMoves(places, planMoves(places, keptOf))
      await carryOutMoves(tx, workspaceId, kind, moves)
      if (moves.length > 0) done.moves.push({ kind, moves })
    }
    for (const { id, ...before } of await holdCovers(tx, workspaceId)) {
      const after = coverWith(before, keptOf)
      if (isSameValue(before, after)) continue
      await setCoverNames(tx, workspaceId, id, after)
      done.covers.push({ id, before, after })
    }
    for (const { id, plan } of await holdPlans(tx, workspaceId)) {
      const after = nameKept(plan, keptOf)
      if (isSameValue(plan, after)) continue
      await setPlan(tx, workspaceId, id, after)
      done.editions.push({ id, before: plan, after })
    }
    done.binned = [...keptOf.keys()]
    await binBrushes(tx, workspaceId, done.binned, true)
    return { id: await insertAct(tx, workspaceId, said, done), said, changed: done.binned.length }
  })
}

/** @throws {Refusal} Where one of them is in the bin by now, gone, or came with the product. */
async function holdLive(tx: Db, workspaceId: string, ids: readonly string[]): Promise<void> {
  if ((await holdBrushes(tx, workspaceId, ids)) === ids.length) return
  throw new Refusal(
    'clash',
    'Some of these brushes are not in the library any more; nothing was changed. Look at the groups as they are now.',
  )
}

const coverWith = ({ coverBrushId, cover }: CoverNames, keptOf: ReadonlyMap<string, string>): CoverNames => ({
  coverBrushId: coverBrushId && (keptOf.get(coverBrushId) ?? coverBrushId),
  cover: cover && {
    ...cover,
    strokes: cover.strokes.map((stroke) => ({ ...stroke, brushId: keptOf.get(stroke.brushId) ?? stroke.brushId })),
  },
})

/** Gives each kept brush the pictures of the others as frames, as a version more. */
async function joinFrames(tx: Db, workspaceId: string, groups: readonly Keeping[]): Promise<ActDone['versions']> {
  const versions: ActDone['versions'] = []
  for (const { kept, gone } of groups) {
    const brushes = await loadWholeBrushes(tx, workspaceId, [kept, ...gone])
    const all = [kept, ...gone].flatMap((id) => brushes.get(id) ?? [])
    const [first] = all
    if (!first) throw new Error('a brush that is held is not there')
    const frames = all.flatMap((one) => one.frames.map((frame) => ({ ...frame, name: frame.name || nameOf(one) })))
    if (frames.length > FRAMES_MAX)
      throw new Refusal(
        'tooMuch',
        `An animated tip has at most ${FRAMES_MAX} frames; these would be ${frames.length}. Choose fewer.`,
      )
    if (all.some(({ snapshot }) => snapshot.recipe.path.ribbon || first.snapshot.recipe.path.ribbon))
      throw new Refusal('unfit', 'A strip has no frames; choose brushes that stamp.')
    const other = all.find(({ snapshot }) => readingOf(snapshot) !== readingOf(first.snapshot))
    if (other)
      throw new Refusal(
        'unfit',
        `"${nameOf(other)}" and "${nameOf(first)}" are read in two ways, so they cannot be frames of one; give both the same reading first.`,
      )
    const tip = { frames, pixelKey: toPixelKey(frames.map((frame) => frame.pixelSha)), alikeKey: null, alikeMark: null }
    const version = await setTip(tx, workspaceId, kept, { tip, from: first.version })
    if (version === undefined) throw new Error('a brush that is held has moved on')
    versions.push({ id: kept, from: first.version, to: version })
  }
  return versions
}

const nameOf = ({ snapshot }: WholeBrush) => snapshot.name
const readingOf = ({ recipe }: WholeBrush['snapshot']) => recipe.colour.reading
