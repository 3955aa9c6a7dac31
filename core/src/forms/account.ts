import * as v from 'valibot'
import { Line, Name } from './names.ts'

export const PASSWORD_CHARS = { least: 10, most: 128 } as const

export const Email = v.pipe(v.string(), v.trim(), v.email('an e-mail address is needed'))
export const Password = v.pipe(
  v.string(),
  v.minLength(PASSWORD_CHARS.least, `a password has at least ${PASSWORD_CHARS.least} characters`),
  v.maxLength(PASSWORD_CHARS.most, `a password has at most ${PASSWORD_CHARS.most} characters`),
)
/** One that somebody has already: it is right or wrong, whatever its length. */
const KnownPassword = v.pipe(v.string(), v.nonEmpty('the password is needed'), v.maxLength(1000))

export const SignIn = v.object({ email: Email, password: KnownPassword })
/** Addresses of accounts are kept in small letters. */
export const Forgotten = v.object({ email: v.pipe(Email, v.toLowerCase()) })
export const AnotherPassword = v.object({ next: Password })
/** Six digits of an app, or a recovery code. */
export const SignInCode = v.object({
  code: v.pipe(v.string(), v.trim(), v.nonEmpty('a code is needed'), v.maxLength(40)),
})
export const SecondFactorCode = v.object({
  code: v.pipe(v.string(), v.trim(), v.regex(/^\d{6}$/, 'six digits are needed')),
})
export const KnownOnly = v.object({ password: KnownPassword })
export const NewPassword = v.object({ current: KnownPassword, next: Password })
/** The first account of an empty install, and its workspace. */
export const Owner = v.object({ name: Name, workspace: Name, email: Email, password: Password })
export type Owner = v.InferOutput<typeof Owner>

/** Whose what is new in a workspace is, and how it is given away, as its form says it; the server knows the licences. */
export const Facts = v.object({ maker: Line, licence: v.string() })
