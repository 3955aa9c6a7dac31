import { randomUUID } from 'node:crypto'
import { dayAt } from '@satchel/core/editions/moments'
import { type EditionPlan, wholePlan } from '@satchel/core/editions/plan'
import { MAIL_KINDS } from '@satchel/core/mail/template'
import type { Part } from '@satchel/core/pack/parts'
import { eq } from 'drizzle-orm'
import type { AppDeps } from '../app-deps.ts'
import { keepDownload, takeDownload } from '../db/deliveries.ts'
import { keepHandOutNote } from '../db/hand-out-notes.ts'
import { findPack } from '../db/packs.ts'
import { delivery, handOut as handOutTable, release as releaseTable } from '../db/schema/all.ts'
import { createEdition } from '../hand-out/editions.ts'
import { createHandOuts } from '../hand-out/hand-outs.ts'
import { createToken, hashToken } from '../hand-out/token.ts'
import { writeMails } from '../mail/write-mails.ts'

/** The brushes of a set, by its name. */
type InSet = (name: string) => string[]

/** The apps that the class paints in. */
export const MEANT_FOR = ['dunlin', 'shearwater'] as const

/** Who is in the evening class, none of them a real person; and what they have fetched so far. */
const CLASS: readonly [name: string, note: string, fetched: 'both' | 'first' | 'newest' | 'nothing'][] = [
  ['Brine Aldershaw', '', 'both'],
  ['Corrie Sandling', 'left hand', 'first'],
  ['Dunna Wick', '', 'first'],
  ['Ebba Lowtide', 'on a phone', 'newest'],
  ['Fenn Merrow', '', 'nothing'],
  ['Hale Saltgrass', '', 'both'],
  ['Isle Quickreed', 'joined late', 'newest'],
  ['Jory Wrackham', '', 'nothing'],
  ['Kit Mudlark', '', 'first'],
  ['Lune Estuary', '', 'nothing'],
]

/** Whose mail comes back. */
const MOVED = 'Kit Mudlark'

/** The class goes in its third week: when the releases were made, and when the links were given. */
const RELEASED_DAYS = [21, 9, 8] as const
const GIVEN_DAYS = 17
const DAY_MS = 86_400_000
const before = (days: number) => new Date(Date.now() - days * DAY_MS)

/** Most came in the first days; the newer release was fetched in the week after it was out. */
function daysAgo(name: string, isNewest: boolean): number {
  const at = CLASS.findIndex(([each]) => each === name)
  return isNewest ? RELEASED_DAYS[2] - 1 - (at % 6) : GIVEN_DAYS - ((at * at) % 7)
}

/** Every second of them paints in the second app. */
function partFor(name: string): { part: Part; app: string } {
  const at = CLASS.findIndex(([each]) => each === name) % MEANT_FOR.length
  const id = MEANT_FOR[at] ?? MEANT_FOR[0]
  return { part: { as: { kind: 'app', id }, of: { kind: 'all' } }, app: APP_NAMES[id] }
}
const APP_NAMES = { dunlin: 'Dunlin', shearwater: 'Shearwater' }

const CLASS_NAME = 'Shoreline Sketching, evening class'
const CLASS_ZONE = 'Europe/Amsterdam'
/** Its evenings: how many days they are away, and which set each opens. */
const EVENINGS: readonly [inDays: number, title: string, set: string | undefined][] = [
  [-16, 'Feathers at rest', undefined],
  [-9, 'Wrack after a storm', 'Kelp & Wrack'],
  [-2, 'Harbour lines', 'Ropework'],
  [5, 'Sand in two layers', 'Wet Sand Grains'],
  [12, 'One page, all of it', undefined],
]

/** The class kit: each evening opens a set, and the harbour is closed again, so that somebody tries it without. */
function planOf(inSet: InSet): EditionPlan {
  const dayIn = (days: number) => dayAt(before(-days), CLASS_ZONE)
  return {
    ...wholePlan(),
    notes: 'Five evenings between the tides. What an evening opens stays open, but for the ropes.',
    kit: {
      zone: CLASS_ZONE,
      lastDay: dayIn(40),
      lessons: EVENINGS.map(([days, title, set]) => ({
        ...{ id: randomUUID(), title, day: dayIn(days), at: '18:30' },
        brushes: set === undefined ? [] : inSet(set),
        closes: set === 'Ropework' ? { day: dayIn(days + 14), at: '18:30' } : null,
      })),
    },
  }
}

/** The class has links that give each newer release, evening by evening. */
export async function handToClass(
  deps: AppDeps,
  {
    workspaceId,
    packId,
    inSet,
    first,
    recalled,
    newest,
  }: { workspaceId: string; packId: string; inSet: InSet; first: string; recalled: string; newest: string },
): Promise<void> {
  const { db, links, mailing } = deps
  const people = CLASS.map(([name, note]) => ({
    ...{ name, note },
    email: `${name.toLowerCase().replace(' ', '.')}@${name === MOVED ? 'gone' : 'saltmarsh'}.example`,
  }))
  const { id: editionId } = await createEdition(db, workspaceId, packId, { name: CLASS_NAME, plan: planOf(inSet) })
  const terms = { releaseId: first, endsAt: null, downloadLimit: null, follows: true, editionId }
  const batchId = randomUUID()
  const handOuts = await createHandOuts({ db, links }, workspaceId, { packId, people, batchId, ...terms })
  const FETCHED = { both: [first, newest], first: [first], newest: [newest], nothing: [] }
  for (const handOut of handOuts)
    for (const releaseId of FETCHED[CLASS.find(([name]) => name === handOut.name)?.[2] ?? 'nothing']) {
      const grantHash = hashToken(createToken())
      await takeDownload(db, handOut, { grantHash, releaseId, ...(releaseId === newest ? partFor(handOut.name) : {}) })
      await keepDownload(db, handOut, grantHash)
      const days = daysAgo(handOut.name, releaseId === newest)
      await db
        .update(delivery)
        .set({ at: before(days) })
        .where(eq(delivery.grantHash, grantHash))
    }
  await db
    .update(handOutTable)
    .set({ createdAt: before(GIVEN_DAYS) })
    .where(eq(handOutTable.batchId, batchId))
  for (const [at, id] of [first, recalled, newest].entries())
    await db
      .update(releaseTable)
      .set({ createdAt: before(RELEASED_DAYS[at] ?? 0) })
      .where(eq(releaseTable.id, id))
  const pack = await findPack(db, workspaceId, packId)
  if (mailing && pack) {
    const ids = handOuts.map(({ id }) => id)
    await writeMails(deps, pack, {
      kind: 'link',
      template: MAIL_KINDS.link,
      ids,
      actId: randomUUID(),
      zone: CLASS_ZONE,
    })
  }
  const asking = handOuts.find(({ name }) => name === 'Isle Quickreed')
  if (!asking) return
  const text = 'Kelp edge comes out straight on my tablet, without its bends. The others are lovely.'
  const note = { workspaceId, handOutId: asking.id, releaseId: newest, app: APP_NAMES.dunlin, text }
  await keepHandOutNote(db, { ...note, sentId: randomUUID() })
}
