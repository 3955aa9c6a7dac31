// Measures speed against references in the same run, and writes docs/benchmarks.md. Run as `npm run bench`;
// `npm run bench strokes` measures only the steps so called, and writes nothing.
import { execFileSync } from 'node:child_process'
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { createRequire } from 'node:module'
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
// packages stay outside, what is our own goes in
const { dependencies } = JSON.parse(readFileSync(join(root, 'server/package.json'), 'utf8'))
const packages = Object.keys(dependencies).filter((name) => !name.startsWith('@satchel/'))
const shared = { bundle: true, absWorkingDir: root, logLevel: 'warning', target: 'es2023' }
await build({
  ...shared,
  entryPoints: ['scripts/bench/main.ts', 'scripts/bench/read-one.ts', 'scripts/bench/download-all.ts'],
  outdir: out,
  outExtension: { '.js': '.mjs' },
  platform: 'node',
  format: 'esm',
  external: [...packages, 'pg-*', '@playwright/test', 's3rver'],
})
await build({
  ...shared,
  entryPoints: ['scripts/bench/strokes-page.ts'],
  outfile: join(out, 'strokes-page.js'),
  format: 'iife',
})

execFileSync(
  process.execPath,
  [
    join(dirname(createRequire(join(root, 'core/package.json')).resolve('assemblyscript/package.json')), 'bin/asc.js'),
    ...[join(root, 'scripts/bench/blit.as.ts'), '-o', join(out, 'blit.wasm'), '-O3', '--enable', 'simd'],
    ...['--importMemory', '--runtime', 'stub', '--noAssert', '--initialMemory', '1', '--memoryBase', '0'],
  ],
  { stdio: 'inherit', cwd: root },
)

const folder = mkdtempSync(join(tmpdir(), 'satchel-bench-'))
chmodSync(folder, 0o755)
const postgres = await startPostgres(join(folder, 'postgres'))
try {
  const { runBenchmarks } = await import(pathToFileURL(join(out, 'main.mjs')))
  const options = {
    root,
    folder,
    databaseUrl: postgres.url,
    strokesPage: join(out, 'strokes-page.js'),
    blit: join(out, 'blit.wasm'),
    readOne: join(out, 'read-one.mjs'),
    downloadAll: join(out, 'download-all.mjs'),
  }
  await runBenchmarks(options, process.argv[2])
} finally {
  await postgres.stop()
  rmSync(folder, { recursive: true, force: true })
}
process.exit(0)
