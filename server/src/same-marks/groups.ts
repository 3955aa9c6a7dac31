import { groupBy } from '@satchel/core/group-by'
import { describeSame, SAME_KIND_NAMES, type SameKind } from '@satchel/core/same/kinds'
import { listUses, type Uses } from '../db/brush-places.ts'
import { listMembers, loadMemberFacts, type Member, type MemberFacts } from '../db/same-marks.ts'
import type { Deps } from '../deps.ts'
import type { Keeping } from '../library/keep-one.ts'

/** Brushes whose marks are alike: the first is what the group is shown under. */
export type Group = { root: string; head: Member; others: Member[] }

/** Which groups are wanted: those with a brush of a kind that is not decided yet, or those where something was kept. */
export type Wanted = { kind?: SameKind | undefined; isKept?: boolean | undefined }

/** All groups of a library, the largest first; known until the library changes. */
export async function findGroups(
  { db, landmarks }: Pick<Deps, 'db' | 'landmarks'>,
  workspaceId: string,
): Promise<Group[]> {
  const members = await landmarks.keep(workspaceId, 'same marks', () => listMembers(db, workspaceId))
  return [...groupBy(members, ({ root }) => root)].flatMap(([root, [head, ...others]]) =>
    head && others.length > 0 ? [{ root, head, others }] : [],
  )
}

const isWanted =
  ({ kind, isKept = false }: Wanted) =>
  (member: Member) =>
    member.isKept === isKept && (kind === undefined || member.kind === kind)

export const groupsOf = (groups: readonly Group[], wanted: Wanted): Group[] =>
  groups.filter(({ others }) => others.some(isWanted(wanted)))

/** How many brushes there are of each kind that nothing was decided of, and how many were kept. */
export function countKinds(groups: readonly Group[]): Record<SameKind | 'kept', number> {
  const counts = { ...Object.fromEntries(SAME_KIND_NAMES.map((kind) => [kind, 0])), kept: 0 } as Record<
    SameKind | 'kept',
    number
  >
  for (const { others } of groups)
    for (const { kind, isKept } of others) {
      if (isKept) counts.kept++
      else if (kind) counts[kind]++
    }
  return counts
}

/** What keeping the first of each group comes to, where all brushes of a kind go. */
export const keepingOf = (groups: readonly Group[], kind: SameKind): Keeping[] =>
  groups.flatMap(({ head, others }) => {
    const gone = others.filter(isWanted({ kind })).map(({ id }) => id)
    return gone.length > 0 ? [{ kept: head.id, gone }] : []
  })

export type ShownMember = MemberFacts & { kind: SameKind | null; isKept: boolean; said: string; uses: Uses }
export type ShownGroup = { root: string; members: ShownMember[]; more: number }

/** Brushes of one group that are shown: what is decided of all of a kind goes for the others, too. */
const SHOWN_MAX = 40

/** Groups as a page shows them: what each brush is, how it differs, and what uses it. */
export async function showGroups(
  { db }: Pick<Deps, 'db'>,
  workspaceId: string,
  groups: readonly Group[],
): Promise<ShownGroup[]> {
  const shown = groups.map(({ root, head, others }) => ({
    root,
    members: [head, ...others.slice(0, SHOWN_MAX - 1)],
    of: others.length + 1,
  }))
  const ids = shown.flatMap(({ members }) => members.map(({ id }) => id))
  const [facts, uses] = await Promise.all([loadMemberFacts(db, workspaceId, ids), listUses(db, workspaceId, ids)])
  const factsOf = new Map(facts.map((each) => [each.id, each]))
  return shown.map(({ root, members, of }) => ({
    root,
    members: members.flatMap(({ id, kind, isKept }) => {
      const each = factsOf.get(id)
      if (!each) return []
      const differs = each.mark === root ? undefined : (each.differs ?? [])
      const said = kind === null ? '' : describeSame({ differs, isSameRecipe: kind === 'whole' })
      return [{ ...each, kind, isKept, said, uses: uses.get(id) ?? {} }]
    }),
    more: of - members.length,
  }))
}
