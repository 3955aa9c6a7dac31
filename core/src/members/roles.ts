/** What a member of a workspace is, a row each: what it is called, alone and in a sentence, and what such a one does. */
export const ROLES = {
  owner: {
    called: 'Owner',
    one: 'the owner',
    does: 'does everything, and decides who belongs here',
    mayWrite: true,
    isOwner: true,
  },
  curator: {
    called: 'Curator',
    one: 'a curator',
    does: 'gathers, tunes, sorts, releases and hands out',
    mayWrite: true,
    isOwner: false,
  },
  viewer: {
    called: 'Viewer',
    one: 'a viewer',
    does: 'looks at everything and changes nothing',
    mayWrite: false,
    isOwner: false,
  },
} as const satisfies Record<string, { called: string; one: string; does: string; mayWrite: boolean; isOwner: boolean }>
export type Role = keyof typeof ROLES

/** What others may be made; a workspace has one owner, who hands it over. */
export const GIVEN_ROLES = ['curator', 'viewer'] as const
export type GivenRole = (typeof GIVEN_ROLES)[number]

/** What is done about one member by somebody. */
export type MemberAct = { kind: 'role'; to: GivenRole } | { kind: 'remove' } | { kind: 'leave' } | { kind: 'hand-over' }

/** Who asks, whom it is about, and whether that is the same person. */
export type Between = { by: Role; about: Role; isSelf: boolean }

/** Why each act can't be; nothing where it can. A row a kind, held complete by the compiler. */
const WHY_NOT: Record<MemberAct['kind'], (between: Between) => string | undefined> = {
  role: ({ by, about }) => {
    if (!ROLES[by].isOwner) return ONLY_OWNER
    return ROLES[about].isOwner ? 'A workspace has an owner; hand it over to somebody else first.' : undefined
  },
  remove: ({ by, isSelf }) => {
    if (!ROLES[by].isOwner) return ONLY_OWNER
    return isSelf ? 'The owner cannot be removed; hand the workspace over to somebody else first.' : undefined
  },
  leave: ({ about, isSelf }) => {
    if (!isSelf) return 'One leaves by oneself; somebody else is removed.'
    return ROLES[about].isOwner ? 'The owner cannot leave; hand the workspace over to somebody else first.' : undefined
  },
  'hand-over': ({ by, isSelf }) => {
    if (!ROLES[by].isOwner) return ONLY_OWNER
    return isSelf ? 'This workspace is yours already.' : undefined
  },
}
const ONLY_OWNER = 'Only the owner of the workspace may do this; ask them.'

/** Why an act about a member is refused, in a sentence; undefined where it may be. The server acts by it, and pages offer by it. */
export const whyNotMember = (act: MemberAct, between: Between): string | undefined => WHY_NOT[act.kind](between)

/** Who belongs to a workspace: a person's id and role each. */
export type Roles = ReadonlyMap<string, Role>

/**
 * Who belongs to a workspace after an act. Whatever is asked by whom, in whatever order: there is one owner, before and after.
 * @param by Who asks. @param about Whom it is about.
 * @returns The roles afterwards, or why nothing changes.
 */
export function afterMemberAct(
  roles: Roles,
  { act, by, about }: { act: MemberAct; by: string; about: string },
): { roles: Roles } | { refused: string } {
  const [asks, has] = [roles.get(by), roles.get(about)]
  if (!asks) return { refused: 'You belong to this workspace no more.' }
  if (!has) return { refused: 'This person belongs to the workspace no more.' }
  const refused = whyNotMember(act, { by: asks, about: has, isSelf: by === about })
  if (refused) return { refused }
  const next = new Map(roles)
  if (act.kind === 'role') next.set(about, act.to)
  else if (act.kind === 'hand-over') next.set(by, 'curator').set(about, 'owner')
  else next.delete(about)
  return { roles: next }
}
