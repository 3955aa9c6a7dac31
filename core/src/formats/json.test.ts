import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { FormatError, LimitError } from '../errors.ts'
import { JSON_NESTING_MAX, parseJson } from './json.ts'

const nested = (depth: number, [open, close] = ['[', ']'], inside = '') =>
  open.repeat(depth) + inside + close.repeat(depth)

describe('JSON of others', () => {
  it('is read as the platform reads it', () => {
    fc.assert(
      fc.property(fc.json({ maxDepth: 8 }), (text) => {
        expect(parseJson(text, 'x')).toEqual(JSON.parse(text))
      }),
    )
  })

  it('may nest so deep, and no deeper, however it says it', () => {
    expect(() => parseJson(nested(JSON_NESTING_MAX), 'x')).not.toThrow()
    expect(() => parseJson(nested(JSON_NESTING_MAX + 1), 'x')).toThrow(LimitError)
    expect(() => parseJson(nested(JSON_NESTING_MAX + 1, ['{"a":', '}'], '1'), 'x')).toThrow(LimitError)
    expect(() => parseJson(nested(2_000_000), 'x')).toThrow(LimitError)
    // what lies side by side is not deep, nor are brackets in a text
    expect(parseJson(`[${Array(1000).fill('[[]]').join()}]`, 'x')).toHaveLength(1000)
    expect(parseJson(JSON.stringify(nested(500)), 'x')).toBe(nested(500))
    expect(parseJson(JSON.stringify({ a: `\\"${nested(500)}` }), 'x')).toEqual({ a: `\\"${nested(500)}` })
  })

  it('is refused by its name where it is none', () => {
    expect(() => parseJson('{', 'pack.json')).toThrow(FormatError)
    expect(() => parseJson('{', 'pack.json')).toThrow('Not a readable pack.json: expected JSON')
  })
})
