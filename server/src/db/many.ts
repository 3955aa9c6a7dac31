import { type Column, getTableColumns, type SQL, sql } from 'drizzle-orm'
import type { PgTable } from 'drizzle-orm/pg-core'
import type { Db } from './database.ts'

/** Parameters of one statement: the protocol counts them in 16 bits (PostgreSQL manual, "Message Formats", Bind). */
const PARAMETERS_MAX = 65_535
/** Rows of one statement: more make it no quicker, and its text long. */
const ROWS_MAX = 1000

/** Whether a column is one of a list of any length: the list goes as one parameter. */
export function isAnyOf(column: Column, values: readonly string[]): SQL {
  // how a column orders its values is no part of their type
  const type = column.getSQLType().split(' COLLATE ', 1).join()
  return sql`${column} = any(${sql.param(values)}::${sql.raw(type)}[])`
}

/** Rows in parts that one statement can insert, however many columns the table has. */
export function* inParts<Row>(table: PgTable, rows: readonly Row[]): Generator<Row[]> {
  const columns = Object.keys(getTableColumns(table)).length
  const size = Math.min(ROWS_MAX, Math.floor(PARAMETERS_MAX / columns))
  for (let at = 0; at < rows.length; at += size) yield rows.slice(at, at + size)
}

/** Rows from which on the database is told at once how many there are. */
export const MANY_ROWS = 1000

/**
 * Has the database look at how many rows tables have by now. It does so by itself within a minute; until then it takes a table that
 * was filled just now for a small one, and walks all of it for each row of another.
 */
export async function countAnew(db: Db, tables: readonly (PgTable | string)[]): Promise<void> {
  for (const table of tables)
    await db.execute(sql`analyze ${typeof table === 'string' ? sql.identifier(table) : table}`)
}

/** The entry of a list that goes with another one's. @throws {RangeError} If there is none: an empty name must not stand for it. */
export function entryOf<Entry>(list: readonly Entry[], i: number): Entry {
  const entry = list[i]
  if (entry === undefined) throw new RangeError(`the list of ${list.length} has no entry ${i}`)
  return entry
}
