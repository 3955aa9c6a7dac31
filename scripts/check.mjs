// Runs every check and counts: lint, types, arrows, dead code, unit, server and end-to-end tests.
import { spawn, spawnSync } from 'node:child_process'
import { mkdirSync, readFileSync, rmSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { buildIfNeeded } from './build-if-needed.mjs'

const root = resolve(dirname(fileURLToPath(import.meta.url)), '..')
const reports = join(root, '.check')
rmSync(reports, { recursive: true, force: true })
mkdirSync(reports)
const total = { passed: 0, failed: 0 }

function run(name, command, args, env = {}) {
  console.log(`\n== ${name}`)
  const { status } = spawnSync(command, args, {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, ...env },
  })
  return status === 0
}

/** A check that passes or fails as a whole. */
function single(name, script) {
  if (run(name, 'npm', ['run', '--silent', script])) total.passed++
  else total.failed++
}

/** Counts tests one by one; a run that breaks without a failing test counts as one failure. */
function tally(name, ok, count) {
  let counts
  try {
    counts = count()
  } catch (error) {
    console.error(`${name} left no report: ${error.message}`)
    counts = { passed: 0, failed: 0 }
  }
  if (!ok && counts.failed === 0) counts.failed = 1
  if (ok && counts.passed === 0) counts.failed = 1
  total.passed += counts.passed
  total.failed += counts.failed
}

/** Runs that share the cores: each says what it has to say when it has ended. */
function together(runs) {
  return Promise.all(
    runs.map(
      ({ name, command, args, count }) =>
        new Promise((done) => {
          const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] })
          const said = []
          for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => said.push(chunk))
          child.once('close', (status) => {
            console.log(`\n== ${name}`)
            process.stdout.write(Buffer.concat(said))
            tally(name, status === 0, count)
            done()
          })
        }),
    ),
  )
}

const report = (file) => JSON.parse(readFileSync(join(reports, file), 'utf8'))
const vitest = (name, projects, shard = '1/1') => {
  const file = `${name.replaceAll(/[ /]/g, '-')}.json`
  const args = [
    'vitest',
    'run',
    ...projects.flatMap((project) => ['--project', project]),
    `--shard=${shard}`,
    '--reporter=default',
    '--reporter=json',
    `--outputFile=${join(reports, file)}`,
  ]
  const count = () => {
    const { numPassedTests, numFailedTests } = report(file)
    return { passed: numPassedTests, failed: numFailedTests }
  }
  return { name, command: 'npx', args, count }
}

try {
  buildIfNeeded(root)
  single('lint', 'lint')
  single('types', 'types')
  single('arrows', 'arrows')
  single('regular expressions', 'regexes')
  single('dead code', 'dead')
  // each takes one core, and little else; half of the server's go on when the others have ended
  await together([
    vitest('unit tests', ['core', 'node', 'drawn', 'web', 'cli', 'scripts']),
    ...['1/2', '2/2'].map((shard) => vitest(`server tests ${shard}`, ['server'], shard)),
  ])
  const ok = run('end-to-end tests', 'npx', ['playwright', 'test', '-c', 'e2e/playwright.config.ts'], {
    CHECK_REPORT: join(reports, 'e2e.json'),
  })
  tally('end-to-end tests', ok, () => {
    const { expected, unexpected, flaky } = report('e2e.json').stats
    return { passed: expected, failed: unexpected + flaky }
  })
} catch (error) {
  console.error(error.message)
  total.failed++
}
console.log(`\n${total.passed} passed, ${total.failed} failed`)
process.exit(total.failed === 0 ? 0 : 1)
