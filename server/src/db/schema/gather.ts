import type { Difference } from '@satchel/core/alike/differences'
import type { Recipe } from '@satchel/core/brush/recipe'
import { PICTURE_USES } from '@satchel/core/grain/picture-use'
import type { ReferenceKind } from '@satchel/core/loose-ends/references'
import type { Decision } from '@satchel/core/newer/merge'
import { sql } from 'drizzle-orm'
import { bigint, boolean, index, integer, jsonb, pgTable, real, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import * as v from 'valibot'
import { bytea, createdAt, fileSha, inWorkspace, maybeAt, parsed, withRecipe } from './columns.ts'
import { FromExchange } from './exchanges.ts'
import { followedFile, followedFolder } from './followed.ts'
import type { StoredFrame, StoredThumbnail } from './library.ts'
import type { OfferedCard } from './setup-cards.ts'
import type { LineSource, LineTaken } from './taken.ts'

/** A grain that came with a brush out of a pack. */
export type LineGrain = StoredFrame & { name: string; seamAcross: number; seamDown: number }

/** One go of bringing brushes in: nothing of it is in the library until it is taken in. */
export const gather = pgTable(
  'gather',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    state: text({ enum: ['open', 'taken', 'cancelled'] })
      .notNull()
      .default('open'),
    createdAt: createdAt(),
    endedAt: maybeAt(),
    /** The folder whose files are read by it; what is new of them goes on to the one that everybody sees. */
    folderId: uuid().references(() => followedFolder.id, { onDelete: 'cascade' }),
    /** What taking in added, so that it can be taken back. */
    added: jsonb().$type<TakenRows>(),
    /** What of its loose ends was mended, the newest last. */
    mends: jsonb().$type<LineMend[]>().notNull().default([]),
  },
  (t) => [
    uniqueIndex('gather_one_open').on(t.workspaceId).where(sql`${t.state} = 'open' and ${t.folderId} is null`),
    uniqueIndex('gather_one_followed').on(t.folderId).where(sql`${t.state} = 'open'`),
  ],
)

/** The rows that taking a ledger in added to the library, and the brushes that it brought to another version. */
export type TakenRows = {
  brushes: string[]
  sets: string[]
  materials: string[]
  pocketItems: string[]
  followed?: { id: string; from: number; to: number }[]
  /** Setup cards that were laid out. */
  cards?: string[]
  /** Brushes that came back out of the bin. */
  restored?: string[]
}

/** An uploaded file, as it came. */
export const gatherFile = pgTable(
  'gather_file',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    gatherId: uuid()
      .notNull()
      .references(() => gather.id, { onDelete: 'cascade' }),
    path: text().notNull(),
    sizeBytes: bigint({ mode: 'number' }).notNull(),
    blobSha: fileSha().notNull(),
    state: text({ enum: ['waiting', 'reading', 'read'] })
      .notNull()
      .default('waiting'),
    /** The attempt of the job that reads it; lines of an earlier one are refused. */
    attempt: integer(),
    createdAt: createdAt(),
    /** Setup cards that came in it. */
    cards: jsonb().$type<OfferedCard[]>(),
    /** The link of this server that it came by, if any. */
    handOutId: uuid(),
    /** The exchange that it was taken from, and what of it was wanted. */
    exchange: parsed((stored) => v.parse(FromExchange, stored)),
    /** The file of a followed folder that it is. */
    followedId: uuid().references(() => followedFile.id, { onDelete: 'set null' }),
  },
  (t) => [
    index('gather_file_followed').on(t.followedId).where(sql`${t.followedId} is not null`),
    index('gather_file_gather').on(t.gatherId, t.state),
  ],
)

/**
 * A large file on its way: its pieces are stored under a name of the upload's own until it is whole, and is a file of the
 * ledger then.
 */
export const upload = pgTable(
  'upload',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    gatherId: uuid()
      .notNull()
      .references(() => gather.id, { onDelete: 'cascade' }),
    path: text().notNull(),
    sizeBytes: bigint({ mode: 'number' }).notNull(),
    /** When the file was changed last where it comes from, ms since 1970: with path and size it names the same file. */
    modifiedMs: bigint({ mode: 'number' }).notNull(),
    receivedBytes: bigint({ mode: 'number' }).notNull().default(0),
    createdAt: createdAt(),
  },
  (t) => [index('upload_gather').on(t.gatherId)],
)

/**
 * What a line is a copy of: the original's name, and its picture with how that is read, to lay beside it. The picture is
 * the original's own and not kept alive from here, hence no `FileSha`.
 */
export type Duplicate = {
  of: 'library' | 'batch'
  how: 'exact' | 'alike'
  name: string
  picture?: { blobSha: string; reading: string } | undefined
  /** How one that looks alike differs from the original, and whether all of that goes unseen in painting. */
  differs?: Difference[]
  same?: boolean
  /** Names what was compared: while both stay, it need not be compared again. */
  pair?: string
}

/** A set of a pack that a brush lies in: the set's place in the pack, and the brush's place in the set. */
export type InSet = { name: string; order: number; at: number }

/** An entry of a pack's pocket: the pocket's name, the entry's place in it, its size and what it is called there. */
export type PackPin = { pocket: string; at: number; sizePx: number; label: string }

/** What is known about a brush besides its pictures, where the file says it. Only brushes out of a pack name sets. */
export type LineBrush = {
  maker: string
  licence: string
  tags: string[]
  recipe: Recipe
  inSets: InSet[]
  pins?: PackPin[]
  thumbnail?: StoredThumbnail
  fileKeys?: [key: string, value: string][]
  source?: LineSource
}

/**
 * What the settings of a brush say that lie among the files: its recipe, by the names of its parts, and what it refers to.
 * Their hashes are of files as they came, which are not kept: they keep nothing alive, hence no `FileSha`.
 */
export type LineSettings = {
  said: Record<string, unknown>
  references: { kind: ReferenceKind; target: string; sha256: string | null }[]
  /** Where the curator has found what a reference means, by its kind. */
  mended: { [Kind in ReferenceKind]?: string | undefined }
}

/** References of a ledger that were mended in one go, and what each of them was before. */
export type LineMend = {
  id: string
  ends: number
  at: string
  before: { lineId: string; mended: LineSettings['mended'] }[]
}

/** One line of the ledger: a brush to be, or a file and why it is not one. */
export const gatherLine = pgTable(
  'gather_line',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    gatherId: uuid()
      .notNull()
      .references(() => gather.id, { onDelete: 'cascade' }),
    fileId: uuid()
      .notNull()
      .references(() => gatherFile.id, { onDelete: 'cascade' }),
    ordinal: integer().notNull(),
    folder: text().notNull(),
    path: text().notNull(),
    name: text().notNull(),
    kind: text().notNull(),
    outcome: text({ enum: ['take', 'skip', 'refuse'] }).notNull(),
    /** Whether the curator chose the outcome; then duplicates no longer change it. */
    decided: boolean().notNull().default(false),
    reason: text().notNull().default(''),
    width: integer(),
    height: integer(),
    frames: jsonb().$type<StoredFrame[]>().notNull().default([]),
    /** The frames as they came, while a smaller copy stands in for them. */
    fullFrames: jsonb().$type<StoredFrame[]>(),
    brush: parsed(withRecipe<LineBrush>()),
    setName: text().notNull().default(''),
    /** What the picture is for: guessed first, then as the curator says. */
    use: text({ enum: PICTURE_USES }).notNull().default('tip'),
    seamAcross: real(),
    seamDown: real(),
    grain: jsonb().$type<LineGrain>(),
    pixelKey: text(),
    alikeKey: bytea(),
    alikeMark: bytea(),
    duplicate: jsonb().$type<Duplicate>(),
    /** The SHA-256 of the file as it came; by it settings find their pictures. */
    fileHash: text(),
    settings: jsonb().$type<LineSettings>(),
    /** Whether it is a picture or a grain of a brush whose settings are in the ledger, too. */
    isPart: boolean().notNull().default(false),
    /** What it is known by in all releases of its pack; only of brushes out of a pack. */
    origin: uuid(),
    /** How it stands to what was taken of it before, as it was when that was last looked at. */
    taken: jsonb().$type<LineTaken>(),
    /** What the curator has decided of it, where it was changed here and there. */
    decision: jsonb().$type<Decision>(),
  },
  (t) => [
    index('gather_line_order').on(
      t.gatherId,
      sql`${t.folder} collate "natural_order"`,
      sql`${t.path} collate "natural_order"`,
      t.ordinal,
      t.id,
    ),
    index('gather_line_file').on(t.fileId),
    index('gather_line_origin').on(t.gatherId, t.origin).where(sql`${t.origin} is not null`),
    index('gather_line_settings').on(t.gatherId).where(sql`${t.settings} is not null`),
  ],
)
