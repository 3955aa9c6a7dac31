// Looks at every regular expression of the code for ways to take exponential time. Run as `npm run regexes`.
import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { transformSync } from 'esbuild'
import jsTokens from 'js-tokens'
import { isSafe } from 'redos-detector'

const root = resolve(dirname(fileURLToPath(import.meta.url)), '..')
/** Parts whose code meets texts from outside. */
const PARTS = ['core/src', 'server/src', 'web/src', 'cli/src']
/** How often a matcher may go back over a text: above that it grows with more than the text's length. */
const SCORE_MAX = 100
const TIMEOUT_MS = 5_000

/** @param {string} folder */
function* sources(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name)
    if (entry.isDirectory() && entry.name !== 'testing') yield* sources(path)
    else if (/\.tsx?$/.test(entry.name) && !/\.(test|drill|generated)\.tsx?$/.test(entry.name)) yield path
  }
}

let count = 0
const problems = []
for (const part of PARTS)
  for (const file of sources(join(root, part))) {
    const { code } = transformSync(readFileSync(file, 'utf8'), {
      loader: file.endsWith('x') ? 'tsx' : 'ts',
      jsx: 'automatic',
    })
    for (const { type, value } of jsTokens(code)) {
      if (type !== 'RegularExpressionLiteral') continue
      count++
      const end = value.lastIndexOf('/')
      const [source, flags] = [value.slice(1, end), value.slice(end + 1)]
      let said
      try {
        const { safe, error } = isSafe(new RegExp(source, flags), { maxScore: SCORE_MAX, timeout: TIMEOUT_MS })
        if (!safe) said = error ?? 'its time grows with more than the length of the text'
      } catch (error) {
        said = `it cannot be looked at: ${error.message}`
      }
      if (said) problems.push(`${relative(root, file)}: ${value}: ${said}`)
    }
  }
for (const problem of problems) console.error(problem)
console.log(
  problems.length === 0
    ? `${count} regular expressions, all of them linear enough.`
    : `${problems.length} of ${count} are not.`,
)
process.exit(problems.length === 0 ? 0 : 1)
