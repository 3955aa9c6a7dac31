// Measures speed against references in the same run, and writes docs/benchmarks.md. Run as `npm run bench`.
import { chmodSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import { build } from 'esbuild'
import { buildIfNeeded } from './build-if-needed.mjs'
import { startPostgres } from './postgres.mjs'

const root = resolve(dirname(fileURLToPath(import.meta.url)), '..')
const out = join(root, 'server/dist/bench') // here the server's own packages are found

buildIfNeeded(root)
mkdirSync(out, { recursive: true })
const shared = { bundle: true, absWorkingDir: root, logLevel: 'warning', target: 'es2023' }
await build({
  ...shared,
  entryPoints: ['scripts/bench/main.ts'],
  outfile: join(out, 'main.mjs'),
  platform: 'node',
  format: 'esm',
  external: [
    'sharp',
    'pg',
    'pg-*',
    'drizzle-orm',
    'hono',
    '@hono/*',
    'better-auth',
    'piscina',
    'pino',
    '@playwright/test',
    'semver',
    'spdx-license-list',
    'p-map',
    'fractional-indexing',
  ],
})
await build({
  ...shared,
  entryPoints: ['scripts/bench/stamps-page.ts'],
  outfile: join(out, 'stamps-page.js'),
  format: 'iife',
})

const folder = mkdtempSync(join(tmpdir(), 'satchel-bench-'))
chmodSync(folder, 0o755)
const postgres = await startPostgres(join(folder, 'postgres'))
try {
  const { runBenchmarks } = await import(pathToFileURL(join(out, 'main.mjs')))
  await runBenchmarks({ root, folder, databaseUrl: postgres.url, stampsPage: join(out, 'stamps-page.js') })
} finally {
  await postgres.stop()
  rmSync(folder, { recursive: true, force: true })
}
process.exit(0)
