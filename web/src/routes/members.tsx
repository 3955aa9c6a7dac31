import { ROLES } from '@satchel/core/members/roles'
import { useQuery } from '@tanstack/react-query'
import { plural } from '../components/format.ts'
import { PageTitle } from '../components/page-title.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { membersQuery } from '../data/members.ts'
import { sessionQuery } from '../data/session.ts'
import { AuditList } from '../features/members/audit-list.tsx'
import { Invitations } from '../features/members/invitations.tsx'
import { MemberList } from '../features/members/member-list.tsx'
import { RenameWorkspace } from '../features/members/rename-workspace.tsx'
import { Tokens } from '../features/members/tokens.tsx'

/** Who belongs to the workspace, who is invited, and what was done of weight. */
export function MembersRoute() {
  const session = useQuery(sessionQuery).data
  const members = useQuery(membersQuery)
  if (members.isError) return <LoadError error={members.error} onRetry={() => void members.refetch()} />
  if (!members.data || !session?.signedIn) return <Loading what="the members" />
  const { role, workspace, workspaceId } = session
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Members · Gentle Satchel</title>
      <PageTitle
        note={`${workspace}, ${plural(members.data.members.length, 'member')}`}
        aside={role === 'owner' && <RenameWorkspace name={workspace} />}
      >
        Members
      </PageTitle>
      <div className="grid items-start gap-8 wide:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <div className="grid gap-8">
          <MemberList members={members.data.members} workspaceId={workspaceId} role={role} />
          {role === 'owner' && <Invitations invitations={members.data.invitations} />}
          {ROLES[role].mayWrite && <Tokens ofAll={role === 'owner'} />}
        </div>
        <AuditList />
      </div>
    </div>
  )
}
