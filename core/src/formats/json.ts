import { FormatError, LimitError } from '../errors.ts'

/** How deep values may lie in one another: what is ours nests ten deep. Whatever walks through a value walks no deeper. */
export const JSON_NESTING_MAX = 64

/**
 * The value of a JSON text (RFC 8259) that somebody else wrote.
 * @param format What it is, for the message.
 * @throws {FormatError} If it is no JSON. @throws {LimitError} If its values lie too deep in one another; that is known before
 * any of them is made.
 */
export function parseJson(text: string, format: string): unknown {
  checkNesting(text)
  try {
    return JSON.parse(text)
  } catch (cause) {
    throw new FormatError(format, undefined, 'JSON', { cause })
  }
}

/** @throws {LimitError} If brackets lie deeper in one another than any value may, within strings excepted. */
export function checkNesting(text: string): void {
  let [depth, isString] = [0, false]
  for (let i = 0; i < text.length; i++) {
    const sign = text[i]
    if (isString) {
      if (sign === '\\') i++
      else if (sign === '"') isString = false
    } else if (sign === '"') isString = true
    else if (sign === '{' || sign === '[') {
      if (++depth > JSON_NESTING_MAX) throw new LimitError('the depth of values within values', depth, JSON_NESTING_MAX)
    } else if (sign === '}' || sign === ']') depth--
  }
}
