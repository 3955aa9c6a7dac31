import { bigint, index, pgTable, text, uuid } from 'drizzle-orm/pg-core'
import * as v from 'valibot'
import { createdAt, fileSha, inWorkspace, parsed } from './columns.ts'

const Uuid = v.pipe(v.string(), v.uuid())

/** What can be wrapped up to be fetched: a brush, a set, a sheet to print, or everything. */
export const Wanted = v.variant('kind', [
  v.strictObject({ kind: v.literal('brush'), brushId: Uuid }),
  v.strictObject({ kind: v.literal('set'), setId: Uuid }),
  v.strictObject({ kind: v.literal('packSheet'), packId: Uuid, paper: v.picklist(['a4', 'letter']) }),
  v.strictObject({ kind: v.literal('setSheet'), setId: Uuid, paper: v.picklist(['a4', 'letter']) }),
  v.strictObject({ kind: v.literal('setPicture'), setId: Uuid }),
  v.strictObject({ kind: v.literal('library') }),
])
export type Wanted = v.InferOutput<typeof Wanted>

/** A file that was made for the curator to fetch, or that came whole and waits to be put in. It is kept for some days. */
export const parcel = pgTable(
  'parcel',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    wanted: parsed((stored) => v.parse(Wanted, stored)).notNull(),
    /** What it holds, in words. */
    title: text().notNull(),
    /** What its file is called; absent until it is made. */
    fileName: text(),
    mediaType: text(),
    blobSha: fileSha(),
    sizeBytes: bigint({ mode: 'number' }),
    createdAt: createdAt(),
  },
  (t) => [index('parcel_workspace').on(t.workspaceId, t.createdAt)],
)
