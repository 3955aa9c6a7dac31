import type { FileSha } from '@satchel/core/hashes'
import { type SQL, sql } from 'drizzle-orm'
import type { PgColumn, PgTable } from 'drizzle-orm/pg-core'
import type * as schema from './schema/all.ts'
import {
  blob,
  brushVersion,
  editionBuild,
  folderPlace,
  gatherFile,
  gatherLine,
  installFile,
  material,
  mendFile,
  pack,
  parcel,
  release,
  source,
  standInFile,
  tipFrame,
} from './schema/all.ts'

type Schema = Omit<typeof schema, 'blob' | 'blobPiece'>

/** Whether a value of a column names a stored file somewhere in it. */
type NamesFile<Value> = Value extends FileSha
  ? true
  : Value extends string | number | boolean | Date | Uint8Array | null | undefined
    ? never
    : Value extends readonly (infer Item)[]
      ? NamesFile<Item>
      : { [Key in keyof Value]-?: NamesFile<Value[Key]> }[keyof Value]

type ColumnsOf<Table extends keyof Schema> = Schema[Table] extends { $inferSelect: infer Row }
  ? { [Column in keyof Row & string]: true extends NamesFile<Row[Column]> ? `${Table}.${Column}` : never }[keyof Row &
      string]
  : never
/** Every column that names stored files, as table.column; follows from the types of the schema. */
type OwnerName = { [Table in keyof Schema]: ColumnsOf<Table> }[keyof Schema]

type Owner = {
  /** True for a row of `blob` that a row of the owner's table names. */
  holds: SQL
  /** The names in one value of the column. */
  namesIn(value: never): (FileSha | undefined)[]
}

type InWorkspace = PgTable & { workspaceId: PgColumn }
const existsIn = (table: InWorkspace, names: SQL, from: SQL = sql`${table}`): SQL =>
  sql`exists (select 1 from ${from} where ${table.workspaceId} = ${blob.workspaceId} and ${names})`
const isIn = (table: InWorkspace, column: PgColumn): Owner => ({
  holds: existsIn(table, sql`${column} = ${blob.sha256}`),
  namesIn: (value: FileSha | null) => [value ?? undefined],
})

const isAmong = (table: InWorkspace, column: PgColumn): Owner => ({
  holds: existsIn(table, sql`${blob.sha256} = any(${column})`),
  namesIn: (value: readonly FileSha[]) => [...value],
})

type Frames = readonly { blobSha: FileSha }[] | null
const framesIn = (column: PgColumn): Owner => ({
  holds: existsIn(
    gatherLine,
    sql`f ->> 'blobSha' = ${blob.sha256}`,
    sql`${gatherLine}, jsonb_array_elements(coalesce(${column}, '[]')) as f`,
  ),
  namesIn: (value: Frames) => (value ?? []).map(({ blobSha }) => blobSha),
})
const ownFileOf = (thumbnail: object | undefined): FileSha | undefined =>
  thumbnail && 'blobSha' in thumbnail ? (thumbnail.blobSha as FileSha) : undefined

/** Who keeps stored files alive: one row a column that names some. The compiler holds the table complete. */
export const PICTURE_OWNERS: Record<OwnerName, Owner> = {
  'tipFrame.blobSha': isIn(tipFrame, tipFrame.blobSha),
  'brushVersion.snapshot': {
    holds: existsIn(brushVersion, sql`${brushVersion.snapshot} -> 'thumbnail' ->> 'blobSha' = ${blob.sha256}`),
    namesIn: ({ thumbnail }: schema.BrushSnapshot) => [ownFileOf(thumbnail)],
  },
  'gatherFile.blobSha': isIn(gatherFile, gatherFile.blobSha),
  'gatherLine.frames': framesIn(gatherLine.frames),
  'gatherLine.fullFrames': framesIn(gatherLine.fullFrames),
  'gatherLine.grain': {
    holds: existsIn(gatherLine, sql`${gatherLine.grain} ->> 'blobSha' = ${blob.sha256}`),
    namesIn: (value: { blobSha: FileSha } | null) => [value?.blobSha],
  },
  'gatherLine.brush': {
    holds: existsIn(gatherLine, sql`${gatherLine.brush} -> 'thumbnail' ->> 'blobSha' = ${blob.sha256}`),
    namesIn: (value: schema.LineBrush | null) => [ownFileOf(value?.thumbnail)],
  },
  'material.blobSha': isIn(material, material.blobSha),
  'release.brushes': {
    holds: existsIn(
      release,
      sql`(b -> 'blobs' ? ${blob.sha256} or b ->> 'grainBlob' = ${blob.sha256} or b ->> 'thumbnailBlob' = ${blob.sha256})`,
      sql`${release}, jsonb_array_elements(${release.brushes}) as b`,
    ),
    namesIn: (value: readonly schema.ReleaseBrush[]) =>
      value.flatMap(({ blobs, grainBlob, thumbnailBlob }) => [...blobs, grainBlob, thumbnailBlob]),
  },
  'standInFile.blobSha': isIn(standInFile, standInFile.blobSha),
  'installFile.blobSha': isIn(installFile, installFile.blobSha),
  'folderPlace.theirs': isAmong(folderPlace, folderPlace.theirs),
  'folderPlace.claimShas': isAmong(folderPlace, folderPlace.claimShas),
  'mendFile.beforeSha': isIn(mendFile, mendFile.beforeSha),
  'mendFile.afterSha': isIn(mendFile, mendFile.afterSha),
  'release.zipSha': isIn(release, release.zipSha),
  'release.contentsSha': isIn(release, release.contentsSha),
  'pack.coverSha': isIn(pack, pack.coverSha),
  'release.coverSha': isIn(release, release.coverSha),
  'editionBuild.zipSha': isIn(editionBuild, editionBuild.zipSha),
  'editionBuild.contentsSha': isIn(editionBuild, editionBuild.contentsSha),
  'parcel.blobSha': isIn(parcel, parcel.blobSha),
  'source.file': {
    holds: existsIn(source, sql`${source.file} ->> 'blobSha' = ${blob.sha256}`),
    namesIn: (value: { blobSha: FileSha }) => [value.blobSha],
  },
}

/** Rows of `blob` that nobody names any more. */
export const isNobodys: SQL = sql.join(
  Object.values(PICTURE_OWNERS).map(({ holds }) => sql`not ${holds}`),
  sql` and `,
)

/** Whether rows of a table name files. */
export const ownsFiles = (table: string): table is keyof Schema =>
  Object.keys(PICTURE_OWNERS).some((name) => name.startsWith(`${table}.`))

/** The files that rows of a table name, in all of its columns; each once. */
export function filesOf<Table extends keyof Schema>(table: Table, rows: readonly object[]): FileSha[] {
  const columns = Object.entries(PICTURE_OWNERS).filter(([name]) => name.startsWith(`${table}.`))
  if (columns.length === 0) throw new Error(`${table} names no files`)
  const names = rows.flatMap((row) =>
    columns.flatMap(([name, { namesIn }]) =>
      namesIn((row as Record<string, never>)[name.slice(table.length + 1)] as never),
    ),
  )
  return [...new Set(names.filter((name) => name !== undefined))]
}
