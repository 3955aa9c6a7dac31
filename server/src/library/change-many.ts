import { setImmediate as breathe } from 'node:timers/promises'
import type { Recipe } from '@satchel/core/brush/recipe'
import { type PartChange, recipeDifference } from '@satchel/core/brush/recipe-difference'
import {
  amountOfChange,
  applyChange,
  CANNOT,
  type Cannot,
  type Change,
  type Changeable,
  sayChange,
} from '@satchel/core/many/change'
import { insertAct, lockActs, NOTHING_DONE } from '../db/acts.ts'
import { type CurrentBrush, loadCurrent } from '../db/change-brushes.ts'
import type { Db } from '../db/database.ts'
import { type BrushSave, saveBrushes } from '../db/save-brush.ts'
import type { ActDone } from '../db/schema/all.ts'
import type { BrushSnapshot, StoredThumbnail } from '../db/schema/library.ts'
import type { Deps } from '../deps.ts'
import { Refusal } from '../errors.ts'
import type { Act } from './keep-one.ts'

/** Brushes that are read and written by one statement. */
const AT_ONCE = 500
/** Of these so many are worked out at once: others are answered between one part and the next. */
const SLICE = 100
/** Brushes that a look shows the strokes of: those that would change most. */
const SHOWN = 6
/** Names that a look shows, as they are and as they would be. */
const NAMES_SHOWN = 8
const NAMED = 3

/** A brush that a change would change, and how. */
type Shown = { id: string; name: string; version: number; amount: number; isSeen: boolean; told: PartChange[] }

/** What a change would come to. */
export type Look = {
  changes: number
  /** Those that are so already. */
  same: number
  /** Of those that change: whose number was held at the end of its range. */
  held: number
  cannot: { why: string; count: number; names: string[] }[]
  most: Shown[]
  names: { from: string; to: string }[]
}

/** What one brush becomes, or why not; nothing where it stays as it is. */
type Outcome = { brush: CurrentBrush } & ({ snapshot: BrushSnapshot; was: Changeable; is: Changeable; isHeld: boolean } | { cannot: Cannot } | { same: true }) // biome-ignore format: a union

/** All brushes of a choice with what a change makes of them, part after part. */
async function* outcomes(
  db: Db,
  workspaceId: string,
  { ids, change }: { ids: readonly string[]; change: Change },
  hold = false,
): AsyncGenerator<Outcome[]> {
  const lender = await lenderOf(db, workspaceId, change)
  const all = [...new Set(ids)]
  for (let at = 0; at < all.length; at += AT_ONCE) {
    const some = all.slice(at, at + AT_ONCE)
    const brushes = await loadCurrent(db, workspaceId, some, { hold })
    const found: Outcome[] = []
    for (const [i, id] of some.entries()) {
      const brush = brushes.get(id)
      const standing = { number: at + i + 1, total: all.length }
      if (brush) found.push(outcomeOf(brush, change, { frames: brush.frames, ...standing }, lender))
      if (i % SLICE === SLICE - 1) await breathe()
    }
    yield found
  }
}

function outcomeOf(
  brush: CurrentBrush,
  change: Change,
  standing: { frames: number; number: number; total: number },
  lender: Recipe | undefined,
): Outcome {
  const { snapshot } = brush
  const was: Changeable = snapshot
  const changed = applyChange(was, change, standing, lender)
  if ('cannot' in changed) return { brush, cannot: changed.cannot }
  if (changed.to === was) return { brush, same: true }
  const { name, maker, licence, tags, recipe } = changed.to
  // a picture of its own stays with the brush, unless it is to be shown by something else
  const thumbnail = change.kind === 'thumbnail' ? (changed.to.thumbnail as StoredThumbnail) : snapshot.thumbnail
  const next = { ...snapshot, name, maker, licence, tags: [...tags], recipe, thumbnail }
  return { brush, snapshot: next, was, is: changed.to, isHeld: changed.isHeld === true }
}

async function lenderOf(db: Db, workspaceId: string, change: Change): Promise<Recipe | undefined> {
  if (change.kind !== 'parts') return undefined
  const lender = (await loadCurrent(db, workspaceId, [change.brushId])).get(change.brushId)
  if (!lender)
    throw new Refusal('gone', 'The brush that parts are taken from is not in the library any more; choose another.')
  return lender.snapshot.recipe
}

type Wish = { ids: readonly string[]; change: Change }

/** Tells what a change would come to, without changing anything. */
export async function lookAtChange({ db }: Pick<Deps, 'db'>, workspaceId: string, wish: Wish): Promise<Look> {
  const look: Look = { changes: 0, same: 0, held: 0, cannot: [], most: [], names: [] }
  for await (const some of outcomes(db, workspaceId, wish)) {
    for (const outcome of some) {
      const { id, version, snapshot } = outcome.brush
      if ('cannot' in outcome) noteCannot(look, outcome.cannot, snapshot.name)
      else if ('same' in outcome) look.same++
      else {
        const { was, is, isHeld } = outcome
        look.changes++
        if (isHeld) look.held++
        if (is.name !== was.name && look.names.length < NAMES_SHOWN) look.names.push({ from: was.name, to: is.name })
        const amount = amountOfChange(was, is)
        const told = recipeDifference(was.recipe, is.recipe)
        look.most.push({ id, name: was.name, version, amount, isSeen: told.length > 0, told })
      }
    }
    look.most = look.most.sort((a, b) => b.amount - a.amount).slice(0, SHOWN)
  }
  return look
}

function noteCannot({ cannot }: Look, why: Cannot, name: string): void {
  const said = CANNOT[why]
  const known = cannot.find((each) => each.why === said)
  if (!known) cannot.push({ why: said, count: 1, names: [name] })
  else {
    known.count++
    if (known.names.length < NAMED) known.names.push(name)
  }
}

/** The recipe that a change makes of a brush's; its own where it would stay as it is. */
export async function changedRecipe(
  { db }: Pick<Deps, 'db'>,
  workspaceId: string,
  { id, change }: { id: string; change: Change },
): Promise<Recipe | undefined> {
  for await (const [outcome] of outcomes(db, workspaceId, { ids: [id], change }))
    return outcome && ('snapshot' in outcome ? outcome.snapshot.recipe : outcome.brush.snapshot.recipe)
  return undefined
}

/**
 * Changes many brushes, as a version more of each and as one act. Those that are in the bin by now, are so already or cannot be
 * changed stay as they are.
 */
export async function changeMany({ db }: Pick<Deps, 'db'>, workspaceId: string, wish: Wish): Promise<Act> {
  return db.transaction(async (tx) => {
    await lockActs(tx, workspaceId)
    const versions: ActDone['versions'] = []
    for await (const some of outcomes(tx, workspaceId, wish, true)) {
      const saves = some.flatMap((outcome): BrushSave[] =>
        'snapshot' in outcome
          ? [{ id: outcome.brush.id, from: outcome.brush.version, snapshot: outcome.snapshot }]
          : [],
      )
      const saved = await saveBrushes(tx, workspaceId, saves)
      versions.push(...saves.flatMap(({ id, from }) => (saved.has(id) ? [{ id, from, to: from + 1 }] : [])))
    }
    const count = versions.length
    if (count === 0) throw new Refusal('unfit', 'None of these brushes would become different; nothing was changed.')
    const said = `${count === 1 ? 'One brush' : `${count.toLocaleString('en')} brushes`}: ${sayChange(wish.change)}.`
    return { id: await insertAct(tx, workspaceId, said, { ...NOTHING_DONE, versions }), said, changed: count }
  })
}
