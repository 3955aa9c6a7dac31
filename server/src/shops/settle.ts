import { MAIL_KINDS, type MailKind } from '@satchel/core/mail/template'
import { personKey } from '@satchel/core/people/read-people'
import type { AppDeps } from '../app-deps.ts'
import { insertAuditLines } from '../db/audit.ts'
import { prepareEditions } from '../db/editions.ts'
import { insertBatch } from '../db/hand-outs.ts'
import { listTemplates } from '../db/mails.ts'
import { findPack } from '../db/packs.ts'
import { ensureRecipients } from '../db/recipients.ts'
import { listToGive, listToTell, type OpenPurchase, setGiven, setTold, takeBackRefunded } from '../db/shops.ts'
import { createLink } from '../hand-out/hand-outs.ts'
import { lookAgain } from '../look-again.ts'
import { writeMails } from '../mail/write-mails.ts'

type Needed = Pick<AppDeps, 'db' | 'links' | 'jobs' | 'origin' | 'events' | 'log' | 'mailing' | 'stopping'>

const LOOK_MS = 5000

/**
 * Does what purchases stand open for: gives what was bought, takes back what was refunded, writes to buyers of what they have and of
 * each newer release. Each step is named by the purchase, so that it is done once, wherever this broke off before.
 */
export async function settlePurchases(deps: Needed): Promise<void> {
  const { db } = deps
  const changed = new Set(await takeBackRefunded(db))
  for (const purchase of await listToGive(db)) await attempt(deps, purchase, () => give(deps, purchase), changed)
  if (deps.mailing)
    for (const purchase of await listToTell(db)) await attempt(deps, purchase, () => tell(deps, purchase), changed)
  for (const workspaceId of changed) await deps.events.publish({ workspaceId, topic: 'packs' })
}

/** What goes wrong with one purchase holds up no other. */
async function attempt(
  { log, stopping }: Needed,
  { id, workspaceId }: OpenPurchase,
  step: () => Promise<void>,
  changed: Set<string>,
): Promise<void> {
  stopping.throwIfAborted()
  try {
    await step()
    changed.add(workspaceId)
  } catch (error) {
    log.error({ err: error, purchase: id }, 'a purchase could not be settled')
  }
}

/** The buyer's hand-out: it gives each newer release too. */
async function give({ db, links }: Needed, purchase: OpenPurchase): Promise<void> {
  const { id, workspaceId, buyerName: name, buyerEmail: email, editionId, newestId } = purchase
  await db.transaction(async (tx) => {
    const person = { name, email, note: '' }
    const recipientId = (await ensureRecipients(tx, workspaceId, [person])).get(personKey(person)) ?? null
    const terms = { releaseId: newestId, editionId, follows: true, endsAt: null, downloadLimit: null }
    const row = { workspaceId, batchId: id, ...terms, name, recipientId, ...createLink(links, workspaceId).stored }
    const [handOut] = await insertBatch(tx, workspaceId, id, [row])
    // refunded, or given by another server, meanwhile: nothing of this stays
    if (!handOut || !(await setGiven(tx, purchase, handOut.id))) tx.rollback()
    if (editionId) await prepareEditions(tx, workspaceId, { id: editionId })
    const line = { workspaceId, person: 'A shop', kind: 'hand-out' as const, said: `Handed out by a sale: ${name}` }
    await insertAuditLines(tx, [line])
  })
}

/** A letter with the link first, and one of each newer release after that. */
async function tell(
  deps: Needed,
  { id, workspaceId, packId, handOutId, newestId, isFirst }: OpenPurchase & { isFirst: boolean },
): Promise<void> {
  const pack = await findPack(deps.db, workspaceId, packId)
  if (!pack || handOutId === null) return
  const kind: MailKind = isFirst ? 'link' : 'newer'
  const own = (await listTemplates(deps.db, workspaceId)).find((each) => each.kind === kind)
  const { subject, body } = own ?? MAIL_KINDS[kind]
  const actId = kind === 'link' ? id : newestId
  await writeMails(deps, pack, { kind, template: { subject, body }, ids: [handOutId], actId, zone: 'UTC' })
  await setTold(deps.db, { id, workspaceId }, newestId)
}

/**
 * Looks now and then what purchases stand open for: a product that somebody has said by now, a release that is ready, a server that
 * was lost.
 * @returns How to stop looking.
 */
export function keepSettling(deps: Needed): () => void {
  return lookAgain(
    LOOK_MS,
    () => settlePurchases(deps),
    (error) => {
      if (!deps.stopping.aborted) deps.log.error({ err: error }, 'purchases')
    },
  )
}
