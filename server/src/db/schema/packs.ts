import type { BrushFigures } from '@satchel/core/check-list/figures'
import { CoverPlan } from '@satchel/core/cover/cover'
import { type Destination, parseDestination } from '@satchel/core/destinations/destination'
import { type Choices, parseChoices } from '@satchel/core/destinations/fit-state'
import type { FileSha, PixelSha } from '@satchel/core/hashes'
import { bringUpToDate } from '@satchel/core/pack/read-manifest'
import { bigint, integer, jsonb, pgTable, primaryKey, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import * as v from 'valibot'
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
  /** How its cover was composed; absent where it is a picture of one's own, or none. */
  cover: parsed((stored) => v.parse(CoverPlan, stored)),
  /** The cover itself; without one the stroke of a brush stands for the pack. */
  coverSha: fileSha(),
  /** Where it is meant to be painted with: destinations by their ids. */
  destinationIds: text().array().notNull().default([]),
  /** How like itself a brush shall paint there, 0 to 100. */
  leastLikeness: integer().notNull().default(70),
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

/** What is said of a brush in a pack, and whether it stands there by itself. */
export const packBrush = pgTable(
  'pack_brush',
  {
    workspaceId: inWorkspace(),
    packId: uuid()
      .notNull()
      .references(() => pack.id, { onDelete: 'cascade' }),
    brushId: uuid()
      .notNull()
      .references(() => brush.id, { onDelete: 'cascade' }),
    /** Its place among those that stand by themselves; absent of what is there by its sets alone. */
    ordinal: integer(),
    note: text().notNull().default(''),
    /** The version of it that was looked at last, or released. */
    looked: integer(),
  },
  (t) => [primaryKey({ columns: [t.packId, t.brushId] })],
)

/** A finding of the check list that the curator lets pass, and why. */
export const letPass = pgTable(
  'let_pass',
  {
    workspaceId: inWorkspace(),
    packId: uuid()
      .notNull()
      .references(() => pack.id, { onDelete: 'cascade' }),
    /** Names the finding: its rule, and what it is about. */
    finding: text().notNull(),
    reason: text().notNull(),
    createdAt: createdAt(),
  },
  (t) => [primaryKey({ columns: [t.packId, t.finding] })],
)

/** What was measured of a brush for check lists; as good as long as the key stays. */
export const brushFigures = pgTable('brush_figures', {
  brushId: uuid()
    .primaryKey()
    .references(() => brush.id, { onDelete: 'cascade' }),
  workspaceId: inWorkspace(),
  /** Names all that the figures follow from. */
  key: text().notNull(),
  /** Or the sentence that says why it could not be measured. */
  figures: jsonb().$type<BrushFigures | { refused: string }>().notNull(),
})

/** A finding that was let pass when a release was made, in words. */
export type LetPass = { finding: string; sentence: string; reason: string }

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

/** A destination as it was when a release was made, with the answers for each brush that has any. */
export type FrozenDestination = { id: string; description: Destination; choices: [brushId: string, choices: Choices][] }

const parseFrozen = (stored: unknown): FrozenDestination[] =>
  (stored as FrozenDestination[]).map(({ id, description, choices }) => ({
    id,
    description: parseDestination(description),
    choices: choices.map(([brushId, answers]) => [brushId, parseChoices(answers)]),
  }))

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
    coverSha: fileSha(),
    state: text({ enum: ['building', 'ready', 'failed'] }).notNull(),
    zipSha: fileSha(),
    zipBytes: bigint({ mode: 'number' }),
    zipFiles: integer(),
    /** What lies in the download, so that parts of it can be given; absent of what was built before that was noted. */
    contentsSha: fileSha(),
    /** Where it was meant to go, as that was described then, and the answers for its brushes there. */
    destinations: parsed(parseFrozen).notNull().default([]),
    /** What its check list was told to let pass. */
    letPass: jsonb().$type<LetPass[]>().notNull().default([]),
    /** The brushes whose strokes are on its cover; absent where that was not noted. */
    coverBrushIds: text().array(),
    /** Taken back, and why. */
    recalledAt: maybeAt(),
    recallReason: text().notNull().default(''),
    createdAt: createdAt(),
  },
  (t) => [uniqueIndex('release_version').on(t.packId, t.version)],
)
