import { PASSWORD_CHARS } from '@satchel/core/forms/account'
import { betterAuth } from 'better-auth'
import { drizzleAdapter } from 'better-auth/adapters/drizzle'
import { twoFactor as secondFactor } from 'better-auth/plugins/two-factor'
import type { Db } from '../db/database.ts'
import { account, rateLimit, session, twoFactor, user, verification } from '../db/schema/all.ts'

export type AuthOptions = {
  secret: string
  origin: string
  signInsPerMinute?: number
  /** Sends who has forgotten their password a link to choose another one; absent where no mails are sent. */
  sendReset?: ((to: { email: string; name: string; token: string }) => Promise<void>) | undefined
}

/** The header our own middleware sets from the connection, so that no client can choose its address. */
export const CLIENT_ADDRESS_HEADER = 'x-satchel-client'

const DAY_S = 24 * 60 * 60
/** A sign-in that is not used ends after so many days; one that is used, after `SESSION_DAYS_MAX` (`sessions.ts`). */
const UNUSED_DAYS = 7

/** So long a code is waited for after the password. */
const CHALLENGE_S = 600
/** So long a link leads to a new password. */
const RESET_S = 3600

/** The cookies that the auth library sets. */
const COOKIES = [
  'session_token',
  'session_data',
  'account_data',
  'dont_remember',
  'two_factor',
  'trust_device',
] as const

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
export function createAuth(db: Db, { secret, origin, signInsPerMinute = 10, sendReset }: AuthOptions) {
  return betterAuth({
    secret,
    baseURL: origin,
    basePath: '/api/auth',
    trustedOrigins: [origin],
    database: drizzleAdapter(db, {
      provider: 'pg',
      schema: { user, session, account, verification, rateLimit, twoFactor },
    }),
    emailAndPassword: {
      enabled: true,
      minPasswordLength: PASSWORD_CHARS.least,
      maxPasswordLength: PASSWORD_CHARS.most,
      resetPasswordTokenExpiresIn: RESET_S,
      // whoever knew the old one is out
      revokeSessionsOnPasswordReset: true,
      ...(sendReset
        ? {
            sendResetPassword: ({
              user: { email, name },
              token,
            }: {
              user: { email: string; name: string }
              token: string
            }) => sendReset({ email, name, token }),
          }
        : {}),
    },
    rateLimit: {
      enabled: true,
      storage: 'database',
      window: 60,
      max: 600,
      customRules: Object.fromEntries(
        ['/sign-in/email', '/two-factor/verify-totp', '/two-factor/verify-backup-code'].map((path) => [
          path,
          { window: 60, max: signInsPerMinute },
        ]),
      ),
    },
    // links to another password, and what waits for a code: a copy of the database opens nothing
    verification: { storeIdentifier: 'hashed' },
    session: { expiresIn: UNUSED_DAYS * DAY_S },
    advanced: {
      cookiePrefix: 'satchel',
      ...cookiesFor(origin),
      ipAddress: { ipAddressHeaders: [CLIENT_ADDRESS_HEADER] },
    },
    plugins: [secondFactor({ issuer: 'Gentle Satchel', twoFactorCookieMaxAge: CHALLENGE_S })],
    telemetry: { enabled: false },
    logger: { disabled: true }, // it writes down session tokens; what fails is logged where the request is answered
  })
}

export type Auth = ReturnType<typeof createAuth>
