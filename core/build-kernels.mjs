// Compiles the SIMD kernels and writes them as a TypeScript module, so that nothing has to be fetched at run time.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

const here = dirname(fileURLToPath(import.meta.url))
const compiler = join(dirname(createRequire(import.meta.url).resolve('assemblyscript/package.json')), 'bin/asc.js')
const scratch = mkdtempSync(join(tmpdir(), 'kernels-'))
const wasm = join(scratch, 'stamp.wasm')
try {
  execFileSync(
    process.execPath,
    [
      compiler,
      join(here, 'kernels/stamp.as.ts'),
      '-o',
      wasm,
      '-O3',
      '--enable',
      'simd',
      '--importMemory',
      '--runtime',
      'stub',
      '--noAssert',
      '--initialMemory',
      '1',
      '--memoryBase',
      '0',
    ],
    { stdio: 'inherit', cwd: here },
  )
  writeFileSync(
    join(here, 'src/stroke/kernel/stamp-wasm.generated.ts'),
    `/** Compiled from kernels/stamp.as.ts by build-kernels.mjs. */\nexport const STAMP_WASM = Uint8Array.of(${[...readFileSync(wasm)]})\n`,
  )
} finally {
  rmSync(scratch, { recursive: true })
}
