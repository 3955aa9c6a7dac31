import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import { startTestServer, type TestServer } from '../testing/test-server.ts'
import { LIBRARY_TABLES } from './library-tables.ts'

let server: TestServer
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
afterAll(() => server.close())

it.each(LIBRARY_TABLES)('rows of $name are found without a look at other tables for each of them', async (table) => {
  const workspace = sql.raw(`'00000000-0000-4000-8000-000000000000'::uuid`)
  const { rows } = await server.parts.deps.db.execute<{ 'QUERY PLAN': string }>(sql`explain
    select 1 from ${sql.raw(`"${table.sqlName}"`)} t where t.workspace_id = ${workspace} and ${table.where(workspace)}`)
  const plan = rows.map((row) => row['QUERY PLAN']).join('\n')
  expect(plan).toContain(`Scan`)
  // a plan within a row's condition is carried out for every row, unless its answers are kept in a table of hashes
  expect(plan.replaceAll('hashed SubPlan', '')).not.toContain('SubPlan')
})
