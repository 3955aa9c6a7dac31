import { SignIn } from '@satchel/core/forms/account'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Navigate, useNavigate, useSearchParams } from 'react-router'
import { RequestError } from '../api/client.ts'
import { Button } from '../components/button.tsx'
import { TextField } from '../components/field.tsx'
import { Refused, useForm } from '../components/form.tsx'
import { toastError } from '../components/toasts.tsx'
import { signIn, signOut } from '../data/account.ts'
import { sessionQuery } from '../data/session.ts'
import { AccountCard } from '../features/account/account-card.tsx'

export function SignInRoute() {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [params] = useSearchParams()
  const session = useQuery(sessionQuery)
  const then = params.get('then')
  const target = then?.startsWith('/') && !then.startsWith('//') ? then : '/sort'
  const { form, field, isSending, refused } = useForm({
    schema: SignIn,
    first: { email: '', password: '' },
    sentenceOf: sentence,
    async send({ email, password }) {
      await signIn(email, password)
      await client.resetQueries({ queryKey: sessionQuery.queryKey })
      await navigate(target, { replace: true })
    },
  })
  if (session.data && !session.data.signedIn && session.data.empty) return <Navigate to="/first-owner" replace />
  if (session.data && !session.data.signedIn && session.data.without)
    return (
      <NoWorkspace
        {...session.data.without}
        onSignOut={() => client.resetQueries({ queryKey: sessionQuery.queryKey })}
      />
    )
  return (
    <AccountCard title="Sign in" intro="Your brushes, packs and hand-outs are behind this door." form={form}>
      <TextField label="E-mail" type="email" autoComplete="username" {...field('email')} />
      <TextField label="Password" type="password" autoComplete="current-password" {...field('password')} />
      <Refused>{refused}</Refused>
      <Button kind="primary" type="submit" disabled={isSending}>
        {isSending ? 'Signing in …' : 'Sign in'}
      </Button>
    </AccountCard>
  )
}

/** An account that belongs to no workspace, or to none any more: it waits for an invitation. */
function NoWorkspace({ name, email, onSignOut }: { name: string; email: string; onSignOut: () => Promise<unknown> }) {
  const leave = async () => {
    try {
      await signOut()
      await onSignOut()
    } catch (error) {
      toastError(error)
    }
  }
  return (
    <AccountCard
      title="No workspace"
      intro={`${name}, your account belongs to no workspace here. Ask an owner for an invitation, and open its link in this browser.`}
      form={{
        onSubmit(event) {
          event.preventDefault()
          void leave()
        },
      }}
    >
      <p className="break-all text-13 text-quiet">{email}</p>
      <Button type="submit">Sign out</Button>
    </AccountCard>
  )
}

function sentence(error: Error): string {
  if (error instanceof RequestError && error.status === 401)
    return 'E-mail and password do not go together; check both and try again.'
  if (error instanceof RequestError && error.status === 429) return 'Too many tries; wait a minute and try again.'
  return error.message
}
