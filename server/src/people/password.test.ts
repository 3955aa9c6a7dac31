import { dictionary } from '@zxcvbn-ts/language-common'
import { expect, it } from 'vitest'
import { isEasyToGuess, isLeaked } from './password.ts'

it.each(['password123', '1234567890', 'qwertyuiop', 'aaaaaaaaaaaa', 'iloveyou12', 'Ida Slikker', 'ida@marsh.example'])(
  '%s is among the first that are tried',
  (password) => expect(isEasyToGuess(password, ['Ida Slikker', 'ida@marsh.example'])).toBe(true),
)

it.each(['bullrush-bullfinch', 'marsh-samphire-9', `${'x'.repeat(10)}Vq7!kelp`, 'saltmarsh-demo'])(
  '%s is not',
  (password) => expect(isEasyToGuess(password, ['Ida Slikker', 'ida@marsh.example'])).toBe(false),
)

it('what others have lost is on a list, whatever the estimator says of it', () => {
  // of the list's own: each takes more than a million guesses by its words, and is tried all the same
  for (const password of ['1qaz2wsx3edc', 'Michelle1234'.toLowerCase(), 'PASSWORD123']) {
    expect([password, isLeaked(password)]).toEqual([password, dictionary.passwords.includes(password.toLowerCase())])
  }
  const strong = dictionary.passwords.filter((each) => String(each).length >= 10 && !isEasyToGuess(String(each), []))
  for (const password of strong) expect(isLeaked(String(password).toUpperCase())).toBe(true)
  expect(isLeaked('bullrush-bullfinch')).toBe(false)
})
