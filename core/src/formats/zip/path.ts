import { FormatError } from '../../errors.ts'
import { ZIP } from './layout.ts'

// biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are exactly what is refused
const CONTROL = /[\u0000-\u001f\u007f]/

/**
 * Checks that an entry's path stays inside the folder it is unpacked to and is the same on every system.
 * @throws {FormatError} For an absolute path, a drive letter, `..`, a backslash, or a control character.
 */
export function checkEntryPath(path: string, offset = 0): void {
  const problem = pathProblem(path)
  if (problem)
    throw new FormatError(ZIP, offset, `safe file names; "${path.replace(CONTROL, '?').slice(0, 80)}" ${problem}`)
}

function pathProblem(path: string): string | undefined {
  if (path === '') return 'is empty'
  if (path.startsWith('/')) return 'is absolute'
  if (/^[A-Za-z]:/.test(path)) return 'names a drive'
  if (path.includes('\\')) return 'holds a backslash'
  if (CONTROL.test(path)) return 'holds a control character'
  if (path.split('/').some((part) => part === '..' || part === '.')) return 'leaves its folder'
  return undefined
}
