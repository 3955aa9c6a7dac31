// Rebuilds and restarts the server when a source file changes; for ./start --dev.
import { fork, spawnSync } from 'node:child_process'
import { watch } from 'node:fs'
import { fileURLToPath } from 'node:url'

const here = fileURLToPath(new URL('.', import.meta.url))
const SETTLE_MS = 200
let child
let timer

function build() {
  return spawnSync(process.execPath, ['build.mjs'], { cwd: here, stdio: 'inherit' }).status === 0
}

function start() {
  child = fork(`${here}dist/main.mjs`, { stdio: ['ignore', 'inherit', 'inherit', 'ipc'] })
  child.on('message', (message) => process.send?.(message))
}

function restart() {
  if (!build()) return
  child.once('exit', start)
  if (child.exitCode === null) child.kill('SIGTERM')
  else start()
}

for (const folder of [`${here}src`, `${here}../core/src`, `${here}../node/src`, `${here}../drawn/src`]) {
  watch(folder, { recursive: true }, () => {
    clearTimeout(timer)
    timer = setTimeout(restart, SETTLE_MS)
  })
}
for (const signal of ['SIGINT', 'SIGTERM']) {
  process.once(signal, () => {
    child.once('exit', () => process.exit(0))
    child.kill('SIGTERM')
  })
}
start()
