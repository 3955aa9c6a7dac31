import { betterAuth } from 'better-auth'
import { drizzleAdapter } from 'better-auth/adapters/drizzle'
import type { Db } from '../db/database.ts'
import { account, rateLimit, session, user, verification } from '../db/schema/all.ts'

export type AuthOptions = { secret: string; origin: string; signInsPerMinute?: number }

/** The header our own middleware sets from the connection, so that no client can choose its address. */
export const CLIENT_ADDRESS_HEADER = 'x-satchel-client'

const PASSWORD_MIN_CHARS = 10
const PASSWORD_MAX_CHARS = 128

/** E-mail and password accounts, sessions in the database, rate-limited sign-in. */
export function createAuth(db: Db, { secret, origin, signInsPerMinute = 10 }: AuthOptions) {
  return betterAuth({
    secret,
    baseURL: origin,
    basePath: '/api/auth',
    trustedOrigins: [origin],
    database: drizzleAdapter(db, { provider: 'pg', schema: { user, session, account, verification, rateLimit } }),
    emailAndPassword: { enabled: true, minPasswordLength: PASSWORD_MIN_CHARS, maxPasswordLength: PASSWORD_MAX_CHARS },
    rateLimit: {
      enabled: true,
      storage: 'database',
      window: 60,
      max: 600,
      customRules: { '/sign-in/email': { window: 60, max: signInsPerMinute } },
    },
    advanced: {
      cookiePrefix: 'satchel',
      useSecureCookies: origin.startsWith('https:'),
      ipAddress: { ipAddressHeaders: [CLIENT_ADDRESS_HEADER] },
    },
    telemetry: { enabled: false },
    logger: { disabled: true }, // it writes down session tokens; what fails is logged where the request is answered
  })
}

export type Auth = ReturnType<typeof createAuth>
