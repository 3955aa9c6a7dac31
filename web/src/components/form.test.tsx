// @vitest-environment jsdom
import { SignIn } from '@satchel/core/forms/account'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { afterEach, expect, it, vi } from 'vitest'
import { TextField } from './field.tsx'
import { Refused, useForm } from './form.tsx'

afterEach(cleanup)

function Door({ send }: { send: (values: { email: string; password: string }) => Promise<unknown> }) {
  const { form, field, isSending, refused } = useForm({ schema: SignIn, first: { email: '', password: '' }, send })
  return (
    <form {...form}>
      <TextField label="E-mail" {...field('email')} />
      <TextField label="Password" {...field('password')} />
      <Refused>{refused}</Refused>
      <button type="submit" disabled={isSending}>
        Go in
      </button>
    </form>
  )
}
const type = (label: string, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } })
const press = () => fireEvent.click(screen.getByRole('button'))
const alerts = () => screen.queryAllByRole('alert').map(({ textContent }) => textContent)

it('says at each field what is wrong with it, sends nothing, and goes to the first of them', async () => {
  const send = vi.fn(async () => undefined)
  render(<Door send={send} />)
  type('E-mail', 'maren')
  press()
  await waitFor(() => expect(alerts()).toEqual(['An e-mail address is needed.', 'The password is needed.']))
  expect(document.activeElement).toBe(screen.getByLabelText('E-mail'))
  type('E-mail', 'maren@tidewrack.example')
  await waitFor(() => expect(alerts()).toEqual(['The password is needed.']))
  expect(send).not.toHaveBeenCalled()
})

it('sends what the schema makes of it, once, and keeps what was typed where that is refused', async () => {
  let refuse: (error: Error) => void = () => undefined
  const send = vi.fn(() => new Promise((_done, fail) => (refuse = fail)))
  render(<Door send={send} />)
  type('E-mail', ' maren@tidewrack.example ')
  type('Password', 'salt')
  press()
  await waitFor(() => expect(screen.getByRole<HTMLButtonElement>('button').disabled).toBe(true))
  press()
  expect(send.mock.calls).toEqual([[{ email: 'maren@tidewrack.example', password: 'salt' }]])
  refuse(new Error('Not today.'))
  await waitFor(() => expect(alerts()).toEqual(['Not today.']))
  expect(screen.getByLabelText<HTMLInputElement>('Password').value).toBe('salt')
})
