import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Navigate } from 'react-router'
import { Button } from '../components/button.tsx'
import { TextField } from '../components/field.tsx'
import { makeOwner } from '../data/account.ts'
import { sessionQuery } from '../data/session.ts'
import { AccountCard } from '../features/account/account-card.tsx'

export function FirstOwnerRoute() {
  const client = useQueryClient()
  const session = useQuery(sessionQuery)
  const making = useMutation({
    mutationFn: (form: FormData) => {
      const of = (name: string) => String(form.get(name) ?? '')
      return makeOwner({ name: of('name'), workspace: of('workspace'), email: of('email'), password: of('password') })
    },
    onSuccess: () => client.resetQueries({ queryKey: sessionQuery.queryKey }),
  })
  if (session.data?.signedIn) return <Navigate to="/gather" replace />
  if (session.data && !session.data.empty) return <Navigate to="/sign-in" replace />
  return (
    <AccountCard
      title="Make it yours"
      intro="Nobody has an account here yet. The first one owns the workspace."
      onSubmit={(form) => making.mutate(form)}
    >
      <TextField label="Your name" name="name" autoComplete="name" required />
      <TextField label="Name of the workspace" name="workspace" hint="A studio, a class, or simply you." required />
      <TextField label="E-mail" name="email" type="email" autoComplete="username" required />
      <TextField
        label="Password"
        name="password"
        type="password"
        autoComplete="new-password"
        minLength={10}
        hint="At least 10 characters."
        required
        error={making.error?.message}
      />
      <Button kind="primary" type="submit" disabled={making.isPending}>
        {making.isPending ? 'Making it …' : 'Make the workspace'}
      </Button>
    </AccountCard>
  )
}
