import { Forgotten, SignIn, SignInCode } from '@satchel/core/forms/account'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Navigate, useNavigate, useSearchParams } from 'react-router'
import { RequestError } from '../api/client.ts'
import { Button } from '../components/button.tsx'
import { TextField } from '../components/field.tsx'
import { Refused, useForm } from '../components/form.tsx'
import { toastError } from '../components/toasts.tsx'
import { askForLink, signIn, signInByCode, signOut } from '../data/account.ts'
import { sessionQuery } from '../data/session.ts'
import { AccountCard } from '../features/account/account-card.tsx'

export function SignInRoute() {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [params] = useSearchParams()
  const session = useQuery(sessionQuery)
  const then = params.get('then')
  const target = then?.startsWith('/') && !then.startsWith('//') ? then : '/sort'
  const [step, setStep] = useState<'password' | 'code' | 'forgotten'>('password')
  const goIn = async () => {
    await client.resetQueries({ queryKey: sessionQuery.queryKey })
    await navigate(target, { replace: true })
  }
  const { form, field, isSending, refused } = useForm({
    schema: SignIn,
    first: { email: '', password: '' },
    sentenceOf: sentence,
    async send({ email, password }) {
      if (await signIn(email, password)) setStep('code')
      else await goIn()
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
  if (step === 'code') return <CodeCard onIn={goIn} onBack={() => setStep('password')} />
  if (step === 'forgotten') return <ForgottenCard onBack={() => setStep('password')} />
  return (
    <AccountCard title="Sign in" intro="Your brushes, packs and hand-outs are behind this door." form={form}>
      <TextField label="E-mail" type="email" autoComplete="username" {...field('email')} />
      <TextField label="Password" type="password" autoComplete="current-password" {...field('password')} />
      <Refused>{refused}</Refused>
      <Button kind="primary" type="submit" disabled={isSending}>
        {isSending ? 'Signing in …' : 'Sign in'}
      </Button>
      {session.data && !session.data.signedIn && session.data.sendsMails && (
        <Button kind="quiet" onClick={() => setStep('forgotten')}>
          I have forgotten my password
        </Button>
      )}
    </AccountCard>
  )
}

/** The second step, for who has one. */
function CodeCard({ onIn, onBack }: { onIn: () => Promise<void>; onBack: () => void }) {
  const { form, field, isSending, refused } = useForm({
    schema: SignInCode,
    first: { code: '' },
    async send({ code }) {
      await signInByCode(code)
      await onIn()
    },
  })
  return (
    <AccountCard
      title="One more step"
      intro="Type the six digits that your app shows now. Without the app, one of your recovery codes does, once."
      form={form}
    >
      <TextField label="Code" autoComplete="one-time-code" inputMode="text" autoFocus {...field('code')} />
      <Refused>{refused}</Refused>
      <Button kind="primary" type="submit" disabled={isSending}>
        {isSending ? 'Looking …' : 'Go on'}
      </Button>
      <Button kind="quiet" onClick={onBack}>
        Begin anew
      </Button>
    </AccountCard>
  )
}

/** Where a link to another password is asked for; what is said does not tell whether there is such an account. */
function ForgottenCard({ onBack }: { onBack: () => void }) {
  const [sentTo, setSentTo] = useState<string>()
  const { form, field, isSending, refused } = useForm({
    schema: Forgotten,
    first: { email: '' },
    async send({ email }) {
      await askForLink(email)
      setSentTo(email)
    },
  })
  return (
    <AccountCard
      title="Another password"
      intro={
        sentTo
          ? `If ${sentTo} has an account here, a mail with a link is on its way. The link is good for an hour.`
          : 'A mail with a link comes to the address of your account.'
      }
      form={form}
    >
      {!sentTo && (
        <>
          <TextField label="E-mail" type="email" autoComplete="username" {...field('email')} />
          <Refused>{refused}</Refused>
          <Button kind="primary" type="submit" disabled={isSending}>
            {isSending ? 'Sending …' : 'Send me the link'}
          </Button>
        </>
      )}
      <Button kind="quiet" onClick={onBack}>
        Back to signing in
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
