import type { MemberAct } from '@satchel/core/members/roles'
import type { AppDeps } from '../app-deps.ts'
import { changeMembers, listMembers, listSessionIds } from '../db/members.ts'
import { notFound, Refusal } from '../errors.ts'
import { noteSecurity } from '../security-log.ts'

/**
 * Does something about a member. Live streams of both end, and are opened again with what they may see by then: another
 * workspace, another role. @returns Who it was about, as they were before. @throws {Refusal} Where it may not be.
 */
export async function actOnMember(
  { db, events, log }: Pick<AppDeps, 'db' | 'events' | 'log'>,
  workspaceId: string,
  deed: { act: MemberAct; by: string; about: string },
) {
  const person = (await listMembers(db, workspaceId)).find(({ id }) => id === deed.about)
  if (!person) throw notFound('member')
  const refused = await changeMembers(db, workspaceId, deed)
  if (refused) throw new Refusal('clash', refused)
  for (const who of new Set([deed.about, deed.by]))
    for (const id of await listSessionIds(db, who)) events.endSession(id)
  noteSecurity(log, 'member changed', { person: deed.about, workspace: workspaceId })
  await events.publish({ workspaceId, topic: 'members' })
  return person
}
