import * as v from 'valibot'

/** What a link leads with. */
export const Token = v.object({ token: v.pipe(v.string(), v.minLength(1), v.maxLength(100)) })
