// Bundles the command line; what only photographs need stands in a file of its own.
import { readFileSync } from 'node:fs'
import { build } from 'esbuild'

const { version } = JSON.parse(readFileSync(new URL('package.json', import.meta.url)))

await build({
  entryPoints: ['src/main.ts'],
  outdir: 'dist',
  outExtension: { '.js': '.mjs' },
  splitting: true,
  chunkNames: 'chunk-[hash]',
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  // they have binaries of their own, or files beside them; only photographs and sheets ask for them
  external: ['sharp', 'pdfkit', 'fontkit'],
  define: { SATCHEL_VERSION: JSON.stringify(version) },
  // the argument parser asks for Node's own modules the old way
  banner: {
    js: "import { createRequire as requireOf } from 'node:module'\nconst require = requireOf(import.meta.url)",
  },
  absWorkingDir: new URL('.', import.meta.url).pathname,
  logLevel: 'warning',
})
