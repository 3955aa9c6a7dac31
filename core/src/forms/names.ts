import * as v from 'valibot'
import { toOneLine } from '../formats/text.ts'
import { NAME_MAX_CHARS } from '../limits.ts'

const cleanLine = (text: string) => toOneLine(text, Number.POSITIVE_INFINITY)

/** A name as it is kept: on one line, without what nobody sees. */
export const Name = v.pipe(
  v.string(),
  v.transform(cleanLine),
  v.nonEmpty('a name is needed'),
  v.maxLength(NAME_MAX_CHARS, `a name may have ${NAME_MAX_CHARS} characters`),
)
/** What may be a name, or nothing. */
export const Line = v.pipe(
  v.string(),
  v.transform(cleanLine),
  v.maxLength(NAME_MAX_CHARS, `it may have ${NAME_MAX_CHARS} characters`),
)
