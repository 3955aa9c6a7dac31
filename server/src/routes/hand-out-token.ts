import * as v from 'valibot'

/** What a link leads with; what looks ahead at an edition is longer. */
export const Token = v.object({ token: v.pipe(v.string(), v.minLength(1), v.maxLength(600)) })
