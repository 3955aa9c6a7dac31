import fc from 'fast-check'
import { afterEach, expect, it, vi } from 'vitest'
import { say, sayJson, shown, warn } from './say.ts'

afterEach(() => vi.restoreAllMocks())
const printed = (on: 'log' | 'error', work: () => void): string => {
  const spy = vi.spyOn(console, on).mockImplementation(() => undefined)
  work()
  return String(spy.mock.calls[0]?.[0])
}

it('lets no name reach the terminal as anything but letters', () => {
  const evil = 'Kelp\u001b[2J\u0007\r\n\u009b31m\u202egpj.\u2066\u200b\ufeff\u2028'
  expect(printed('log', () => say(evil))).toBe(
    'Kelp\\u001b[2J\\u0007\\u000d\\u000a\\u009b31m\\u202egpj.\\u2066\\u200b\\ufeff\\u2028',
  )
  expect(printed('error', () => warn(evil))).not.toMatch(/[\p{Cc}\p{Cf}]/u)
})

it('leaves what is seen as it is, whatever script', () => {
  expect(shown('Écume à marée 海 🌊 "quoted" \\ back')).toBe('Écume à marée 海 🌊 "quoted" \\ back')
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), (text) => {
      expect(shown(text)).not.toMatch(/[\p{Cc}\p{Cf}\p{Cs}\p{Zl}\p{Zp}]/u)
    }),
  )
})

it('prints JSON that reads back the same, with nothing in it but letters and line ends', () => {
  fc.assert(
    fc.property(fc.dictionary(fc.string({ unit: 'binary' }), fc.string({ unit: 'binary' })), (value) => {
      const text = printed('log', () => sayJson(value))
      vi.restoreAllMocks()
      expect(text.replaceAll('\n', '')).not.toMatch(/[\p{Cc}\p{Cf}\p{Cs}\p{Zl}\p{Zp}]/u)
      expect(JSON.parse(text)).toEqual(value)
    }),
  )
})
