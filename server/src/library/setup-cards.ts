import { groupBy } from '@satchel/core/group-by'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import { type PuttingBack, planPutBack, setsToHide } from '@satchel/core/setup/rack'
import type { AppDeps } from '../app-deps.ts'
import type { Db } from '../db/database.ts'
import type { GatherLine } from '../db/gathers.ts'
import { createPocket, insertItems, listPocketNames, removePocketItems, updatePocket } from '../db/pockets.ts'
import {
  addCard,
  dropCardsOf,
  findCard,
  hideSets,
  laidBut,
  listCardsDue,
  listCardsInUse,
  type listOfferedCards,
  loadRack,
  lockCards,
  type SetCard,
  setPutBack,
} from '../db/setup-cards.ts'
import { findBrushIds } from '../db/taken.ts'
import { lookAgain } from '../look-again.ts'

const LOOK_MS = 5_000

type Laying = {
  chosen: Awaited<ReturnType<typeof listOfferedCards>>
  /** The brushes that lines have become, by the ids of the lines. */
  newIds: ReadonlyMap<string, string>
  /** Where the sets of packs went: by the pack's key, and there by the set's name. */
  homes: ReadonlyMap<string, ReadonlyMap<string, string>>
}

/**
 * Lays out the cards of a ledger that were chosen: a pocket of its own for each of a pack's, and sets out of sight.
 * @param lines All of the ledger: what was passed over may be here already.
 * @returns The ids of what was laid out: cards, and pockets of theirs.
 */
export async function layOutCards(
  tx: Db,
  { workspaceId, gatherId }: { workspaceId: string; gatherId: string },
  lines: readonly GatherLine[],
  { chosen, newIds, homes }: Laying,
): Promise<{ cards: string[]; pockets: string[] }> {
  const made = { cards: [] as string[], pockets: [] as string[] }
  if (chosen.length === 0) return made
  await lockCards(tx, workspaceId)
  const here = await findBrushIds(
    tx,
    workspaceId,
    lines.flatMap(({ origin }) => origin ?? []),
  )
  const brushOf = (line: GatherLine) => newIds.get(line.id) ?? here.get(line.origin ?? '')
  for (const { key, fileId, title, setup, pockets, handOutId } of chosen) {
    const own = lines.filter((line) => line.fileId === fileId && line.brush?.source?.key === key)
    const laidPockets: string[] = []
    const entries = entriesOf(own, brushOf)
    for (const name of new Set(pockets.map((pocket) => pocket.name))) {
      const some = entries.get(name) ?? []
      if (some.length === 0) continue
      const pocketId = await createPocket(tx, workspaceId, { name: await freeName(tx, workspaceId, name) })
      await insertItems(tx, workspaceId, pocketId, some)
      laidPockets.push(pocketId)
    }
    const rack = await loadRack(tx, workspaceId)
    const inUse = laidBut(await listCardsInUse(tx, workspaceId))
    const hidden = setup ? setsToHide(setup, rack, homes.get(key) ?? new Map(), inUse) : []
    await hideSets(tx, workspaceId, hidden, true)
    const until = setup?.until ? new Date(setup.until) : null
    const ownPockets = rack.pockets.flatMap(({ id, entries: some }) =>
      laidPockets.includes(id) ? [{ id, entries: [...some] }] : [],
    )
    const laid = { hidden, pockets: ownPockets }
    made.pockets.push(...laidPockets)
    made.cards.push(await addCard(tx, { workspaceId, gatherId, title, until, handOutId, laid }))
  }
  return made
}

/** What lies in each pocket of a pack, in order. */
function entriesOf(lines: readonly GatherLine[], brushOf: (line: GatherLine) => string | undefined) {
  const pins = lines.flatMap((line) => {
    const brushId = brushOf(line)
    return brushId ? (line.brush?.pins ?? []).map((pin) => ({ ...pin, brushId })) : []
  })
  pins.sort((a, b) => a.at - b.at)
  const byPocket = groupBy(pins, ({ pocket }) => pocket)
  return new Map(
    [...byPocket].map(([name, some]) => [name, some.map(({ brushId, sizePx, label }) => ({ brushId, sizePx, label }))]),
  )
}

/** A name that no pocket has yet: a card's pocket is never one that is there. */
async function freeName(tx: Db, workspaceId: string, name: string): Promise<string> {
  const taken = new Set((await listPocketNames(tx, workspaceId)).map((each) => each.toLowerCase()))
  for (let n = 1; ; n++) {
    const end = n === 1 ? '' : ` ${n}`
    // no longer than a name may be: else no pack could take it along
    const wanted = [...name].slice(0, NAME_MAX_CHARS - end.length).join('') + end
    if (!taken.has(wanted.toLowerCase())) return wanted
  }
}

/** What putting a card back would do now. */
export async function planOf(db: Db, card: SetCard): Promise<PuttingBack & { names: Map<string, string> }> {
  const { names, ...rack } = await loadRack(db, card.workspaceId)
  const others = laidBut(await listCardsInUse(db, card.workspaceId), card.id)
  return { ...planPutBack(card.laid, rack, others), names }
}

async function carryOut(tx: Db, workspaceId: string, { shows, removes, putsAway }: PuttingBack): Promise<void> {
  await hideSets(tx, workspaceId, shows, false)
  await removePocketItems(tx, workspaceId, removes)
  for (const id of putsAway) await updatePocket(tx, workspaceId, id, { deletedAt: new Date() })
}

/**
 * Puts a card back: the rack is as it was before, but for what was changed since.
 * @param isSeen Whether somebody asked for it; else it is told when its owner comes.
 * @returns What was done; undefined where there is no such card, or it was put back before.
 */
export async function putCardBack(
  db: Db,
  workspaceId: string,
  id: string,
  { isSeen }: { isSeen: boolean },
): Promise<PuttingBack | undefined> {
  return db.transaction(async (tx) => {
    await lockCards(tx, workspaceId)
    const card = await findCard(tx, workspaceId, id)
    if (!card || card.putBackAt) return undefined
    const { names: _, ...putBack } = await planOf(tx, card)
    await carryOut(tx, workspaceId, putBack)
    await setPutBack(tx, card, { putBack, isSeen })
    return putBack
  })
}

/** Puts back what the cards of a ledger did that is taken back, and forgets them. */
export async function undoCards(tx: Db, workspaceId: string, gatherId: string): Promise<void> {
  await lockCards(tx, workspaceId)
  for (const card of await dropCardsOf(tx, workspaceId, gatherId)) {
    if (card.putBackAt) continue
    const { names: _, ...putBack } = await planOf(tx, card)
    await carryOut(tx, workspaceId, putBack)
  }
}

/**
 * Puts cards back whose time is over, on whichever server they are.
 * @returns How to stop looking.
 */
export function keepCards({ db, events, log }: Pick<AppDeps, 'db' | 'events' | 'log'>): () => void {
  const look = async () => {
    for (const { id, workspaceId } of await listCardsDue(db, new Date())) {
      // one that cannot be put back holds up no other
      try {
        if (!(await putCardBack(db, workspaceId, id, { isSeen: false }))) continue
        await events.publish({ workspaceId, topic: 'library' })
        await events.publish({ workspaceId, topic: 'pockets' })
      } catch (error) {
        log.error({ err: error, card: id }, 'a setup card could not be put back')
      }
    }
  }
  return lookAgain(LOOK_MS, look, (error) => log.error({ err: error }, 'setup cards'))
}
