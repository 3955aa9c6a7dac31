import { FormatError } from '../errors.ts'
import type { FileSha } from '../hashes.ts'

export const SUMS_PATH = 'SHA256SUMS'

/** One file and the SHA-256 of its bytes. */
export type Sum = { path: string; sha256: FileSha }

/** The lines that `sha256sum -c` reads. */
export function formatSums(sums: readonly Sum[]): string {
  return sums.map(({ sha256, path }) => `${sha256}  ${path}\n`).join('')
}

/**
 * Reads such lines.
 * @throws {FormatError} At the first line that is none.
 */
export function parseSums(text: string): Sum[] {
  return text
    .split('\n')
    .filter((line) => line !== '')
    .map((line, i) => {
      const match = /^([0-9a-f]{64}) [ *](.+)$/.exec(line)
      if (!match) throw new FormatError(SUMS_PATH, undefined, `a checksum and a name in line ${i + 1}`)
      return { sha256: match[1] as FileSha, path: match[2] }
    })
}
