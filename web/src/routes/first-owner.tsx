import { Owner } from '@satchel/core/forms/account'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Navigate } from 'react-router'
import { Button } from '../components/button.tsx'
import { TextField } from '../components/field.tsx'
import { Refused, useForm } from '../components/form.tsx'
import { makeOwner } from '../data/account.ts'
import { sessionQuery } from '../data/session.ts'
import { AccountCard } from '../features/account/account-card.tsx'
import { NewPasswordField } from '../features/account/new-password-field.tsx'

export function FirstOwnerRoute() {
  const client = useQueryClient()
  const session = useQuery(sessionQuery)
  const { form, field, isSending, refused } = useForm({
    schema: Owner,
    first: { name: '', workspace: '', email: '', password: '' },
    async send(owner) {
      await makeOwner(owner)
      await client.resetQueries({ queryKey: sessionQuery.queryKey })
    },
  })
  if (session.data?.signedIn) return <Navigate to="/gather" replace />
  if (session.data && !session.data.empty) return <Navigate to="/sign-in" replace />
  return (
    <AccountCard
      title="Make it yours"
      intro="Nobody has an account here yet. The first one owns the workspace."
      form={form}
    >
      <TextField label="Your name" autoComplete="name" {...field('name')} />
      <TextField label="Name of the workspace" hint="A studio, a class, or simply you." {...field('workspace')} />
      <TextField label="E-mail" type="email" autoComplete="username" {...field('email')} />
      <NewPasswordField label="Password" {...field('password')} />
      <Refused>{refused}</Refused>
      <Button kind="primary" type="submit" disabled={isSending}>
        {isSending ? 'Making it …' : 'Make the workspace'}
      </Button>
    </AccountCard>
  )
}
