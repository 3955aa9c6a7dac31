import { AnotherPassword } from '@satchel/core/forms/account'
import { useNavigate, useParams } from 'react-router'
import { Button } from '../components/button.tsx'
import { Refused, useForm } from '../components/form.tsx'
import { toast } from '../components/toasts.tsx'
import { choosePassword } from '../data/account.ts'
import { AccountCard } from '../features/account/account-card.tsx'
import { NewPasswordField } from '../features/account/new-password-field.tsx'

/** Where the link of a mail leads: another password is chosen. */
export function ResetRoute() {
  const { token = '' } = useParams()
  const navigate = useNavigate()
  const { form, field, isSending, refused } = useForm({
    schema: AnotherPassword,
    first: { next: '' },
    async send({ next }) {
      await choosePassword(token, next)
      toast('Your password is changed; sign in with it.')
      await navigate('/sign-in', { replace: true })
    },
  })
  return (
    <AccountCard title="Another password" intro="Wherever you are signed in, that ends." form={form}>
      <title>Another password · Gentle Satchel</title>
      <NewPasswordField label="New password" {...field('next')} />
      <Refused>{refused}</Refused>
      <Button kind="primary" type="submit" disabled={isSending}>
        {isSending ? 'Changing it …' : 'Change password'}
      </Button>
    </AccountCard>
  )
}
