import type { Recipe } from '@satchel/core/brush/recipe'
import type { SetMark } from '@satchel/core/forms/set-marks'
import type { FileSha, PixelSha } from '@satchel/core/hashes'
import { sql } from 'drizzle-orm'
import {
  bigint,
  bigserial,
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  real,
  text,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core'
import { bytea, createdAt, fileSha, inWorkspace, maybeAt, named, parsed, pixelSha, withRecipe } from './columns.ts'

/** Files up to this size stay in the database wherever the others rest: asking a store for one takes longer than its bytes. */
export const SMALL_BYTES = 16_384

/** A file that never changes, stored once a workspace, named by the SHA-256 of its bytes. */
export const blob = pgTable(
  'blob',
  {
    workspaceId: inWorkspace(),
    sha256: fileSha().notNull(),
    sizeBytes: bigint({ mode: 'number' }).notNull(),
    mediaType: text().notNull(),
    /** Under which name it lies in a store beside the database; none while its pieces lie here. No other file ever has that name. */
    objectName: text(),
    createdAt: createdAt(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.sha256] }),
    uniqueIndex('blob_object').on(t.objectName).where(sql`${t.objectName} is not null`),
    // what is still to be moved, the one way and the other
    index('blob_in_pieces')
      .on(t.workspaceId, t.sha256)
      .where(sql`${t.objectName} is null and ${t.sizeBytes} > ${sql.raw(String(SMALL_BYTES))}`),
    index('blob_in_store').on(t.workspaceId, t.sha256).where(sql`${t.objectName} is not null`),
  ],
)

/** A blob's bytes, in pieces. */
export const blobPiece = pgTable(
  'blob_piece',
  {
    workspaceId: inWorkspace(),
    sha256: fileSha().notNull(),
    ordinal: integer().notNull(),
    bytes: bytea().notNull(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.sha256, t.ordinal] })],
)

/** The tip of one brush, now or in an earlier version: one picture or several frames. `pixelKey` finds the same pixels. */
export const tip = pgTable(
  'tip',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    pixelKey: text().notNull(),
    /** What tips that look like it are found by; none until it was measured, empty where it paints nothing. */
    alikeKey: bytea(),
    alikeMark: bytea(),
    /** Keys of the open animated brush it came as that mean nothing here; they are written back. */
    fileKeys: jsonb().$type<[key: string, value: string][]>().notNull().default([]),
    createdAt: createdAt(),
  },
  (t) => [index('tip_pixel_key').on(t.workspaceId, t.pixelKey)],
)

/** A frame as stored: the PNG file's name, the pixels' name, the size, and what the file it came in called it. */
export type StoredFrame = { blobSha: FileSha; pixelSha: PixelSha; width: number; height: number; name?: string }

export const tipFrame = pgTable(
  'tip_frame',
  {
    workspaceId: inWorkspace(),
    tipId: uuid()
      .notNull()
      .references(() => tip.id, { onDelete: 'cascade' }),
    ordinal: integer().notNull(),
    blobSha: fileSha().notNull(),
    pixelSha: pixelSha().notNull(),
    width: integer().notNull(),
    height: integer().notNull(),
    /** What the file it came in called it, if anything. */
    name: text().notNull().default(''),
  },
  (t) => [primaryKey({ columns: [t.tipId, t.ordinal] }), index('tip_frame_blob').on(t.workspaceId, t.blobSha)],
)

/**
 * A brush, as lists filter and show it. The row is kept narrow, so that a search reads few pages: the recipe lies in the
 * version that `version` names, and a few columns are copies out of it.
 */
export const brush = pgTable(
  'brush',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    name: named().notNull(),
    maker: named().notNull().default(''),
    licence: text().notNull().default(''),
    tags: text().array().notNull().default(sql`'{}'`),
    tipId: uuid()
      .notNull()
      .references(() => tip.id),
    reading: text().notNull(),
    behaviour: text().notNull(),
    sizePx: real().notNull(),
    frames: integer().notNull(),
    /** The grain's pixels, where the recipe has one. */
    grainSha: pixelSha(),
    ribbon: boolean().notNull().default(false),
    /** Lower-case name, maker and tags, for the search box. */
    searchText: text().notNull(),
    /** Which of its versions is the current one; later ones can be redone. */
    version: integer().notNull().default(1),
    createdAt: createdAt(),
    updatedAt: createdAt(),
    deletedAt: maybeAt(),
    /** The brush it was copied from, as it was called then. */
    copiedFrom: jsonb().$type<CopiedFrom>(),
    /** Came with the product: can be hidden, not destroyed, and is no part of counts and packs unless asked for. */
    starter: boolean().notNull().default(false),
  },
  (t) => [
    // The name itself stands at the end so that the index alone can walk to any place of the list.
    index('brush_by_name')
      .on(t.workspaceId, sql`lower(${t.name})`, t.id, t.name)
      .where(sql`${t.deletedAt} is null and not ${t.starter}`),
    index('brush_by_newest')
      .on(t.workspaceId, t.createdAt, t.id)
      .where(sql`${t.deletedAt} is null and not ${t.starter}`),
    index('brush_by_size').on(t.workspaceId, t.sizePx, t.id).where(sql`${t.deletedAt} is null and not ${t.starter}`),
    // without a list of pending entries, which every search after a large take-in would walk
    index('brush_search').using('gin', sql`${t.searchText} gin_trgm_ops`).with({ fastupdate: false }),
    index('brush_tags').using('gin', t.tags),
    index('brush_tip').on(t.tipId),
    index('brush_binned').on(t.workspaceId, t.id).where(sql`${t.deletedAt} is not null`),
    index('brush_grain').on(t.workspaceId, t.grainSha).where(sql`${t.grainSha} is not null`),
  ],
)

export type CopiedFrom = { id: string; name: string; maker: string }

/** What stands for a brush in tiles and packs, with the file of a picture made for it; see `Thumbnail` of core. */
export type StoredThumbnail =
  | { from: 'stroke' }
  | { from: 'frame'; frame: number }
  | { from: 'region'; blobSha: FileSha }
  | { from: 'text'; text: string; blobSha: FileSha }

/** What a saved version of a brush holds: everything of it that can change. */
export type BrushSnapshot = {
  name: string
  maker: string
  licence: string
  tags: string[]
  recipe: Recipe
  tipId: string
  thumbnail: StoredThumbnail
}

export const brushVersion = pgTable(
  'brush_version',
  {
    workspaceId: inWorkspace(),
    brushId: uuid()
      .notNull()
      .references(() => brush.id, { onDelete: 'cascade' }),
    ordinal: integer().notNull(),
    snapshot: parsed(withRecipe<BrushSnapshot>()).notNull(),
    /** What the curator calls this version, if anything. */
    label: text().notNull().default(''),
    createdAt: createdAt(),
  },
  (t) => [
    primaryKey({ columns: [t.brushId, t.ordinal] }),
    index('version_tip').on(t.workspaceId, sql`(${t.snapshot} ->> 'tipId')`),
    index('version_thumbnail')
      .on(t.workspaceId, sql`(${t.snapshot} -> 'thumbnail' ->> 'blobSha')`)
      .where(sql`${t.snapshot} -> 'thumbnail' ->> 'blobSha' is not null`),
  ],
)

export const rackSet = pgTable(
  'brush_set',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    name: text().notNull(),
    /** Fractional key: its place among the sets. */
    position: text().notNull(),
    hidden: boolean().notNull().default(false),
    /** The set that it lies in: of those that hold sets nothing is kept but their names. At first the folder or zip that several came in. */
    folder: text().notNull().default(''),
    /** Came with the product; see `brush.starter`. */
    starter: boolean().notNull().default(false),
    /** What the curator wants to remember of it, and the mark on its label; see `SET_MARKS`. */
    note: text().notNull().default(''),
    mark: text().$type<SetMark | ''>().notNull().default(''),
    createdAt: createdAt(),
    deletedAt: maybeAt(),
  },
  (t) => [uniqueIndex('brush_set_position').on(t.workspaceId, t.position)],
)

export const setItem = pgTable(
  'set_item',
  {
    workspaceId: inWorkspace(),
    setId: uuid()
      .notNull()
      .references(() => rackSet.id, { onDelete: 'cascade' }),
    brushId: uuid()
      .notNull()
      .references(() => brush.id, { onDelete: 'cascade' }),
    position: text().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.setId, t.brushId] }),
    index('set_item_brush').on(t.brushId),
    index('set_item_order').on(t.setId, sql`${t.position} collate "C"`, t.brushId),
  ],
)

/**
 * How many entries sets have, as changes that are added up: each change of `set_item` writes its own row (by triggers, migration
 * 0046), so that nobody waits for anybody, and rows of a set that have become many are made one.
 */
export const setCount = pgTable(
  'set_count',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    workspaceId: inWorkspace(),
    setId: uuid()
      .notNull()
      .references(() => rackSet.id, { onDelete: 'cascade' }),
    change: integer().notNull(),
  },
  (t) => [index('set_count_of').on(t.workspaceId, t.setId), index('set_count_set').on(t.setId)],
)
