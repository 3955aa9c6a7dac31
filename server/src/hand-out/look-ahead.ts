import * as v from 'valibot'
import { findEdition } from '../db/editions.ts'
import type { HandOut } from '../db/hand-outs.ts'
import { findNewestRelease } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { notFound, Problem } from '../errors.ts'

/**
 * An edition as its people will see it, at a moment that can lie ahead: the person's own page under an address that holds for
 * a day, kept nowhere. Nothing is fetched through it, and nobody is counted.
 */
const Look = v.strictObject({
  editionId: v.pipe(v.string(), v.uuid()),
  at: v.nullable(v.pipe(v.string(), v.isoTimestamp())),
  until: v.pipe(v.string(), v.isoTimestamp()),
})

const PREFIX = 'look.'
const HELD_MS = 24 * 60 * 60 * 1000
const LOOK_ID = '00000000-0000-0000-0000-000000000000'

export const isLook = ({ id }: Pick<HandOut, 'id'>): boolean => id === LOOK_ID

/** @throws {Problem} 409 where somebody only looks ahead. */
export function checkNoLook(handOut: HandOut): void {
  if (isLook(handOut)) throw new Problem(409, 'You are looking ahead. Make a hand-out to fetch or to write something.')
}

/** The secret of a look ahead. */
export function createLook({ links }: Pick<Deps, 'links'>, workspaceId: string, editionId: string, at: Date | null) {
  const look: v.InferOutput<typeof Look> = {
    editionId,
    at: at?.toISOString() ?? null,
    until: new Date(Date.now() + HELD_MS).toISOString(),
  }
  return `${PREFIX}${workspaceId}.${links.close(workspaceId, JSON.stringify(look))}`
}

/**
 * What a look ahead shows, as if it were a hand-out.
 * @returns Nothing where the secret is none of a look.
 * @throws {Problem} 410 where it is over; {@link notFound} where the edition or its release is gone.
 */
export async function openLook({ db, links }: Pick<Deps, 'db' | 'links'>, token: string) {
  if (!token.startsWith(PREFIX)) return undefined
  const [workspaceId = '', sealed = ''] = token.slice(PREFIX.length).split('.')
  const look = readLook(links.open(workspaceId, sealed))
  if (!look) return undefined
  if (new Date(look.until).getTime() <= Date.now())
    throw new Problem(410, 'This look ahead was of another day; open it again from the edition.')
  const edition = await findEdition(db, workspaceId, look.editionId)
  const release = edition && (await findNewestRelease(db, workspaceId, edition.packId))
  if (!edition || !release) throw notFound('edition')
  const now = look.at === null ? new Date() : new Date(look.at)
  const handOut: HandOut = {
    ...{ id: LOOK_ID, workspaceId, releaseId: release.id, editionId: edition.id, recipientId: null },
    ...{ name: 'you, looking ahead', tokenHash: '', tokenSealed: null, follows: true, batchId: null, endsAt: null },
    ...{ downloadLimit: null, downloads: 0, withdrawnAt: null, createdAt: now },
  }
  return { handOut, release, edition, now }
}

function readLook(text: string | undefined): v.InferOutput<typeof Look> | undefined {
  if (text === undefined) return undefined
  try {
    const read = v.safeParse(Look, JSON.parse(text))
    return read.success ? read.output : undefined
  } catch {
    return undefined
  }
}
