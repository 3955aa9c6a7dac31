import { linkEnd } from '@satchel/core/editions/link-end'
import { fillMail, type MailKind, type MailTemplate, type MailValues } from '@satchel/core/mail/template'
import type { AppDeps } from '../app-deps.ts'
import { type Edition, findEdition } from '../db/editions.ts'
import { type Addressee, insertMails, listAddressees } from '../db/mails.ts'
import type { Pack } from '../db/packs.ts'
import { findNewestRelease, findRelease, type Release } from '../db/releases.ts'
import { sealContent } from './compose-mail.ts'
import { startMailing } from './send-mails.ts'

export type Writing = {
  kind: MailKind
  template: MailTemplate
  /** To whom: their hand-outs. */
  ids: readonly string[]
  /** Names the act: sent twice, it writes to nobody twice. */
  actId: string
  /** The time zone of who writes: whose days are meant. */
  zone: string
}

type Needed = Pick<AppDeps, 'db' | 'links' | 'jobs' | 'origin'>

/** Why somebody is not written to: their link would lead to nothing, say. Nothing where they are. */
function whyNot(
  { email, noMailAt, tokenSealed, withdrawnAt }: Addressee,
  ends: Date | undefined,
  release: Release | undefined,
): string | undefined {
  if (email === '') return 'has no mail address'
  if (noMailAt) return 'wants no more mails'
  if (withdrawnAt) return 'has a link that was withdrawn'
  if (ends && ends.getTime() <= Date.now()) return 'has a link that has ended'
  if (!release || release.recalledAt) return 'has a release that was recalled'
  return tokenSealed === null ? 'has a link that cannot be told again' : undefined
}

/**
 * Writes to people who have a pack, each with their own link, and begins to send.
 * @returns How many were written to by this act, and who was left out, with the reason.
 */
export async function writeMails(deps: Needed, pack: Pack, { kind, template, ids, actId, zone }: Writing) {
  const { db, links, origin } = deps
  const { workspaceId, id: packId } = pack
  const addressees = await listAddressees(db, workspaceId, packId, ids)
  const releases = new Map<string, Release | undefined>()
  const newest = await findNewestRelease(db, workspaceId, packId)
  const editions = new Map<string, Edition | undefined>()
  const left: { name: string; why: string }[] = []
  const rows: Parameters<typeof insertMails>[1][number][] = []
  for (const each of addressees) {
    if (!releases.has(each.releaseId)) releases.set(each.releaseId, await findRelease(db, workspaceId, each.releaseId))
    const release = (each.follows ? newest : undefined) ?? releases.get(each.releaseId)
    if (each.editionId !== null && !editions.has(each.editionId))
      editions.set(each.editionId, await findEdition(db, workspaceId, each.editionId))
    const edition = each.editionId === null ? undefined : editions.get(each.editionId)
    const ends = linkEnd(each.endsAt, edition?.plan.kit, zone)
    const why = whyNot(each, ends?.at, release)
    const token = each.tokenSealed === null ? undefined : links.open(workspaceId, each.tokenSealed)
    if (why !== undefined || token === undefined) {
      left.push({ name: each.name, why: why ?? 'has a link that cannot be told again' })
      continue
    }
    const link = `${origin}/h/${token}`
    const values: MailValues = {
      name: each.name,
      title: release?.manifest.title ?? pack.title,
      maker: release?.manifest.maker ?? pack.maker,
      version: release?.version ?? '',
      edition: edition?.name ?? '',
      link,
      ends: ends?.lastDay ?? '',
      // what is new may name what an edition leaves out
      news: edition ? '' : (release?.notes ?? ''),
    }
    const { subject, paragraphs } = fillMail(template, values)
    rows.push({
      ...{ workspaceId, handOutId: each.id, kind, actId, toName: each.name, toAddress: each.email, subject },
      contentSealed: sealContent({ links }, workspaceId, { paragraphs, link }),
      stopUrl: `${origin}/api/m/${stopToken({ links }, workspaceId, each.recipientId)}`,
      state: 'waiting',
    })
  }
  const written = await insertMails(db, rows)
  if (rows.length > 0) await startMailing(deps.jobs, workspaceId)
  return { written, left }
}

const STOPS = 'no more mails to '
/** The secret by which a reader says that no more mails shall come. */
export const stopToken = ({ links }: Pick<AppDeps, 'links'>, workspaceId: string, recipientId: string | null): string =>
  `${workspaceId}.${links.close(workspaceId, `${STOPS}${recipientId ?? ''}`)}`

/** Whose mails a secret stops; nothing where it is none. */
export function readStopToken({ links }: Pick<AppDeps, 'links'>, token: string) {
  const [workspaceId = '', sealed = ''] = token.split('.')
  const text = links.open(workspaceId, sealed)
  return text?.startsWith(STOPS) ? { workspaceId, recipientId: text.slice(STOPS.length) } : undefined
}
