import { PASSWORD_CHARS } from '@satchel/core/forms/account'
import { betterAuth } from 'better-auth'
import { drizzleAdapter } from 'better-auth/adapters/drizzle'
import type { Db } from '../db/database.ts'
import { account, rateLimit, session, user, verification } from '../db/schema/all.ts'

export type AuthOptions = { secret: string; origin: string; signInsPerMinute?: number }

/** The header our own middleware sets from the connection, so that no client can choose its address. */
export const CLIENT_ADDRESS_HEADER = 'x-satchel-client'

const DAY_S = 24 * 60 * 60
/** A sign-in that is not used ends after so many days; one that is used, after `SESSION_DAYS_MAX` (`sessions.ts`). */
const UNUSED_DAYS = 7

/** The cookies that the auth library sets. */
const COOKIES = ['session_token', 'session_data', 'account_data', 'dont_remember'] as const

/**
 * Under https a cookie says by its name that it is of this very host: no other one, above or beside it, can set it
 * (RFC 6265bis, section 4.1.3). The library's own prefix says less, so names and marks are given here.
 */
function cookiesFor(origin: string) {
  if (!origin.startsWith('https:')) return { useSecureCookies: false }
  const named = COOKIES.map((cookie) => [
    cookie,
    { name: `__Host-satchel.${cookie}`, attributes: { secure: true, path: '/' } },
  ])
  return { useSecureCookies: false, cookies: Object.fromEntries(named) }
}

/** E-mail and password accounts, sessions in the database, rate-limited sign-in. */
export function createAuth(db: Db, { secret, origin, signInsPerMinute = 10 }: AuthOptions) {
  return betterAuth({
    secret,
    baseURL: origin,
    basePath: '/api/auth',
    trustedOrigins: [origin],
    database: drizzleAdapter(db, { provider: 'pg', schema: { user, session, account, verification, rateLimit } }),
    emailAndPassword: {
      enabled: true,
      minPasswordLength: PASSWORD_CHARS.least,
      maxPasswordLength: PASSWORD_CHARS.most,
    },
    rateLimit: {
      enabled: true,
      storage: 'database',
      window: 60,
      max: 600,
      customRules: { '/sign-in/email': { window: 60, max: signInsPerMinute } },
    },
    session: { expiresIn: UNUSED_DAYS * DAY_S },
    advanced: {
      cookiePrefix: 'satchel',
      ...cookiesFor(origin),
      ipAddress: { ipAddressHeaders: [CLIENT_ADDRESS_HEADER] },
    },
    telemetry: { enabled: false },
    logger: { disabled: true }, // it writes down session tokens; what fails is logged where the request is answered
  })
}

export type Auth = ReturnType<typeof createAuth>
