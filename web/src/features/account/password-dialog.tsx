import { useMutation } from '@tanstack/react-query'
import type { FormEvent } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { TextField } from '../../components/field.tsx'
import { toast } from '../../components/toasts.tsx'
import { changePassword } from '../../data/account.ts'

/** Changes one's own password; the account is signed out everywhere else. */
export function PasswordDialog({ email, onClose }: { email: string; onClose: () => void }) {
  const changing = useMutation({
    mutationFn: ({ current, next }: { current: string; next: string }) => changePassword(current, next),
    onSuccess: () => {
      toast('Your password is changed. Everywhere else you are signed out.')
      onClose()
    },
  })
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const form = new FormData(event.currentTarget)
    changing.mutate({ current: String(form.get('current') ?? ''), next: String(form.get('next') ?? '') })
  }
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Change your password"
      description="Everywhere else this account is signed out then."
    >
      <form onSubmit={submit} className="grid gap-3">
        <input type="hidden" name="email" autoComplete="username" value={email} readOnly />
        <TextField
          label="Password you have now"
          name="current"
          type="password"
          autoComplete="current-password"
          required
        />
        <TextField
          label="New password"
          name="next"
          type="password"
          autoComplete="new-password"
          minLength={10}
          hint="At least 10 characters."
          required
        />
        <div className="flex items-center justify-end gap-3">
          {changing.error && (
            <p role="alert" className="flex-1 text-13 text-madder">
              {changing.error.message}
            </p>
          )}
          <Button kind="primary" type="submit" disabled={changing.isPending}>
            {changing.isPending ? 'Changing it …' : 'Change password'}
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
