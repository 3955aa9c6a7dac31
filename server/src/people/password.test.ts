import { expect, it } from 'vitest'
import { isEasyToGuess } from './password.ts'

it.each(['password123', '1234567890', 'qwertyuiop', 'aaaaaaaaaaaa', 'iloveyou12', 'Ida Slikker', 'ida@marsh.example'])(
  '%s is among the first that are tried',
  (password) => expect(isEasyToGuess(password, ['Ida Slikker', 'ida@marsh.example'])).toBe(true),
)

it.each(['bullrush-bullfinch', 'marsh-samphire-9', `${'x'.repeat(10)}Vq7!kelp`, 'saltmarsh-demo'])(
  '%s is not',
  (password) => expect(isEasyToGuess(password, ['Ida Slikker', 'ida@marsh.example'])).toBe(false),
)
