import { type SQL, sql } from 'drizzle-orm'
import { getTableConfig, type PgTable } from 'drizzle-orm/pg-core'
import * as all from './schema/all.ts'

type Schema = typeof all
/** All tables by their names: a plain object, since they are looked up. */
const schema: Record<TableName, PgTable> = { ...all }
export type TableName = keyof { [Name in keyof Schema as Schema[Name] extends PgTable ? Name : never]: true }

/** Of a table: which rows are the library, in what order they are written; or why it is none of it. */
type Kept = { where: (workspace: SQL) => SQL; order: string }
type Left = { not: string }

const every = () => sql`true`
// The workspace is named, not taken from the row: else each row would ask for all of these anew.
const ownBrushes = (workspace: SQL) => sql`(select id from brush where workspace_id = ${workspace} and not starter)`
const ownTips = (workspace: SQL) => sql`(
  select tip_id from brush where workspace_id = ${workspace} and not starter
  union select (snapshot ->> 'tipId')::uuid from brush_version where brush_id in ${ownBrushes(workspace)})`

/** The same in each library: brushes that come with the product have other ids in each. */
const BY_BRUSH = `(select case when b.starter then b.name else b.id::text end from brush b where b.id = t.brush_id) collate "C"`

const OF_THIS_SERVER = 'who may come in, and how, is of this server: a backup holds it'
const WORKED_OUT = 'is worked out anew from the rest'
const OF_THIS_MACHINE = 'what lies in the folders of apps here'
const FOLLOWED = 'folders are followed by who has them, at this server'
const UNDER_WAY = 'what is only under way'

/**
 * What of the database is the library, a row a table; the compiler holds it complete. In this order rows can be put in: none
 * names what comes later.
 */
export const TABLES: { [Name in TableName]: Kept | Left } = {
  tip: { where: (workspace) => sql`t.id in ${ownTips(workspace)}`, order: 'id' },
  tipFrame: { where: (workspace) => sql`t.tip_id in ${ownTips(workspace)}`, order: 'tip_id, ordinal' },
  brush: { where: () => sql`not t.starter`, order: 'id' },
  brushVersion: { where: (workspace) => sql`t.brush_id in ${ownBrushes(workspace)}`, order: 'brush_id, ordinal' },
  rackSet: { where: () => sql`not t.starter`, order: 'id' },
  setItem: {
    where: (workspace) => sql`t.set_id in (select id from brush_set where workspace_id = ${workspace} and not starter)`,
    order: `set_id, position collate "C", ${BY_BRUSH}`,
  },
  setCount: { not: WORKED_OUT },
  material: { where: every, order: 'kind, pixel_sha' },
  takenPack: { where: every, order: 'id' },
  takenBrush: { where: every, order: 'origin' },
  setupCard: { where: every, order: 'id' },
  keptSearch: { where: every, order: 'id' },
  marksApart: { where: every, order: 'mark collate "C", original collate "C"' },
  keptBoth: { where: every, order: 'brush_id, root collate "C"' },
  pocket: { where: every, order: 'id' },
  pocketItem: { where: every, order: 'id' },
  source: { where: every, order: 'id' },
  sourceMade: { where: every, order: 'id' },
  destination: { where: every, order: 'id' },
  fitChoice: { where: every, order: 'id' },
  pack: { where: every, order: 'id' },
  packSet: { where: every, order: 'pack_id, ordinal, set_id' },
  packBrush: { where: every, order: `pack_id, ${BY_BRUSH}` },
  letPass: { where: every, order: 'pack_id, finding' },
  release: { where: every, order: 'id' },
  edition: { where: every, order: 'id' },
  blob: { not: 'its files lie beside' },
  blobPiece: { not: 'its files lie beside' },
  filesRest: { not: OF_THIS_SERVER },
  looseObject: { not: OF_THIS_SERVER },
  user: { not: OF_THIS_SERVER },
  session: { not: OF_THIS_SERVER },
  account: { not: OF_THIS_SERVER },
  verification: { not: OF_THIS_SERVER },
  rateLimit: { not: OF_THIS_SERVER },
  twoFactor: { not: OF_THIS_SERVER },
  workspace: { not: 'its maker and licence stand in the head of the file' },
  member: { not: OF_THIS_SERVER },
  invitation: { not: OF_THIS_SERVER },
  apiToken: { not: OF_THIS_SERVER },
  auditLine: { not: OF_THIS_SERVER },
  presence: { not: UNDER_WAY },
  lastSave: { not: OF_THIS_SERVER },
  installClaim: { not: OF_THIS_SERVER },
  signingKey: { not: 'only its owner carries it on' },
  handOut: { not: 'links lead to this server' },
  delivery: { not: 'links lead to this server' },
  handOutNote: { not: 'links lead to this server' },
  mail: { not: 'links lead to this server' },
  mailTemplate: { where: every, order: 'kind' },
  recipient: { not: 'who got something, and their addresses, stay on this server' },
  shop: { not: 'who sells, and by which secret, is of this server' },
  shopProduct: { not: 'who sells, and by which secret, is of this server' },
  purchase: { not: 'who got something, and their addresses, stay on this server' },
  phoneLink: { not: OF_THIS_SERVER },
  published: { not: 'what is shared where is signed by the key of this server' },
  followedFolder: { not: FOLLOWED },
  followedFile: { not: FOLLOWED },
  followedPart: { not: FOLLOWED },
  followedDay: { not: FOLLOWED },
  gather: { not: UNDER_WAY },
  gatherFile: { not: UNDER_WAY },
  gatherLine: { not: UNDER_WAY },
  upload: { not: UNDER_WAY },
  job: { not: UNDER_WAY },
  parcel: { not: UNDER_WAY },
  brushFigures: { not: WORKED_OUT },
  editionBuild: { not: WORKED_OUT },
  fitCell: { not: WORKED_OUT },
  comparedMark: { not: WORKED_OUT },
  strokeLook: { not: WORKED_OUT },
  libraryAct: { not: UNDER_WAY },
  brushWord: { not: WORKED_OUT },
  libraryWord: { not: WORKED_OUT },
  install: { not: OF_THIS_MACHINE },
  installBrush: { not: OF_THIS_MACHINE },
  installFile: { not: OF_THIS_MACHINE },
  standInFile: { not: OF_THIS_MACHINE },
  folderPlace: { not: OF_THIS_MACHINE },
  mend: { not: OF_THIS_MACHINE },
  mendFile: { not: OF_THIS_MACHINE },
}

const snake = (key: string) => key.replace(/[A-Z]/g, (sign) => `_${sign.toLowerCase()}`)

export type LibraryTable = Kept & {
  name: TableName
  /** What it is called in the database. */
  sqlName: string
  /** Each column by what it is called in the database, without the workspace's. */
  columns: Map<string, { key: string; read: (stored: unknown) => unknown; isNeeded: boolean }>
  /** Columns that name rows of other tables. */
  references: { column: string; to: TableName }[]
}

const nameOf = (table: PgTable) => (Object.keys(TABLES) as TableName[]).find((name) => schema[name] === table)

/** The tables that are the library, in order. */
export const LIBRARY_TABLES: LibraryTable[] = (Object.entries(TABLES) as [TableName, Kept | Left][]).flatMap(
  ([name, kept]) => {
    if ('not' in kept) return []
    const { name: sqlName, columns, foreignKeys } = getTableConfig(schema[name])
    return {
      ...kept,
      name,
      sqlName,
      columns: new Map(
        columns
          .filter((column) => column.name !== 'workspaceId')
          .map((column) => [
            snake(column.name),
            {
              key: column.name,
              // only what is JSON of ours is read by a reader of its own
              read:
                column.getSQLType() === 'jsonb'
                  ? (stored: unknown) => column.mapFromDriverValue(stored)
                  : (stored: unknown) => stored,
              isNeeded: column.notNull,
            },
          ]),
      ),
      references: foreignKeys.flatMap((key) => {
        const {
          columns: [from],
          foreignTable,
        } = key.reference()
        const to = nameOf(foreignTable)
        return from && to && to !== 'workspace' ? [{ column: snake(from.name), to }] : []
      }),
    }
  },
)

/** Stands in a row for a brush or set that came with the product: each workspace has its own. */
export const STARTER = 'starter:'
