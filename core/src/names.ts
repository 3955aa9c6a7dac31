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
