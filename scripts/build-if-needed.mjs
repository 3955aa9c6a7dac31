// Builds only what changed since the last build, so that a second start is quick.
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { SetupError } from './postgres.mjs'

const STAMP = 'node_modules/.satchel-build'
const INPUTS = ['core', 'node', 'drawn', 'server', 'web', 'cli', 'package-lock.json', 'tsconfig.base.json']
const SKIPPED = /^(node_modules|dist|drizzle)$|\.generated\.ts$|\.test\.tsx?$/
const OUTPUTS = ['server/dist/main.mjs', 'server/dist/worker.mjs', 'web/dist/index.html', 'cli/dist/main.mjs']

/** Runs the build when a source file changed or a result is missing. @param {string} root The project's folder. */
export function buildIfNeeded(root) {
  const now = fingerprint(root)
  const stamp = join(root, STAMP)
  const fresh =
    existsSync(stamp) && readFileSync(stamp, 'utf8') === now && OUTPUTS.every((file) => existsSync(join(root, file)))
  if (fresh) return
  console.error('Building ...')
  const built = spawnSync('npm', ['run', '--silent', 'build'], { cwd: root, encoding: 'utf8' })
  if (built.status !== 0) {
    console.error(built.stdout, built.stderr)
    throw new SetupError('The build failed; its reasons stand above.')
  }
  writeFileSync(stamp, now)
}

function fingerprint(root) {
  const hash = createHash('sha256')
  const visit = (path) => {
    const info = statSync(join(root, path))
    if (info.isDirectory()) {
      for (const name of readdirSync(join(root, path)).sort()) if (!SKIPPED.test(name)) visit(join(path, name))
    } else hash.update(`${path} ${info.size} ${info.mtimeMs}\n`)
  }
  for (const input of INPUTS) visit(input)
  return hash.digest('hex')
}
