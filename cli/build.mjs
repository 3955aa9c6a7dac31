// Bundles the command line into one file without dependencies.
import { build } from 'esbuild'

await build({
  entryPoints: ['src/main.ts'],
  outfile: 'dist/main.mjs',
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  absWorkingDir: new URL('.', import.meta.url).pathname,
  logLevel: 'warning',
})
