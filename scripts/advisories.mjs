// Holds the lock file against the registry's list of known holes. Run as `npm run advisories`.
import { spawnSync } from 'node:child_process'
import { dirname, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = resolve(dirname(fileURLToPath(import.meta.url)), '..')
/** Exit codes: nothing known, something is, the list could not be asked. */
const EXIT = { none: 0, some: 1, unknown: 3 }

const { stdout, stderr } = spawnSync('npm', ['audit', '--json', ...process.argv.slice(2)], {
  cwd: root,
  encoding: 'utf8',
  maxBuffer: 64 * 1024 * 1024,
})
let report
try {
  report = JSON.parse(stdout)
} catch {
  report = { error: { summary: stderr.trim().split('\n').at(-1) || 'it gave no answer' } }
}
if (report.error || !report.metadata?.vulnerabilities) {
  const why = report.error?.summary || report.error?.detail || report.message || 'it gave no answer'
  console.log(
    `Not known: the registry's list of advisories could not be asked (${why.replaceAll(/https?:\/\/\S+/g, 'its address')}). Nothing was checked.`,
  )
  process.exit(EXIT.unknown)
}
const { total } = report.metadata.vulnerabilities
const packages = report.metadata.dependencies?.total ?? 'all'
if (total === 0) {
  console.log(`No known holes in the ${packages} packages of the lock file.`)
  process.exit(EXIT.none)
}
for (const { name, severity, range, via, fixAvailable } of Object.values(report.vulnerabilities)) {
  const what = via.map((each) => (typeof each === 'string' ? `through ${each}` : each.title)).join('; ')
  console.log(`${name} ${range}: ${severity}, ${what}${fixAvailable ? ' (a mended version is there)' : ''}`)
}
console.log(`${total} known holes.`)
process.exit(EXIT.some)
