import * as v from 'valibot'
import { hasUnseen } from './formats/text.ts'
import { NAME_MAX_CHARS } from './limits.ts'

/** Characters as a person counts them, not as the machine stores them. */
export const hasNameLength = (text: string) => text.length <= NAME_MAX_CHARS || [...text].length <= NAME_MAX_CHARS

/** One line that shows all of itself: no control characters, nothing that turns the writing about, nothing without width. */
export const LineText = v.pipe(
  v.string(),
  v.check(hasNameLength, `at most ${NAME_MAX_CHARS} characters`),
  v.check((text) => !hasUnseen(text), 'characters that can be seen'),
)
/** Such a line with at least one character. */
export const NameText = v.pipe(LineText, v.minLength(1))

/** As the database orders names: by letters, numbers in them as numbers (UTS 35, collation setting kn). */
const collator = new Intl.Collator('und', { numeric: true })

/** Orders names as people do: "coins 2" before "coins 10"; names that count as one go by their bytes. */
export const byName = (a: string, b: string): number => collator.compare(a, b) || (a < b ? -1 : a > b ? 1 : 0)

/** Orders paths part by part, so that what lies in a folder follows it. */
export function byPath(a: string, b: string): number {
  const [own, other] = [a.split('/'), b.split('/')]
  for (let i = 0; i < Math.min(own.length, other.length); i++) {
    const order = byName(own[i], other[i])
    if (order !== 0) return order
  }
  return own.length - other.length
}
