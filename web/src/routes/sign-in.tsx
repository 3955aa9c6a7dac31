import { SignIn } from '@satchel/core/forms/account'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Navigate, useNavigate, useSearchParams } from 'react-router'
import { RequestError } from '../api/client.ts'
import { Button } from '../components/button.tsx'
import { TextField } from '../components/field.tsx'
import { Refused, useForm } from '../components/form.tsx'
import { signIn } from '../data/account.ts'
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

function sentence(error: Error): string {
  if (error instanceof RequestError && error.status === 401)
    return 'E-mail and password do not go together; check both and try again.'
  if (error instanceof RequestError && error.status === 429) return 'Too many tries; wait a minute and try again.'
  return error.message
}
