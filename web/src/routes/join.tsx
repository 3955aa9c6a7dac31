import { Newcomer } from '@satchel/core/forms/members'
import { ROLES } from '@satchel/core/members/roles'
import { useQuery } from '@tanstack/react-query'
import { format } from 'date-fns'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { Button, buttonLook } from '../components/button.tsx'
import { TextField } from '../components/field.tsx'
import { Refused, useForm } from '../components/form.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { toastError } from '../components/toasts.tsx'
import { signOut } from '../data/account.ts'
import { invitationQuery, join, joinAnew } from '../data/members.ts'
import { AccountCard } from '../features/account/account-card.tsx'
import { NewPasswordField } from '../features/account/new-password-field.tsx'

/** Everything begins anew there: nothing of another workspace stays in the window. */
const goIn = () => window.location.assign('/sort')

/** Where an invitation leads: one joins with an account, or makes one. */
export function JoinRoute() {
  const { token = '' } = useParams()
  const invitation = useQuery(invitationQuery(token))
  if (invitation.isPending) return <Loading what="the invitation" />
  if (invitation.isError) return <LoadError error={invitation.error} onRetry={() => void invitation.refetch()} />
  const { workspace, role, invitedBy, expiresAt, you } = invitation.data
  const intro = `${invitedBy} invites you as ${ROLES[role].one}, who ${ROLES[role].does}. The invitation ends on ${format(new Date(expiresAt), 'd MMMM yyyy')}.`
  return (
    <>
      <title>{`${workspace} · Gentle Satchel`}</title>
      {you ? (
        <Joining {...{ token, workspace, intro, you }} onSignedOut={() => invitation.refetch()} />
      ) : (
        <Coming {...{ token, workspace, intro }} />
      )}
    </>
  )
}

type Where = { token: string; workspace: string; intro: string }

/** With the account that is signed in. */
function Joining({
  token,
  workspace,
  intro,
  you,
  onSignedOut,
}: Where & { you: { name: string; email: string; isIn: boolean }; onSignedOut: () => unknown }) {
  const [{ isSending, refused }, setState] = useState<{ isSending: boolean; refused?: string }>({ isSending: false })
  const send = async () => {
    setState({ isSending: true })
    try {
      await join(token)
      goIn()
    } catch (error) {
      setState({ isSending: false, refused: error instanceof Error ? error.message : String(error) })
    }
  }
  const onSubmit = (event: { preventDefault: () => void }) => {
    event.preventDefault()
    void send()
  }
  return (
    <AccountCard title={`Join ${workspace}`} intro={intro} form={{ onSubmit }}>
      <p>
        You are signed in as {you.name}, <span className="break-all">{you.email}</span>
        {you.isIn ? ', and belong to this workspace already.' : '.'}
      </p>
      <Refused>{refused}</Refused>
      <Button kind="primary" type="submit" disabled={isSending}>
        {isSending ? 'Joining …' : you.isIn ? 'Go there' : 'Join'}
      </Button>
      <Button kind="quiet" onClick={() => void signOut().then(onSignedOut).catch(toastError)}>
        Take another account
      </Button>
    </AccountCard>
  )
}

/** Without one: it is made here, or somebody signs in first and comes back. */
function Coming({ token, workspace, intro }: Where) {
  const { form, field, isSending, refused } = useForm({
    schema: Newcomer,
    first: { name: '', email: '', password: '' },
    async send(person) {
      await joinAnew(token, person)
      goIn()
    },
  })
  return (
    <AccountCard title={`Join ${workspace}`} intro={intro} form={form}>
      <TextField label="Your name" autoComplete="name" {...field('name')} />
      <TextField label="E-mail" type="email" autoComplete="username" {...field('email')} />
      <NewPasswordField label="Password" {...field('password')} />
      <Refused>{refused}</Refused>
      <Button kind="primary" type="submit" disabled={isSending}>
        {isSending ? 'Joining …' : 'Make an account and join'}
      </Button>
      <Link to={`/sign-in?then=${encodeURIComponent(`/i/${token}`)}`} className={buttonLook('quiet')}>
        I have an account: sign in
      </Link>
    </AccountCard>
  )
}
