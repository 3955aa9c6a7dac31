import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type {} from 'vitest'
import type { TestProject } from 'vitest/node'
import { startPostgres } from '../../../scripts/postgres.mjs'

declare module 'vitest' {
  interface ProvidedContext {
    databaseUrl: string
  }
}

/** Starts a PostgreSQL of the tests' own, thrown away afterwards. */
export default async function setup(project: TestProject) {
  const folder = mkdtempSync(join(tmpdir(), 'satchel-test-'))
  // The cluster's account must be able to enter it.
  chmodSync(folder, 0o755)
  const postgres = await startPostgres(folder, { durable: false })
  project.provide('databaseUrl', postgres.url)
  return async () => {
    await postgres.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}
