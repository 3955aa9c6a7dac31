import { readFile } from 'node:fs/promises'
import type { LibraryInfo } from '@satchel/core/pack/library-file'
import { sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { LIBRARY_TABLES, type LibraryTable, STARTER, type TableName } from './library-tables.ts'
import { countAnew } from './many.ts'
import { saveFacts } from './members.ts'

/** How much of a library there is: what is told before it is written. */
export async function countLibrary(db: Db, workspaceId: string) {
  const { rows } = await db.execute<{ brushes: number; sets: number; packs: number; sources: number }>(sql`select
    (select count(*)::int from brush where workspace_id = ${workspaceId} and not starter and deleted_at is null) as brushes,
    (select count(*)::int from brush_set where workspace_id = ${workspaceId} and not starter and deleted_at is null) as sets,
    (select count(*)::int from pack where workspace_id = ${workspaceId} and deleted_at is null) as packs,
    (select count(*)::int from source where workspace_id = ${workspaceId} and deleted_at is null) as sources`)
  const [row] = rows
  if (!row) throw new Error('a library was not counted')
  return row
}

/** Whether nobody has brought anything into a library yet: what came with the product does not count, nor what the bin has. */
export async function isLibraryEmpty(db: Db, workspaceId: string): Promise<boolean> {
  const { rows } = await db.execute<{ full: boolean }>(sql`select
    exists (select from brush where workspace_id = ${workspaceId} and not starter)
    or exists (select from brush_set where workspace_id = ${workspaceId} and not starter)
    or exists (select from pack where workspace_id = ${workspaceId})
    or exists (select from source where workspace_id = ${workspaceId}) as full`)
  return rows[0]?.full === false
}

type Part = { table: string; file: string }

/** What is there already of these gives way, or stays: a grain of the product's own brushes, an answer. */
const AGAIN: Partial<Record<TableName, string>> = {
  material:
    'on conflict (workspace_id, kind, pixel_sha) do update set name = excluded.name, deleted_at = excluded.deleted_at',
  fitChoice: 'on conflict do nothing',
}

/**
 * Puts the rows of a library into one that is empty, all or none; to be called in a transaction.
 * @param parts Files with checked rows, in the order of the tables.
 */
export async function insertLibrary(
  tx: Db,
  workspaceId: string,
  info: LibraryInfo,
  parts: readonly Part[],
): Promise<void> {
  await saveFacts(tx, workspaceId, { maker: info.maker, licence: info.licence })
  await moveStarterSets(tx, workspaceId, info)
  for (const table of LIBRARY_TABLES)
    for (const { file } of parts.filter((part) => part.table === table.name))
      await insertRows(tx, workspaceId, table, await readFile(file, 'utf8'))
  await countAnew(
    tx,
    LIBRARY_TABLES.map(({ sqlName }) => sqlName),
  )
}

/** @param rows An array in JSON: the database takes it apart, and nobody here. */
async function insertRows(tx: Db, workspaceId: string, table: LibraryTable, rows: string): Promise<void> {
  const columns = sql.raw([...table.columns.keys()].map((column) => `"${column}"`).join(', '))
  const name = sql.raw(`"${table.sqlName}"`)
  await tx.execute(sql`insert into ${name} (workspace_id, ${columns})
    select ${workspaceId}::uuid, ${columns} from jsonb_populate_recordset(null::${name}, ${rows}::jsonb)
    ${sql.raw(AGAIN[table.name] ?? '')}`)
}

/** The brushes and sets of a workspace that came with the product, by what a library file calls them. */
export async function findStarters(db: Db, workspaceId: string) {
  const find = async (table: string) => {
    const { rows } = await db.execute<{ id: string; name: string }>(
      sql`select id, name from ${sql.raw(table)} where workspace_id = ${workspaceId} and starter`,
    )
    return rows.map(({ id, name }): [name: string, id: string] => [`${STARTER}${name}`, id])
  }
  return { brush: await find('brush'), rackSet: await find('brush_set') }
}

/** Sets stand where they stood, those of the product too: no two stand at one place, even for a moment. */
async function moveStarterSets(tx: Db, workspaceId: string, { starterSets }: LibraryInfo): Promise<void> {
  await tx.execute(sql`update brush_set set position = 'moved ' || id where workspace_id = ${workspaceId} and starter`)
  for (const { name, position } of starterSets)
    await tx.execute(sql`update brush_set set position = ${position}
      where id = (select id from brush_set where workspace_id = ${workspaceId} and starter and name = ${name}
        and position like 'moved %' limit 1)`)
  // those that were not known then stand behind
  await tx.execute(sql`update brush_set set position = 'z' || replace(id::text, '-', '')
    where workspace_id = ${workspaceId} and starter and position like 'moved %'`)
}
