import type { AuditKind } from '@satchel/core/members/audit'
import type { Context } from 'hono'
import { matchedRoutes } from 'hono/route'
import type { AppDeps } from '../app-deps.ts'
import { insertAuditLines } from '../db/audit.ts'
import { noteSave } from '../db/presence.ts'
import type { MeetingKind } from '../db/schema/all.ts'
import type { SignedIn } from './context.ts'

type Row = {
  kind: AuditKind
  /** What was done; what it was done to comes after a colon. */
  said: string
  /** That it stands in the list only where the route says what it was about. */
  isSometimes?: true
}
const deletion = (said: string): Row => ({ kind: 'deletion', said })
const handOut = (said: string): Row => ({ kind: 'hand-out', said })
const ofMember = (said: string): Row => ({ kind: 'member', said })

/** What stands in the audit list, a row a route; `routes/members.test.ts` holds it against the routes that there are. */
export const AUDITED: Readonly<Record<string, Row>> = {
  'POST /api/packs/:id/releases': { kind: 'release', said: 'Released' },
  'POST /api/packs/:id/releases/:releaseId/recall': { kind: 'release', said: 'Release recalled' },
  'POST /api/packs/:id/hand-outs': handOut('Handed out'),
  'POST /api/packs/:id/hand-outs/many': handOut('Handed out to many'),
  'POST /api/packs/:id/hand-outs/change': handOut('Hand-outs changed'),
  'POST /api/packs/hand-outs/:id/withdraw': handOut('Hand-out withdrawn'),
  'POST /api/packs/hand-outs/:id/give-again': handOut('Hand-out given again'),
  'POST /api/packs/hand-outs/:id/new-link': handOut('New link for a hand-out'),
  'POST /api/packs/editions/:id/end': handOut('Class ended'),
  'POST /api/packs/editions/:id/take-out': handOut('Class taken out of app folders'),
  'POST /api/exchanges/publish': { kind: 'release', said: 'Published' },
  'POST /api/exchanges/published/:id/withdraw': { kind: 'release', said: 'Withdrawn from' },
  'POST /api/brushes/bin': deletion('Brushes put into the bin'),
  'POST /api/brushes/empty-bin': deletion('Bin emptied'),
  'POST /api/materials/:id/bin': deletion('Grain or strip put into the bin'),
  'POST /api/sources/:id/bin': deletion('Source put into the bin'),
  'DELETE /api/sets/:id': deletion('Set deleted'),
  'DELETE /api/pockets/:id': deletion('Pocket deleted'),
  'DELETE /api/kept-searches/:id': deletion('Kept search deleted'),
  'DELETE /api/packs/:id': deletion('Pack deleted'),
  'DELETE /api/packs/editions/:id': deletion('Edition deleted'),
  'DELETE /api/fit/destinations/:id': deletion('Destination deleted'),
  'DELETE /api/installs/:id': deletion('Install deleted'),
  'DELETE /api/shops/products/:id': deletion('Product of a shop deleted'),
  'POST /api/signing/export': { kind: 'key', said: 'Signing key exported' },
  'POST /api/signing/rotate': { kind: 'key', said: 'Signing key replaced by a new one' },
  'POST /api/signing/import': { kind: 'key', said: 'Signing key taken in' },
  'POST /api/library': { kind: 'library', said: 'Whole library put in' },
  'POST /api/parcels': { kind: 'library', said: 'Whole library asked for', isSometimes: true },
  'PUT /api/workspace/name': ofMember('Workspace renamed'),
  'POST /api/tokens': { kind: 'token', said: 'Token made' },
  'POST /api/tokens/:id/end': { kind: 'token', said: 'Token ended' },
  'POST /api/members/invitations': ofMember('Invited'),
  'POST /api/members/invitations/:id/end': ofMember('Invitation ended'),
  'PATCH /api/members/:personId': ofMember('Role changed'),
  'DELETE /api/members/:personId': ofMember('Removed'),
  'POST /api/members/:personId/hand-over': ofMember('Workspace handed over'),
}

/** Deletions that stand in no list: what is under way, or only a part of something. */
export const NOT_AUDITED: Readonly<Record<string, string>> = {
  'DELETE /api/followed/:id': 'its brushes stay',
  'DELETE /api/pockets/:id/items/:itemId': 'a part of a pocket',
  'DELETE /api/packs/:id/cover': 'a part of a pack',
  'DELETE /api/parcels/:id': 'a file that was made to be fetched',
  'DELETE /api/phone-links/:id': 'ends with its dialog',
  'DELETE /api/gathers/:id/uploads/:uploadId': 'a file that came in part',
}

/** Which routes save which thing, so that others there see who did. */
const SAVES: Readonly<Record<string, MeetingKind>> = {
  'PUT /api/brushes/:id': 'brush',
  'PATCH /api/brushes/:id': 'brush',
  'POST /api/brushes/:id/version': 'brush',
  'POST /api/brushes/:id/tip': 'brush',
  'PUT /api/brushes/:id/thumbnail': 'brush',
  'POST /api/brushes/:id/frames': 'brush',
  'PUT /api/brushes/:id/frames/:ordinal': 'brush',
  'PATCH /api/sets/:id': 'set',
  'POST /api/sets/:id/brushes': 'set',
  'POST /api/sets/:id/remove': 'set',
  'POST /api/sets/:id/merge': 'set',
  'PATCH /api/packs/:id': 'pack',
  'PUT /api/packs/:id/single': 'pack',
  'PUT /api/packs/:id/notes/:brushId': 'pack',
  'PUT /api/packs/:id/sets': 'pack',
  'POST /api/packs/:id/cover': 'pack',
  'POST /api/packs/:id/releases': 'pack',
}

/** Says what a request was about, for the audit list. */
export const about = (c: Context<SignedIn>, what: string): void => c.set('about', what)

/**
 * Writes down what a request has done that was answered well: a line of the audit list, and who saved a thing last.
 * What was done is done: where this fails, the log says so, and the answer stays.
 */
export async function noteDone({ db, log }: Pick<AppDeps, 'db' | 'log'>, c: Context<SignedIn>): Promise<void> {
  if (!c.res.ok) return
  const path = matchedRoutes(c).findLast(({ method }) => method !== 'ALL')?.path
  const key = `${c.req.method} ${path}`
  const { workspaceId, person } = c.var
  const subject = c.var.about
  const row = AUDITED[key]
  const saved = SAVES[key]
  const id = c.req.param('id')
  try {
    if (row && (subject !== undefined || !row.isSometimes)) {
      const said = subject ? `${row.said}: ${subject}` : row.said
      await insertAuditLines(db, [{ workspaceId, person: person.name, kind: row.kind, said }])
    }
    if (saved && id) await noteSave(db, { workspaceId, kind: saved, subjectId: id, person: person.name })
  } catch (error) {
    log.error({ err: error, path }, 'what was done is not written down')
  }
}
