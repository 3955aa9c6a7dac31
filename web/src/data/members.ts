import type { NewToken } from '@satchel/core/forms/members'
import type { AuditKind } from '@satchel/core/members/audit'
import type { GivenRole } from '@satchel/core/members/roles'
import { infiniteQueryOptions, queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

const loadMembers = () => read(api.members.$get())
/** Who belongs to the workspace; its owner sees who is invited too. */
export const membersQuery = queryOptions({ queryKey: ['members'], queryFn: loadMembers })
export type Members = Awaited<ReturnType<typeof loadMembers>>
export type Member = Members['members'][number]

export const invite = (json: { role: GivenRole; note: string; days: number }) =>
  read(api.members.invitations.$post({ json }))
export const endInvitation = (id: string) => read(api.members.invitations[':id'].end.$post({ param: { id } }))
export const setRole = (personId: string, role: GivenRole) =>
  read(api.members[':personId'].$patch({ param: { personId }, json: { role } }))
export const removeMember = (personId: string) => read(api.members[':personId'].$delete({ param: { personId } }))
export const handOver = (personId: string) => read(api.members[':personId']['hand-over'].$post({ param: { personId } }))

const AUDIT_PAGE = 200
const loadAudit = (kind: AuditKind | undefined, before: number | undefined, limit: number) =>
  read(
    api.members.audit.$get({
      query: {
        ...(kind ? { kind } : {}),
        ...(before === undefined ? {} : { before: String(before) }),
        limit: String(limit),
      },
    }),
  )
/** What was done of weight, the latest first, a page after the other. */
export const auditQuery = (kind: AuditKind | undefined) =>
  infiniteQueryOptions({
    queryKey: ['audit', kind ?? 'all'],
    queryFn: ({ pageParam }) => loadAudit(kind, pageParam, AUDIT_PAGE),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: ({ lines }) => (lines.length < AUDIT_PAGE ? undefined : lines.at(-1)?.id),
    staleTime: 0,
  })

const ALL_PAGE = 1000
/** All of the list, however long: for a file. */
export async function loadWholeAudit(kind: AuditKind | undefined) {
  const all: Awaited<ReturnType<typeof loadAudit>>['lines'] = []
  for (;;) {
    const { lines } = await loadAudit(kind, all.at(-1)?.id, ALL_PAGE)
    all.push(...lines)
    if (lines.length < ALL_PAGE) return all
  }
}

/** Where an invitation leads, and who would take it. */
export const invitationQuery = (token: string) =>
  queryOptions({
    queryKey: ['invitation', token],
    queryFn: () => read(api.invitations[':token'].$get({ param: { token } })),
    retry: false,
  })
export const join = (token: string) => read(api.invitations[':token'].join.$post({ param: { token } }))
export const joinAnew = (token: string, json: { name: string; email: string; password: string }) =>
  read(api.invitations[':token'].account.$post({ param: { token }, json }))

/** Goes on in another workspace. The page begins anew: nothing of one stays in a window that shows another one. */
export async function goToWorkspace(id: string): Promise<void> {
  await read(api.session.workspace.$post({ json: { id } }))
  window.location.assign('/sort')
}
export const renameWorkspace = (name: string) => read(api.workspace.name.$put({ json: { name } }))
export const makeWorkspace = (name: string) => read(api.session.workspaces.$post({ json: { name } }))
export const leave = (id: string) => read(api.session.leave.$post({ json: { id } }))

const loadTokens = () => read(api.tokens.$get())
/** One's own tokens; of all members for the owner. */
export const tokensQuery = queryOptions({ queryKey: ['members', 'tokens'], queryFn: loadTokens })
export type Token = Awaited<ReturnType<typeof loadTokens>>['tokens'][number]
export const makeToken = (json: NewToken) => read(api.tokens.$post({ json }))
export const endToken = (id: string) => read(api.tokens[':id'].end.$post({ param: { id } }))

const loadSignIns = () => read(api.session['sign-ins'].$get())
/** Where one is signed in. */
export const signInsQuery = queryOptions({ queryKey: ['sign-ins'], queryFn: loadSignIns, staleTime: 0 })
export type SignIn = Awaited<ReturnType<typeof loadSignIns>>['signIns'][number]
export const endSignIn = (id: string) => read(api.session['sign-ins'][':id'].end.$post({ param: { id } }))
