import { type PersonRow, personKey } from '@satchel/core/people/read-people'
import type { Db } from '../db/database.ts'
import { findEdition, prepareEditions } from '../db/editions.ts'
import {
  changeHandOuts,
  findHandOuts,
  type HandOut,
  type HandOutChange,
  insertBatch,
  insertHandOut,
  updateHandOut,
} from '../db/hand-outs.ts'
import { ensureRecipients } from '../db/recipients.ts'
import { findRelease } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { notFound, Refusal, recalled } from '../errors.ts'
import type { Seal } from '../seal.ts'
import { createToken, hashToken } from './token.ts'

export type Terms = {
  endsAt: Date | null
  downloadLimit: number | null
  follows: boolean
  /** How it is cut for them; all of it without one. */
  editionId: string | null
}
export type NewHandOut = Terms & { packId: string; releaseId: string; name: string }
export type NewHandOuts = Terms & {
  packId: string
  releaseId: string
  /** Names the act: sent twice, it makes nothing twice. */
  batchId: string
  people: readonly Pick<PersonRow, 'name' | 'email' | 'note'>[]
}

/** A new link, as it is stored and as it is told. */
export function createLink(links: Seal, workspaceId: string) {
  const token = createToken()
  return { token, stored: { tokenHash: hashToken(token), tokenSealed: links.close(workspaceId, token) } }
}

/**
 * Gives a release to somebody.
 * @returns The hand-out, and the secret of its link.
 * @throws {Refusal} If the pack has no such release, it was recalled, or the end lies in the past.
 */
export async function createHandOut(
  { db, links }: Pick<Deps, 'db' | 'links'>,
  workspaceId: string,
  { packId, ...wish }: NewHandOut,
): Promise<{ handOut: HandOut; token: string }> {
  await checkTerms(db, workspaceId, { packId, ...wish })
  const { token, stored } = createLink(links, workspaceId)
  const ids = await ensureRecipients(db, workspaceId, [{ name: wish.name, email: '', note: '' }])
  const recipientId = ids.get(personKey({ name: wish.name, email: '' })) ?? null
  const handOut = await insertHandOut(db, { workspaceId, recipientId, ...wish, ...stored })
  if (wish.editionId) await prepareEditions(db, workspaceId, { id: wish.editionId })
  return { handOut, token }
}

/**
 * Gives a release to many people, each by a link of their own; all of them or, where something is wrong, none.
 * @throws {Refusal} As `createHandOut`.
 */
export async function createHandOuts(
  { db, links }: Pick<Deps, 'db' | 'links'>,
  workspaceId: string,
  { packId, people, batchId, ...wish }: NewHandOuts,
): Promise<HandOut[]> {
  await checkTerms(db, workspaceId, { packId, ...wish })
  return db.transaction(async (tx) => {
    const ids = await ensureRecipients(tx, workspaceId, people)
    const rows = people.map((person) => ({
      ...{ workspaceId, batchId, ...wish, name: person.name, recipientId: ids.get(personKey(person)) ?? null },
      ...createLink(links, workspaceId).stored,
    }))
    if (wish.editionId) await prepareEditions(tx, workspaceId, { id: wish.editionId })
    return insertBatch(tx, workspaceId, batchId, rows)
  })
}

/** @throws {Refusal} If the pack has no such release or edition, it was recalled, or the end lies in the past. */
async function checkTerms(
  db: Db,
  workspaceId: string,
  { packId, releaseId, endsAt, editionId }: Pick<NewHandOut, 'packId' | 'releaseId' | 'endsAt' | 'editionId'>,
): Promise<void> {
  const release = await findRelease(db, workspaceId, releaseId)
  if (release?.packId !== packId) throw notFound('release')
  if (release.recalledAt) throw recalled(release)
  if (editionId !== null) await checkEdition(db, workspaceId, packId, editionId)
  if (endsAt && endsAt.getTime() <= Date.now())
    throw new Refusal('unfit', 'The end lies in the past; choose a later day.')
}

/**
 * Changes what hand-outs of a pack give, all or none.
 * @returns What they were before: given back, it undoes this.
 * @throws {Refusal} If a release that they shall give is none of the pack's.
 */
export async function changeTerms(
  db: Db,
  workspaceId: string,
  packId: string,
  changes: readonly HandOutChange[],
): Promise<HandOutChange[]> {
  for (const releaseId of new Set(changes.flatMap((change) => change.releaseId ?? []))) {
    const release = await findRelease(db, workspaceId, releaseId)
    if (release?.packId !== packId) throw notFound('release')
  }
  const editions = new Set(changes.flatMap((change) => change.editionId ?? []))
  for (const id of editions) await checkEdition(db, workspaceId, packId, id)
  const before = await changeHandOuts(db, workspaceId, packId, changes)
  for (const id of new Set([...editions, ...before.flatMap(({ editionId }) => editionId ?? [])]))
    await prepareEditions(db, workspaceId, { id })
  return before
}

async function checkEdition(db: Db, workspaceId: string, packId: string, id: string): Promise<void> {
  const edition = await findEdition(db, workspaceId, id)
  if (edition?.packId !== packId || edition.deletedAt) throw notFound('edition')
}

/** Gives a hand-out another link; the old one leads nowhere then. @throws {Refusal} If it is not there. */
export async function renewLink({ db, links }: Pick<Deps, 'db' | 'links'>, workspaceId: string, id: string) {
  const { token, stored } = createLink(links, workspaceId)
  if (!(await updateHandOut(db, workspaceId, id, stored))) throw notFound('hand-out')
  return token
}

/** The secrets of links, by the ids of their hand-outs; without those that cannot be told again. */
export async function openLinks(
  { db, links }: Pick<Deps, 'db' | 'links'>,
  workspaceId: string,
  ids: readonly string[],
): Promise<{ id: string; name: string; token: string | undefined }[]> {
  return (await findHandOuts(db, workspaceId, ids)).map(({ id, name, tokenSealed }) => ({
    id,
    name,
    token: tokenSealed === null ? undefined : links.open(workspaceId, tokenSealed),
  }))
}
