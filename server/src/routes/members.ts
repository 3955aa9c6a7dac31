import { GivenRole, Invite } from '@satchel/core/forms/members'
import { AUDIT_KIND_NAMES } from '@satchel/core/members/audit'
import { type MemberAct, ROLES } from '@satchel/core/members/roles'
import { type Context, Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { listAuditLines } from '../db/audit.ts'
import { countInvitations, endInvitation, insertInvitation, listInvitations } from '../db/invitations.ts'
import { listMembers } from '../db/members.ts'
import { notFound, Problem } from '../errors.ts'
import { createToken, hashToken } from '../hand-out/token.ts'
import { actOnMember } from '../people/members.ts'
import { noteSecurity } from '../security-log.ts'
import type { SignedIn } from './context.ts'
import { about } from './noted.ts'
import { ownerOnly } from './owner-only.ts'
import { Id, valid, whole } from './validate.ts'

/** Ids of people are the auth library's own. */
const PersonId = v.object({ personId: v.pipe(v.string(), v.regex(/^[\w-]{1,100}$/, 'a member is wanted')) })
const INVITATIONS_MAX = 100
const AUDIT_PAGE_MAX = 1000
const Page = v.object({
  kind: v.optional(v.picklist(AUDIT_KIND_NAMES)),
  before: v.optional(v.pipe(v.string(), v.transform(Number), v.integer(), v.minValue(1))),
  limit: whole(100, AUDIT_PAGE_MAX),
})

/** Who belongs to a workspace, who is invited, and what was done of weight. */
export const memberRoutes = (deps: AppDeps) => {
  const { db, events, log, origin } = deps
  const act = (c: Context<SignedIn>, personId: string, kind: MemberAct) =>
    actOnMember(deps, c.get('workspaceId'), { act: kind, by: c.get('person').id, about: personId })
  return new Hono<SignedIn>()
    .get('/', async (c) => {
      const workspaceId = c.get('workspaceId')
      const members = await listMembers(db, workspaceId)
      const isOwner = c.get('role') === 'owner'
      return c.json({
        members: members.map((member) => ({ ...member, isSelf: member.id === c.get('person').id })),
        invitations: isOwner ? await listInvitations(db, workspaceId) : [],
      })
    })
    .post('/invitations', ownerOnly, valid('json', Invite), async (c) => {
      const workspaceId = c.get('workspaceId')
      if ((await countInvitations(db, workspaceId)) >= INVITATIONS_MAX)
        throw new Problem(429, `${INVITATIONS_MAX} invitations are open already; end some of them first.`)
      const { role, note, days } = c.req.valid('json')
      const token = createToken()
      const made = { role, note, days, tokenHash: hashToken(token), invitedBy: c.get('person').name }
      const { id, expiresAt } = await insertInvitation(db, workspaceId, made)
      about(c, `${note || 'somebody'}, as ${ROLES[role].called.toLowerCase()}`)
      noteSecurity(log, 'member invited', { person: c.get('person').id, workspace: workspaceId })
      await events.publish({ workspaceId, topic: 'members' })
      return c.json({ id, expiresAt, link: `${origin}/i/${token}` }, 201)
    })
    .post('/invitations/:id/end', ownerOnly, valid('param', Id), async (c) => {
      const workspaceId = c.get('workspaceId')
      const ended = await endInvitation(db, workspaceId, c.req.valid('param').id)
      if (!ended) throw notFound('invitation')
      about(c, `${ended.note || 'somebody'}, as ${ROLES[ended.role].called.toLowerCase()}`)
      await events.publish({ workspaceId, topic: 'members' })
      return c.json({ ok: true })
    })
    .patch('/:personId', ownerOnly, valid('param', PersonId), valid('json', GivenRole), async (c) => {
      const { role } = c.req.valid('json')
      const person = await act(c, c.req.valid('param').personId, { kind: 'role', to: role })
      about(c, `${person.name}, ${ROLES[person.role].called.toLowerCase()} to ${ROLES[role].called.toLowerCase()}`)
      return c.json({ was: person.role })
    })
    .delete('/:personId', ownerOnly, valid('param', PersonId), async (c) => {
      const person = await act(c, c.req.valid('param').personId, { kind: 'remove' })
      about(c, `${person.name}, ${ROLES[person.role].called.toLowerCase()}`)
      return c.json({ ok: true })
    })
    .post('/:personId/hand-over', ownerOnly, valid('param', PersonId), async (c) => {
      const person = await act(c, c.req.valid('param').personId, { kind: 'hand-over' })
      about(c, `to ${person.name}`)
      return c.json({ ok: true })
    })
    .get('/audit', valid('query', Page), async (c) => {
      const { kind, before, limit } = c.req.valid('query')
      const lines = await listAuditLines(db, c.get('workspaceId'), { kind, before, limit })
      return c.json({ lines })
    })
}
