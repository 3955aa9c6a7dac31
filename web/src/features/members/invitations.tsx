import { INVITATION_DAYS, Invite } from '@satchel/core/forms/members'
import { GIVEN_ROLES, ROLES } from '@satchel/core/members/roles'
import { format } from 'date-fns'
import { UserPlus } from 'lucide-react'
import { useState } from 'react'
import * as v from 'valibot'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { SelectField, TextField } from '../../components/field.tsx'
import { FormEnd, useForm } from '../../components/form.tsx'
import { plural } from '../../components/format.ts'
import { endInvitation, invite, type Members } from '../../data/members.ts'
import { ShownOnce } from './shown-once.tsx'
import { useMemberChange } from './use-member-change.ts'

const DAYS = [INVITATION_DAYS.least, 3, INVITATION_DAYS.usual, 14, INVITATION_DAYS.most].map(String)
/** In a form everything is text. */
const InviteForm = v.object({ ...Invite.entries, days: v.picklist(DAYS) })

/** Who is invited and has not come yet, and a way to invite more. */
export function Invitations({ invitations }: { invitations: Members['invitations'] }) {
  const change = useMemberChange()
  const [inviting, setInviting] = useState(false)
  return (
    <section aria-label="Invitations" className="grid gap-2">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 className="font-title text-20">Invitations</h2>
        <Button kind="primary" onClick={() => setInviting(true)}>
          <UserPlus size={18} aria-hidden /> Invite somebody
        </Button>
      </div>
      {invitations.length === 0 ? (
        <p className="text-quiet">Nobody is invited just now. An invitation is a link for one person, and it ends.</p>
      ) : (
        <ul className="rounded-10 border border-line bg-surface">
          {invitations.map(({ id, note, role, invitedBy, expiresAt }) => (
            <li
              key={id}
              className="flex items-center justify-between gap-3 border-b border-line px-3 py-2 last:border-b-0"
            >
              <div className="min-w-0">
                <p className="truncate">{note || 'Somebody'}</p>
                <p className="text-13 text-quiet">
                  {ROLES[role].called}, invited by {invitedBy}, until {format(new Date(expiresAt), 'd MMM yyyy')}
                </p>
              </div>
              <Button
                aria-label={`End the invitation of ${note || 'somebody'}`}
                onClick={() => void change(() => endInvitation(id), 'The invitation leads nowhere any more.')}
              >
                End
              </Button>
            </li>
          ))}
        </ul>
      )}
      {inviting && <InviteDialog onClose={() => setInviting(false)} />}
    </section>
  )
}

function InviteDialog({ onClose }: { onClose: () => void }) {
  const change = useMemberChange()
  const [link, setLink] = useState<string>()
  const { form, field, isSending, refused } = useForm({
    schema: InviteForm,
    first: { role: 'curator', note: '', days: String(INVITATION_DAYS.usual) },
    async send({ days, ...wish }) {
      const made = await invite({ ...wish, days: Number(days) })
      setLink(made.link)
      await change(async () => undefined)
    },
  })
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Invite somebody"
      description="A link for one person. Whoever holds it can join, so give it to them alone."
    >
      {link === undefined ? (
        <form {...form} className="grid gap-3">
          <TextField label="Whom it is for" hint="For you and other members only." {...field('note')} />
          <SelectField
            label="They come as"
            choices={GIVEN_ROLES.map((role) => ({
              value: role,
              label: `${ROLES[role].called}: ${ROLES[role].does}`,
            }))}
            {...field('role')}
          />
          <SelectField
            label="The link ends after"
            choices={DAYS.map((days) => ({ value: days, label: plural(Number(days), 'day') }))}
            {...field('days')}
          />
          <FormEnd refused={refused} isSending={isSending} send="Make the link" sending="Making it …" />
        </form>
      ) : (
        <ShownOnce
          what="link"
          secret={link}
          words="This link is shown once. It is good for one person."
          onDone={onClose}
        />
      )}
    </Dialog>
  )
}
