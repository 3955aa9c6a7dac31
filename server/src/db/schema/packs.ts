import type { FileSha, PixelSha } from '@satchel/core/hashes'
import { bringUpToDate } from '@satchel/core/pack/read-manifest'
import { bigint, index, integer, jsonb, pgTable, primaryKey, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import { createdAt, fileSha, inWorkspace, maybeAt, named, parsed } from './columns.ts'
import { brush, rackSet } from './library.ts'

/** What is composed for handing on. */
export const pack = pgTable('pack', {
  id: uuid().primaryKey().defaultRandom(),
  workspaceId: inWorkspace(),
  title: named().notNull(),
  maker: text().notNull().default(''),
  licence: text().notNull().default(''),
  /** The licence's own words where it is none of the SPDX list. */
  licenceText: text().notNull().default(''),
  help: text().notNull().default(''),
  coverBrushId: uuid().references(() => brush.id, { onDelete: 'set null' }),
  createdAt: createdAt(),
  deletedAt: maybeAt(),
})

export const packSet = pgTable(
  'pack_set',
  {
    workspaceId: inWorkspace(),
    packId: uuid()
      .notNull()
      .references(() => pack.id, { onDelete: 'cascade' }),
    setId: uuid()
      .notNull()
      .references(() => rackSet.id, { onDelete: 'cascade' }),
    ordinal: integer().notNull(),
  },
  (t) => [primaryKey({ columns: [t.packId, t.setId] })],
)

/** A brush of a release, frozen: where its frames' files are stored. */
export type ReleaseBrush = {
  id: string
  blobs: FileSha[]
  pixels: PixelSha[]
  widths: number[]
  heights: number[]
  /** The file of its grain. */
  grainBlob?: FileSha | undefined
  /** The file of a thumbnail that is a picture of its own. */
  thumbnailBlob?: FileSha | undefined
}

/** A version of a pack that never changes: the manifest is the snapshot, the blob the built download. */
export const release = pgTable(
  'release',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    packId: uuid()
      .notNull()
      .references(() => pack.id, { onDelete: 'cascade' }),
    version: text().notNull(),
    notes: text().notNull().default(''),
    manifest: parsed(bringUpToDate).notNull(),
    brushes: jsonb().$type<ReleaseBrush[]>().notNull(),
    licenceText: text().notNull(),
    coverBrushId: text(),
    state: text({ enum: ['building', 'ready', 'failed'] }).notNull(),
    zipSha: fileSha(),
    zipBytes: bigint({ mode: 'number' }),
    zipFiles: integer(),
    createdAt: createdAt(),
  },
  (t) => [uniqueIndex('release_version').on(t.packId, t.version)],
)

/** A release given to one person or group through a link. Only the link's hash is kept. */
export const handOut = pgTable(
  'hand_out',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    releaseId: uuid()
      .notNull()
      .references(() => release.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    tokenHash: text().notNull().unique(),
    endsAt: maybeAt(),
    downloadLimit: integer(),
    downloads: integer().notNull().default(0),
    withdrawnAt: maybeAt(),
    createdAt: createdAt(),
  },
  (t) => [index('hand_out_release').on(t.releaseId)],
)

/** What was fetched through a hand-out, and when. `grantHash` names the download, which its holder may go on with for a while. */
export const delivery = pgTable(
  'delivery',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    handOutId: uuid()
      .notNull()
      .references(() => handOut.id, { onDelete: 'cascade' }),
    at: createdAt(),
    grantHash: text(),
    /** Granted and not sent yet; sent to its last byte; broken off before that, which counts against no limit. */
    state: text({ enum: ['open', 'sent', 'broken'] })
      .notNull()
      .default('sent'),
  },
  (t) => [index('delivery_hand_out').on(t.handOutId, t.at), uniqueIndex('delivery_grant').on(t.grantHash)],
)
