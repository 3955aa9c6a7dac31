import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import pg from 'pg'
import type {} from 'vitest'
import type { TestProject } from 'vitest/node'
import { startPostgres } from '../../../scripts/postgres.mjs'
import { migrateDatabase, openDatabase } from '../db/database.ts'

declare module 'vitest' {
  interface ProvidedContext {
    databaseUrl: string
  }
}

/** A database with every migration and nothing in it: tests begin with copies of it. */
export const TEMPLATE = 'satchel_template'

async function makeTemplate(url: string): Promise<void> {
  const admin = new pg.Client({ connectionString: url })
  await admin.connect()
  await admin.query(`create database ${TEMPLATE}`)
  await admin.end()
  const database = openDatabase(url.replace(/\/[^/]+$/, `/${TEMPLATE}`), { strict: true })
  await migrateDatabase(database, fileURLToPath(new URL('../../drizzle', import.meta.url)))
  // what is open cannot be copied
  await database.close()
}

/** Starts a PostgreSQL of the tests' own, thrown away afterwards. */
export default async function setup(project: TestProject) {
  const folder = mkdtempSync(join(tmpdir(), 'satchel-test-'))
  // The cluster's account must be able to enter it.
  chmodSync(folder, 0o755)
  const postgres = await startPostgres(folder, { durable: false })
  await makeTemplate(postgres.url)
  project.provide('databaseUrl', postgres.url)
  return async () => {
    await postgres.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}
