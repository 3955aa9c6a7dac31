import { groupBy } from '@satchel/core/group-by'
import type { LaidOut, PuttingBack, Rack } from '@satchel/core/setup/rack'
import { and, asc, desc, eq, exists, gt, isNotNull, isNull, lte, or, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { isAnyOf } from './many.ts'
import { edition, gatherFile, handOut, pocket, pocketItem, rackSet, setupCard } from './schema/all.ts'
import type { OfferedCard } from './schema/setup-cards.ts'

/** Cards that are put back in one look. */
const CARDS_AT_ONCE = 100

export type SetCard = typeof setupCard.$inferSelect

/** A rack as setup cards see it: sets of its owner, and pockets with all of their entries. */
export async function loadRack(db: Db, workspaceId: string): Promise<Rack & { names: Map<string, string> }> {
  const sets = await db
    .select({ id: rackSet.id, isHidden: rackSet.hidden, name: rackSet.name })
    .from(rackSet)
    .where(and(eq(rackSet.workspaceId, workspaceId), isNull(rackSet.deletedAt), eq(rackSet.starter, false)))
    .orderBy(sql`${rackSet.position} collate "C"`)
  const pockets = await db
    .select({ id: pocket.id, name: pocket.name })
    .from(pocket)
    .where(and(eq(pocket.workspaceId, workspaceId), isNull(pocket.deletedAt)))
  const items = await db
    .select({
      pocketId: pocketItem.pocketId,
      id: pocketItem.id,
      brushId: pocketItem.brushId,
      sizePx: pocketItem.sizePx,
      label: pocketItem.label,
    })
    .from(pocketItem)
    .where(eq(pocketItem.workspaceId, workspaceId))
    .orderBy(sql`${pocketItem.position} collate "C"`)
  const byPocket = groupBy(items, ({ pocketId }) => pocketId)
  return {
    sets,
    pockets: pockets.map(({ id }) => ({
      id,
      entries: (byPocket.get(id) ?? []).map(({ pocketId: _, ...entry }) => entry),
    })),
    names: new Map([...sets, ...pockets].map(({ id, name }) => [id, name])),
  }
}

/** Lets one act at a time change a rack by cards. */
export const lockCards = async (tx: Db, workspaceId: string): Promise<void> => {
  await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${`setup cards ${workspaceId}`}))`)
}

export const hideSets = async (db: Db, workspaceId: string, ids: readonly string[], hidden: boolean): Promise<void> => {
  if (ids.length === 0) return
  await db
    .update(rackSet)
    .set({ hidden })
    .where(and(eq(rackSet.workspaceId, workspaceId), isAnyOf(rackSet.id, ids), eq(rackSet.starter, false)))
}

export async function addCard(db: Db, values: typeof setupCard.$inferInsert): Promise<string> {
  const [row] = await db.insert(setupCard).values(values).returning({ id: setupCard.id })
  if (!row) throw new Error('insert gave no row')
  return row.id
}

/** Cards that are laid out, the oldest first. */
export const listCardsInUse = (db: Db, workspaceId: string): Promise<SetCard[]> =>
  db
    .select()
    .from(setupCard)
    .where(and(eq(setupCard.workspaceId, workspaceId), isNull(setupCard.putBackAt)))
    .orderBy(asc(setupCard.laidAt), asc(setupCard.id))

/** Cards that were put back by themselves, of which the owner has not seen that yet. */
export const listCardsUnseen = (db: Db, workspaceId: string, since: Date): Promise<SetCard[]> =>
  db
    .select()
    .from(setupCard)
    .where(and(eq(setupCard.workspaceId, workspaceId), eq(setupCard.isSeen, false), gt(setupCard.putBackAt, since)))
    .orderBy(desc(setupCard.putBackAt))

export async function findCard(db: Db, workspaceId: string, id: string): Promise<SetCard | undefined> {
  const [row] = await db
    .select()
    .from(setupCard)
    .where(and(eq(setupCard.workspaceId, workspaceId), eq(setupCard.id, id)))
  return row
}

export async function setPutBack(
  db: Db,
  { workspaceId, id }: Pick<SetCard, 'workspaceId' | 'id'>,
  { putBack, isSeen }: { putBack: PuttingBack; isSeen: boolean },
): Promise<void> {
  await db
    .update(setupCard)
    .set({ putBackAt: new Date(), putBack, isSeen })
    .where(and(eq(setupCard.workspaceId, workspaceId), eq(setupCard.id, id)))
}

export async function setCardSeen(db: Db, workspaceId: string, id: string): Promise<boolean> {
  const rows = await db
    .update(setupCard)
    .set({ isSeen: true })
    .where(and(eq(setupCard.workspaceId, workspaceId), eq(setupCard.id, id), isNotNull(setupCard.putBackAt)))
    .returning({ id: setupCard.id })
  return rows.length > 0
}

/** Forgets cards of a ledger that is taken back. @returns What they have changed. */
export async function dropCardsOf(db: Db, workspaceId: string, gatherId: string): Promise<SetCard[]> {
  return db
    .delete(setupCard)
    .where(and(eq(setupCard.workspaceId, workspaceId), eq(setupCard.gatherId, gatherId)))
    .returning()
}

/** What laid-out cards hide and hold, but of one. */
export const laidBut = (cards: readonly SetCard[], id?: string): LaidOut[] =>
  cards.flatMap((card) => (card.id === id || card.putBackAt ? [] : [card.laid]))

/** Cards of all workspaces whose time is over: their own, or that of the link they came by, or of its class. */
export async function listCardsDue(db: Db, now: Date): Promise<Pick<SetCard, 'id' | 'workspaceId'>[]> {
  const isOver = exists(
    db
      .select({ id: handOut.id })
      .from(handOut)
      .leftJoin(edition, eq(edition.id, handOut.editionId))
      .where(
        and(
          eq(handOut.id, setupCard.handOutId),
          or(isNotNull(handOut.withdrawnAt), lte(handOut.endsAt, now), lte(edition.endsAt, now)),
        ),
      ),
  )
  return (
    db
      .select({ id: setupCard.id, workspaceId: setupCard.workspaceId })
      .from(setupCard)
      .where(and(isNull(setupCard.putBackAt), or(lte(setupCard.until, now), isOver)))
      // in any order: what cannot be put back is not always in front of the rest
      .orderBy(sql`random()`)
      .limit(CARDS_AT_ONCE)
  )
}

/** Notes a card that came in a file of a ledger. One of the same pack that was noted before, of a reading that broke off, goes. */
export async function addOfferedCard(
  db: Db,
  { workspaceId, id }: { workspaceId: string; id: string },
  card: OfferedCard,
): Promise<void> {
  await changeOffered(db, workspaceId, id, (cards) => [...cards.filter(({ key }) => key !== card.key), card])
}

/** Chooses a card to be laid out, or not. @returns Whether there is such a card. */
export async function chooseOffered(
  db: Db,
  { workspaceId, gatherId, fileId }: { workspaceId: string; gatherId: string; fileId: string },
  { key, isChosen }: Pick<OfferedCard, 'key' | 'isChosen'>,
): Promise<boolean> {
  const offered = await listOfferedCards(db, workspaceId, gatherId)
  if (!offered.some((each) => each.fileId === fileId && each.key === key)) return false
  return changeOffered(db, workspaceId, fileId, (cards) =>
    cards.map((card) => (card.key === key ? { ...card, isChosen } : card)),
  )
}

const changeOffered = (
  db: Db,
  workspaceId: string,
  fileId: string,
  change: (cards: OfferedCard[]) => OfferedCard[],
): Promise<boolean> =>
  db.transaction(async (tx) => {
    const one = and(eq(gatherFile.workspaceId, workspaceId), eq(gatherFile.id, fileId))
    const [row] = await tx.select({ cards: gatherFile.cards }).from(gatherFile).where(one).for('update')
    if (!row) return false
    await tx
      .update(gatherFile)
      .set({ cards: change(row.cards ?? []) })
      .where(one)
    return true
  })

/** Cards that came in the files of a ledger. @param hold Whether they stay as they are until the transaction ends. */
export async function listOfferedCards(db: Db, workspaceId: string, gatherId: string, { hold = false } = {}) {
  const asked = db
    .select({ fileId: gatherFile.id, cards: gatherFile.cards, handOutId: gatherFile.handOutId })
    .from(gatherFile)
    .where(and(eq(gatherFile.workspaceId, workspaceId), eq(gatherFile.gatherId, gatherId), isNotNull(gatherFile.cards)))
    .orderBy(asc(gatherFile.createdAt), asc(gatherFile.id))
  const rows = await (hold ? asked.for('update') : asked)
  return rows.flatMap(({ fileId, cards, handOutId }) => (cards ?? []).map((card) => ({ fileId, handOutId, ...card })))
}
