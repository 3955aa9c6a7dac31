import { parseDestination, type StandInName } from '@satchel/core/destinations/destination'
import { type Carried, type FitWay, parseChoices } from '@satchel/core/destinations/fit-state'
import type { FileSha } from '@satchel/core/hashes'
import { index, integer, jsonb, pgTable, primaryKey, real, text, unique, uuid } from 'drizzle-orm/pg-core'
import { createdAt, fileSha, inWorkspace, maybeAt, named, parsed } from './columns.ts'
import { edition } from './editions.ts'
import { brush, rackSet } from './library.ts'
import { release } from './packs.ts'

/** A destination that the curator describes; those that come with the product are no rows. */
export const destination = pgTable(
  'destination',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    description: parsed(parseDestination).notNull(),
    /** Counts its changes: whoever saves says which one theirs was made on. */
    version: integer().notNull().default(1),
    createdAt: createdAt(),
    updatedAt: createdAt(),
    deletedAt: maybeAt(),
  },
  (t) => [index('destination_workspace').on(t.workspaceId)],
)

/** What of a brush arrives somewhere, as the page shows it. */
export type FitResult = {
  ssim: number
  deltaE: number
  kept: Carried[]
  approximated: Carried[]
  left: Carried[]
  ways: FitWay[]
  tried: { way: FitWay['name']; value: string; score: number }[]
  files: { path: string; sizeBytes: number }[]
  /** What the stand-in passed over, and why. */
  ignored: { path: string; why: string }[]
}

/** What is shown of a cell. */
export const FIT_PICTURES = ['before', 'after', 'difference'] as const
export type FitPicture = (typeof FIT_PICTURES)[number]

/** How a brush arrives at a destination, as it was measured last. A destination is named by its id, or as it comes. */
export const fitCell = pgTable(
  'fit_cell',
  {
    workspaceId: inWorkspace(),
    brushId: uuid()
      .notNull()
      .references(() => brush.id, { onDelete: 'cascade' }),
    destinationId: text().notNull(),
    /** Names all that it was measured of: while that stays, so does the measure. */
    key: text().notNull(),
    /** 0 to 100; below 0 where it could not be measured, and why. */
    score: real().notNull(),
    leftCount: integer().notNull(),
    result: jsonb().$type<FitResult | { refused: string }>().notNull(),
    measuredAt: createdAt(),
  },
  (t) => [
    primaryKey({ columns: [t.brushId, t.destinationId] }),
    index('fit_cell_score').on(t.workspaceId, t.destinationId, t.score),
  ],
)

/** What the curator has answered themselves: for one brush, for a set, or for all that goes to a destination. */
export const fitChoice = pgTable(
  'fit_choice',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    destinationId: text().notNull(),
    /** Absent of what goes for all brushes. */
    brushId: uuid().references(() => brush.id, { onDelete: 'cascade' }),
    setId: uuid().references(() => rackSet.id, { onDelete: 'cascade' }),
    choices: parsed(parseChoices).notNull(),
  },
  (t) => [unique('fit_choice_one').on(t.workspaceId, t.destinationId, t.brushId, t.setId).nullsNotDistinct()],
)

/** A file in the folder of a stand-in. Whatever it is there for, the stand-in knows only these. */
export const standInFile = pgTable(
  'stand_in_file',
  {
    workspaceId: inWorkspace(),
    standIn: text().notNull(),
    path: named().notNull(),
    blobSha: fileSha().notNull(),
    sizeBytes: integer().notNull(),
    createdAt: createdAt(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.standIn, t.path] })],
)

/** Brushes that were put into the folder of an app. */
export const install = pgTable(
  'install',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    name: text().notNull(),
    destinationId: text().notNull(),
    /** The app whose folder it goes into; none where its files are only handed over. */
    standIn: text().$type<StandInName>(),
    /** What a folder of somebody's computer is called, once it was put in there. */
    elsewhere: text(),
    brushIds: uuid().array().notNull(),
    /** The release that its brushes are of; without one they are those of the library, as they are by now. */
    releaseId: uuid().references(() => release.id, { onDelete: 'set null' }),
    /** The edition that its brushes are of: once that is over, it is taken out. */
    editionId: uuid().references(() => edition.id, { onDelete: 'set null' }),
    /** Brushes that could not be written, and why; the others were. */
    refused: jsonb().$type<{ brushId: string; name: string; why: string }[]>().notNull().default([]),
    /** Grains that have a file among those of the install, by their pixels. */
    grains: jsonb().$type<[key: string, path: string][]>().notNull().default([]),
    /** How many of its brushes are written, in their order. */
    writtenCount: integer().notNull().default(0),
    /** Its files are being written; they wait to be put in; they lie in the folder; they were taken out. */
    state: text().$type<'preparing' | 'ready' | 'in' | 'out'>().notNull().default('preparing'),
    createdAt: createdAt(),
    updatedAt: createdAt(),
  },
  (t) => [index('install_workspace').on(t.workspaceId, t.createdAt)],
)

/** What became of a brush of an install when it was written: later changes to the brush do not reach it. */
export const installBrush = pgTable(
  'install_brush',
  {
    installId: uuid()
      .notNull()
      .references(() => install.id, { onDelete: 'cascade' }),
    workspaceId: inWorkspace(),
    brushId: uuid().notNull(),
    name: text().notNull(),
    /** How like itself it paints there, 0 to 100. */
    score: real().notNull(),
    kept: jsonb().$type<Carried[]>().notNull(),
    approximated: jsonb().$type<Carried[]>().notNull(),
    left: jsonb().$type<Carried[]>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.installId, t.brushId] })],
)

/** A file of an install, as it was written. */
export const installFile = pgTable(
  'install_file',
  {
    installId: uuid()
      .notNull()
      .references(() => install.id, { onDelete: 'cascade' }),
    workspaceId: inWorkspace(),
    /** Whose file it is; of a grain, of the brush that brought it first. */
    brushId: uuid().notNull(),
    path: named().notNull(),
    blobSha: fileSha().notNull(),
    sizeBytes: integer().notNull(),
    /** Names all that the files of its brush were made of; empty where that is not known. */
    madeOf: text().notNull().default(''),
  },
  (t) => [primaryKey({ columns: [t.installId, t.path] })],
)

/**
 * What is remembered of a path in the folder of a stand-in for as long as an install holds it; see `installs/places.ts` of
 * core. Who holds it comes in two columns, the lowest first.
 */
export const folderPlace = pgTable(
  'folder_place',
  {
    workspaceId: inWorkspace(),
    standIn: text().$type<StandInName>().notNull(),
    path: text().notNull(),
    /** What the curator had there that was covered, the oldest first. */
    theirs: text().array().$type<FileSha[]>().notNull(),
    claimInstalls: uuid().array().notNull(),
    claimShas: text().array().$type<FileSha[]>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.standIn, t.path] })],
)

/** References in the folder of an app that were mended in one go, as long as that can be undone. */
export const mend = pgTable(
  'mend',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    standIn: text().$type<StandInName>().notNull(),
    ends: integer().notNull(),
    createdAt: createdAt(),
  },
  (t) => [index('mend_workspace').on(t.workspaceId, t.createdAt)],
)

/** A file that a mend has written, and what lay there before. */
export const mendFile = pgTable(
  'mend_file',
  {
    mendId: uuid()
      .notNull()
      .references(() => mend.id, { onDelete: 'cascade' }),
    workspaceId: inWorkspace(),
    path: text().notNull(),
    /** Absent where nothing lay there. */
    beforeSha: text().$type<FileSha>(),
    beforeBytes: integer(),
    afterSha: fileSha().notNull(),
  },
  (t) => [primaryKey({ columns: [t.mendId, t.path] })],
)
