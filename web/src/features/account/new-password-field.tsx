import { PASSWORD_CHARS } from '@satchel/core/forms/account'
import type { ComponentProps } from 'react'
import { TextField } from '../../components/field.tsx'

/** A password that is chosen, and how long it has to be. */
export const NewPasswordField = (props: ComponentProps<typeof TextField>) => (
  <TextField
    type="password"
    autoComplete="new-password"
    hint={`At least ${PASSWORD_CHARS.least} characters.`}
    {...props}
  />
)
