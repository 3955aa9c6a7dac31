import * as v from 'valibot'
import { expect, it } from 'vitest'
import { NewPassword, Owner, SignIn } from './account.ts'
import { DOWNLOADS_MAX, HandOutForm } from './hand-out.ts'

/** What is wrong, by field. */
const wrong = (schema: v.GenericSchema, form: unknown) => {
  const result = v.safeParse(schema, form)
  return result.success ? {} : (v.flatten(result.issues).nested ?? {})
}

it('a hand-out may end on a day and be limited, and need not', () => {
  const form = { name: ' Evening \n class ', editionId: '', newer: 'stay', endsAt: '', downloadLimit: ' ' }
  expect(v.parse(HandOutForm, form)).toEqual({
    ...{ name: 'Evening class', editionId: null, newer: 'stay', endsAt: null, downloadLimit: null },
  })
  expect(v.parse(HandOutForm, { ...form, editionId: 'one' }).editionId).toBe('one')
  const { endsAt, downloadLimit } = v.parse(HandOutForm, { ...form, endsAt: '2199-03-01', downloadLimit: '30' })
  expect([endsAt, downloadLimit]).toEqual([new Date('2199-03-01T23:59:59').toISOString(), 30])
})

it.each([
  ['name', { name: '  ' }, 'a name is needed'],
  ['endsAt', { endsAt: '2001-01-01' }, 'this day is over; take a later one'],
  ['endsAt', { endsAt: 'soon' }, 'an end is a day'],
  ['downloadLimit', { downloadLimit: '0' }, 'a limit is at least 1'],
  ['downloadLimit', { downloadLimit: '2.5' }, 'a limit is a whole number'],
  ['downloadLimit', { downloadLimit: String(DOWNLOADS_MAX + 1) }, `a limit is at most ${DOWNLOADS_MAX}`],
])('what is wrong with its %s is said there: %j', (field, change, sentence) => {
  const form = { name: 'Class', editionId: '', newer: 'follow', endsAt: '', downloadLimit: '' }
  expect(wrong(HandOutForm, { ...form, ...change })).toEqual({ [field]: [sentence] })
})

it('a password that is new has ten characters; one that is known only has to be there', () => {
  expect(wrong(NewPassword, { current: 'x', next: 'nine char' })).toEqual({
    next: ['a password has at least 10 characters'],
  })
  expect(wrong(SignIn, { email: ' a@b.example ', password: 'x' })).toEqual({})
  expect(wrong(SignIn, { email: 'a', password: '' })).toEqual({
    email: ['an e-mail address is needed'],
    password: ['the password is needed'],
  })
  expect(Object.keys(wrong(Owner, { name: '', workspace: '', email: '', password: '' }))).toEqual([
    'name',
    'workspace',
    'email',
    'password',
  ])
})
