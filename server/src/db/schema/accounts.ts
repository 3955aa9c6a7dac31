import { AUDIT_KIND_NAMES, type AuditKind } from '@satchel/core/members/audit'
import { GIVEN_ROLES, ROLES, type Role } from '@satchel/core/members/roles'
import { TOKEN_SCOPE_NAMES } from '@satchel/core/members/tokens'
import { sql } from 'drizzle-orm'
import {
  bigint,
  boolean,
  index,
  integer,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core'

// The first six tables have the names and columns that the auth library expects.

export const user = pgTable('user', {
  id: text().primaryKey(),
  name: text().notNull(),
  email: text().notNull().unique(),
  emailVerified: boolean().notNull().default(false),
  image: text(),
  twoFactorEnabled: boolean().notNull().default(false),
  createdAt: timestamp().notNull().defaultNow(),
  updatedAt: timestamp().notNull().defaultNow(),
})

export const session = pgTable('session', {
  id: text().primaryKey(),
  expiresAt: timestamp().notNull(),
  token: text().notNull().unique(),
  createdAt: timestamp().notNull().defaultNow(),
  updatedAt: timestamp().notNull().defaultNow(),
  ipAddress: text(),
  userAgent: text(),
  userId: text()
    .notNull()
    .references(() => user.id, { onDelete: 'cascade' }),
  /** The workspace that is worked in by this sign-in; of those that one belongs to, the first one came to where none was chosen. */
  workspaceId: uuid().references(() => workspace.id, { onDelete: 'set null' }),
})

export const account = pgTable('account', {
  id: text().primaryKey(),
  accountId: text().notNull(),
  providerId: text().notNull(),
  userId: text()
    .notNull()
    .references(() => user.id, { onDelete: 'cascade' }),
  accessToken: text(),
  refreshToken: text(),
  idToken: text(),
  accessTokenExpiresAt: timestamp(),
  refreshTokenExpiresAt: timestamp(),
  scope: text(),
  password: text(),
  createdAt: timestamp().notNull().defaultNow(),
  updatedAt: timestamp().notNull().defaultNow(),
})

export const verification = pgTable('verification', {
  id: text().primaryKey(),
  identifier: text().notNull(),
  value: text().notNull(),
  expiresAt: timestamp().notNull(),
  createdAt: timestamp().notNull().defaultNow(),
  updatedAt: timestamp().notNull().defaultNow(),
})

/** What a person signs in with besides the password, as the auth library keeps it: encrypted by the server's secret. */
export const twoFactor = pgTable(
  'two_factor',
  {
    id: text().primaryKey(),
    secret: text().notNull(),
    backupCodes: text().notNull(),
    userId: text()
      .notNull()
      .references(() => user.id, { onDelete: 'cascade' }),
    /** Whether a first code has shown that the person's app knows the secret. */
    verified: boolean().notNull().default(true),
    failedVerificationCount: integer().notNull().default(0),
    lockedUntil: timestamp(),
    /** The hash of the code that was used last, and when: none is good twice (RFC 6238, 5.2). */
    usedCode: text(),
    usedAt: timestamp({ withTimezone: true }),
  },
  (t) => [uniqueIndex('two_factor_person').on(t.userId)],
)

export const rateLimit = pgTable('rate_limit', {
  id: text().primaryKey(),
  key: text().notNull().unique(),
  count: integer().notNull(),
  lastRequest: bigint({ mode: 'number' }).notNull(),
})

export const workspace = pgTable('workspace', {
  id: uuid().primaryKey().defaultRandom(),
  name: text().notNull(),
  /** Whether the brushes that come with the product are out of sight. */
  starterHidden: boolean().notNull().default(false),
  /** Who makes what is made here, and how it is given away: what is new says so, where its file says nothing. */
  maker: text().notNull().default(''),
  licence: text().notNull().default(''),
  createdAt: timestamp().notNull().defaultNow(),
})

/** At most one row: somebody is making the first owner just now. */
export const installClaim = pgTable('install_claim', {
  id: boolean().primaryKey().default(true),
  claimedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
})

const ROLE_NAMES = Object.keys(ROLES) as [Role, ...Role[]]
const AUDIT_NAMES = AUDIT_KIND_NAMES as [AuditKind, ...AuditKind[]]

export const member = pgTable(
  'member',
  {
    workspaceId: uuid()
      .notNull()
      .references(() => workspace.id, { onDelete: 'cascade' }),
    userId: text()
      .notNull()
      .references(() => user.id, { onDelete: 'cascade' }),
    role: text({ enum: ROLE_NAMES }).notNull(),
    joinedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.userId] }),
    // one owner, whoever asks for what at once
    uniqueIndex('member_one_owner').on(t.workspaceId).where(sql`role = 'owner'`),
    index('member_person').on(t.userId),
  ],
)

/** A link by which one person may join a workspace, until it ends. */
export const invitation = pgTable(
  'invitation',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: uuid()
      .notNull()
      .references(() => workspace.id, { onDelete: 'cascade' }),
    role: text({ enum: GIVEN_ROLES }).notNull(),
    /** Whom it is for, as its maker put it. */
    note: text().notNull(),
    /** The link's secret is shown once; this finds it. */
    tokenHash: text().notNull().unique(),
    /** The name of who invites, as it was then. */
    invitedBy: text().notNull(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    expiresAt: timestamp({ withTimezone: true }).notNull(),
    endedAt: timestamp({ withTimezone: true }),
    joinedAt: timestamp({ withTimezone: true }),
  },
  (t) => [index('invitation_workspace').on(t.workspaceId, t.createdAt)],
)

/** By what a program comes in its person's name, until it ends. */
export const apiToken = pgTable(
  'api_token',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: uuid()
      .notNull()
      .references(() => workspace.id, { onDelete: 'cascade' }),
    userId: text()
      .notNull()
      .references(() => user.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    scope: text({ enum: TOKEN_SCOPE_NAMES }).notNull(),
    /** The token is shown once; this finds it. */
    tokenHash: text().notNull().unique(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    expiresAt: timestamp({ withTimezone: true }).notNull(),
    usedAt: timestamp({ withTimezone: true }),
    endedAt: timestamp({ withTimezone: true }),
  },
  (t) => [index('api_token_workspace').on(t.workspaceId, t.userId)],
)

/** What was done of weight in a workspace, by whom: nothing of it is ever changed. */
export const auditLine = pgTable(
  'audit_line',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    workspaceId: uuid()
      .notNull()
      .references(() => workspace.id, { onDelete: 'cascade' }),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
    /** The name as it was then: who has left stands there too. */
    person: text().notNull(),
    kind: text({ enum: AUDIT_NAMES }).notNull(),
    said: text().notNull(),
  },
  (t) => [index('audit_line_newest').on(t.workspaceId, t.id)],
)
