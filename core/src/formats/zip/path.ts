import { FormatError } from '../../errors.ts'
import { hasUnseen, showUnseen, toUtf8 } from '../text.ts'
import { ZIP } from './layout.ts'

/** Longest name of a file or folder, bytes, that common file systems take, and of a whole path below a folder of one's own. */
const PART_MAX_BYTES = 255
const PATH_MAX_BYTES = 3500

/**
 * Checks that an entry's path stays inside the folder it is unpacked to and is the same on every system.
 * @throws {FormatError} For an absolute path, a drive letter, `..`, a backslash, characters that nobody sees, or a name
 * that is too long to be unpacked.
 */
export function checkEntryPath(path: string, offset = 0): void {
  const problem = pathProblem(path)
  if (problem) throw new FormatError(ZIP, offset, `safe file names; "${showUnseen(path).slice(0, 80)}" ${problem}`)
}

function pathProblem(path: string): string | undefined {
  if (path === '') return 'is empty'
  if (path.startsWith('/')) return 'is absolute'
  if (/^[A-Za-z]:/.test(path)) return 'names a drive'
  if (path.includes('\\')) return 'holds a backslash'
  if (hasUnseen(path)) return 'holds a control character'
  const parts = path.split('/')
  if (parts.some((part) => part === '..' || part === '.')) return 'leaves its folder'
  if (toUtf8(path).length > PATH_MAX_BYTES || parts.some((part) => toUtf8(part).length > PART_MAX_BYTES))
    return 'is too long to be unpacked'
  return undefined
}
