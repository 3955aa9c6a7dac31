// Bundles the server and its worker; packages stay outside, our own workspaces go in.
import { readFileSync } from 'node:fs'
import { build } from 'esbuild'

const ours = ['package.json', '../node/package.json', '../drawn/package.json']
const packages = ours.flatMap((file) =>
  Object.keys(JSON.parse(readFileSync(new URL(file, import.meta.url))).dependencies),
)

await build({
  entryPoints: {
    main: 'src/main.ts',
    worker: 'src/workers/child.ts',
    mailbox: 'src/mailbox/main.ts',
    kiosk: 'src/kiosk/main.ts',
    exchange: 'src/exchange/main.ts',
    files: 'src/files/main.ts',
  },
  outdir: 'dist',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  splitting: true,
  chunkNames: 'chunk-[hash]',
  sourcemap: true,
  external: packages.filter((name) => !name.startsWith('@satchel/')),
  absWorkingDir: new URL('.', import.meta.url).pathname,
  logLevel: 'warning',
})
