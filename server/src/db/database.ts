import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import pg from 'pg'
import * as schema from './schema/all.ts'

/** The database, or a transaction in it: query functions take either. */
export type Db = Pick<
  NodePgDatabase<typeof schema>,
  'select' | 'selectDistinct' | 'insert' | 'update' | 'delete' | 'execute' | 'transaction'
>

export type Database = { db: Db; pool: pg.Pool; close: () => Promise<void> }

const POOL_MAX = 12

/** Opens the pool. */
export function openDatabase(url: string): Database {
  const pool = new pg.Pool({ connectionString: url, max: POOL_MAX })
  const db = drizzle(pool, { schema, casing: 'snake_case' })
  return { db, pool, close: () => pool.end() }
}

/** A database made by a newer version of this product. */
export class NewerDatabase extends Error {}

/**
 * Brings the database up to this version's schema. Servers that start together take turns.
 * @throws {NewerDatabase} If the database already knows migrations that this version does not.
 */
export async function migrateDatabase({ pool }: Database, migrationsFolder: string): Promise<void> {
  const client = await pool.connect()
  try {
    await client.query('select pg_advisory_lock(8126)')
    const { readMigrationFiles } = await import('drizzle-orm/migrator')
    const known = readMigrationFiles({ migrationsFolder })
    const exists = await client.query("select to_regclass('drizzle.__drizzle_migrations') as name")
    if (exists.rows[0].name) {
      const { rows } = await client.query('select max(created_at) as latest from drizzle.__drizzle_migrations')
      const newest = Math.max(...known.map((migration) => migration.folderMillis))
      if (Number(rows[0].latest) > newest) {
        throw new NewerDatabase(
          'The data folder was written by a newer version of Gentle Satchel; start that version, or choose another folder.',
        )
      }
    }
    await migrate(drizzle(client, { casing: 'snake_case' }), { migrationsFolder })
  } finally {
    await client.query('select pg_advisory_unlock(8126)')
    client.release()
  }
}
