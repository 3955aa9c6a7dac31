import { NewPassword } from '@satchel/core/forms/account'
import { Dialog } from '../../components/dialog.tsx'
import { TextField } from '../../components/field.tsx'
import { FormEnd, useForm } from '../../components/form.tsx'
import { toast } from '../../components/toasts.tsx'
import { changePassword } from '../../data/account.ts'
import { NewPasswordField } from './new-password-field.tsx'

/** Changes one's own password; the account is signed out everywhere else. */
export function PasswordDialog({ email, onClose }: { email: string; onClose: () => void }) {
  const { form, field, isSending, refused } = useForm({
    schema: NewPassword,
    first: { current: '', next: '' },
    async send({ current, next }) {
      await changePassword(current, next)
      toast('Your password is changed. Everywhere else you are signed out.')
      onClose()
    },
  })
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Change your password"
      description="Everywhere else this account is signed out then."
    >
      <form {...form} className="grid gap-3">
        <input type="hidden" name="email" autoComplete="username" value={email} readOnly />
        <TextField
          label="Password you have now"
          type="password"
          autoComplete="current-password"
          {...field('current')}
        />
        <NewPasswordField label="New password" {...field('next')} />
        <FormEnd refused={refused} isSending={isSending} send="Change password" sending="Changing it …" />
      </form>
    </Dialog>
  )
}
