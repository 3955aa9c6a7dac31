import { GIVEN_ROLES, type MemberAct, ROLES, type Role, whyNotMember } from '@satchel/core/members/roles'
import { format } from 'date-fns'
import { MoreHorizontal } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { Menu, type MenuItem } from '../../components/menu.tsx'
import { handOver, leave, type Member, removeMember, setRole } from '../../data/members.ts'
import { useMemberChange } from './use-member-change.ts'

type Props = { members: readonly Member[]; workspaceId: string; role: Role }
/** What can't be undone is asked first. */
type Asked = {
  title: string
  words: string
  act: string
  run: () => Promise<unknown>
  said?: string
  after?: () => void
}

/** Who belongs to the workspace, with what may be done about each. */
export function MemberList({ members, workspaceId, role }: Props) {
  const change = useMemberChange()
  const [asked, setAsked] = useState<Asked>()
  const itemsOf = (member: Member): MenuItem[] => {
    const may = (act: MemberAct) =>
      whyNotMember(act, { by: role, about: member.role, isSelf: member.isSelf }) === undefined
    const items: MenuItem[] = GIVEN_ROLES.filter((to) => to !== member.role && may({ kind: 'role', to })).map((to) => ({
      label: `Make ${ROLES[to].one}`,
      onSelect: () =>
        void change(
          () => setRole(member.id, to),
          `${member.name} is ${ROLES[to].one} now.`,
          member.role === 'owner' ? undefined : () => setRole(member.id, member.role as 'curator' | 'viewer'),
        ),
    }))
    if (may({ kind: 'hand-over' }))
      items.push({
        label: 'Hand the workspace over',
        takesFocus: true,
        onSelect: () =>
          setAsked({
            title: `Hand the workspace over to ${member.name}`,
            words: `${member.name} owns it then: members, keys and the whole library. You stay as a curator, and only ${member.name} can give it back.`,
            act: 'Hand it over',
            run: () => handOver(member.id),
            said: `${member.name} owns the workspace now.`,
          }),
      })
    if (may({ kind: 'remove' }))
      items.push({
        label: 'Remove',
        danger: true,
        takesFocus: true,
        onSelect: () =>
          setAsked({
            title: `Remove ${member.name}`,
            words: `${member.name} sees nothing of this workspace from that moment on. What they made stays. To come back they need an invitation.`,
            act: 'Remove',
            run: () => removeMember(member.id),
            said: `${member.name} belongs to the workspace no more.`,
          }),
      })
    if (may({ kind: 'leave' }))
      items.push({
        label: 'Leave the workspace',
        danger: true,
        takesFocus: true,
        onSelect: () =>
          setAsked({
            title: 'Leave the workspace',
            words: 'What you made stays here. To come back you need an invitation.',
            act: 'Leave',
            run: () => leave(workspaceId),
            after: () => window.location.assign('/'),
          }),
      })
    return items
  }
  return (
    <section aria-label="Members" className="grid gap-2">
      <ul className="rounded-10 border border-line bg-surface">
        {members.map((member) => {
          const items = itemsOf(member)
          return (
            <li
              key={member.id}
              className="grid grid-cols-[minmax(0,1fr)_auto_32px] items-center gap-3 border-b border-line px-3 py-2 last:border-b-0"
            >
              <div className="min-w-0">
                <p className="truncate font-medium">
                  {member.name}
                  {member.isSelf && <span className="font-normal text-quiet"> (you)</span>}
                </p>
                <p className="truncate text-13 text-quiet">
                  {member.email}, since {format(new Date(member.joinedAt), 'd MMM yyyy')}
                </p>
              </div>
              <span className="text-13" title={`${ROLES[member.role].called}: ${ROLES[member.role].does}`}>
                {ROLES[member.role].called}
              </span>
              {items.length > 0 && (
                <Menu
                  label={`What to do about ${member.name}`}
                  items={items}
                  trigger={
                    <button
                      type="button"
                      aria-label={`What to do about ${member.name}`}
                      className="grid h-8 w-8 place-content-center rounded-4 hover:bg-raised"
                    >
                      <MoreHorizontal size={18} aria-hidden />
                    </button>
                  }
                />
              )}
            </li>
          )
        })}
      </ul>
      <Dialog
        open={asked !== undefined}
        onOpenChange={(open) => !open && setAsked(undefined)}
        title={asked?.title ?? ''}
        description={asked?.words ?? ''}
      >
        <div className="flex justify-end gap-3">
          <Button onClick={() => setAsked(undefined)}>Not now</Button>
          <Button
            kind="danger"
            onClick={async () => {
              if (!asked) return
              setAsked(undefined)
              if (await change(asked.run, asked.said)) asked.after?.()
            }}
          >
            {asked?.act}
          </Button>
        </div>
      </Dialog>
    </section>
  )
}
