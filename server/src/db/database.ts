import { AsyncLocalStorage } from 'node:async_hooks'
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import pg from 'pg'
import * as schema from './schema/all.ts'

/** The database, or a transaction in it: query functions take either. */
export type Db = Pick<
  NodePgDatabase<typeof schema>,
  'select' | 'selectDistinct' | 'selectDistinctOn' | 'insert' | 'update' | 'delete' | 'execute' | 'transaction'
>

export type Database = { db: Db; pool: pg.Pool; close: () => Promise<void> }

const POOL_MAX = 12
/**
 * How long a request waits for a connection before it is told that the database is away: one that is gone refuses at once,
 * and one that is only slow, as on a machine that is overrun, has time.
 */
const CONNECT_MS = 15_000
/**
 * How long a transaction may lie still between two statements. A server that stands still in the middle of one would
 * otherwise keep what it has locked for ever, and whoever takes its work over would wait for it.
 */
const STILL_MS = 10_000

/**
 * Opens the pool. Connections may be lost at any time; the next request opens another.
 * @param options.onLost Told of a connection that was lost.
 * @param options.strict Refuses a second connection to what already holds one: enough such requests at once would wait for
 * each other for ever. For tests.
 */
export function openDatabase(
  url: string,
  { onLost = () => undefined, strict = false }: { onLost?: (error: Error) => void; strict?: boolean } = {},
): Database {
  const pool = new pg.Pool({
    connectionString: url,
    max: POOL_MAX,
    connectionTimeoutMillis: CONNECT_MS,
    idle_in_transaction_session_timeout: STILL_MS,
  })
  pool.on('error', onLost)
  // the pool itself listens to idle connections alone
  pool.on('connect', (client) => client.on('error', onLost))
  const db = drizzle(pool, { schema, casing: 'snake_case' })
  if (strict) forbidNesting(pool, db)
  return { db, pool, close: () => pool.end() }
}

function forbidNesting(pool: pg.Pool, db: NodePgDatabase<typeof schema>): void {
  const holding = new AsyncLocalStorage<true>()
  const transaction = db.transaction.bind(db)
  db.transaction = (work, config) => transaction((tx) => holding.run(true, () => work(tx)), config)
  const connect = pool.connect.bind(pool)
  pool.connect = ((...args: Parameters<typeof connect>) => {
    if (holding.getStore()) throw new Error('asks for a second connection while it holds one')
    return connect(...args)
  }) as typeof pool.connect
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
