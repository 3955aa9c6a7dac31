import { FormatError, LimitError } from '@satchel/core/errors'

/** Exit codes: done, a file is bad or cannot be opened, the command was not understood. */
export const EXIT = { done: 0, bad: 1, misuse: 2 } as const

/** Words on the command line that cannot be followed. */
export class UsageError extends Error {}

/** A file that cannot be used, in one sentence that names it. */
export class FileProblem extends Error {
  constructor(
    readonly file: string,
    readonly reason: string,
    options?: ErrorOptions,
  ) {
    super(`${file}: ${reason}`, options)
  }
}

/** What the system says when a file cannot be opened or written, in words. */
const SYSTEM_WORDS: Record<string, string> = {
  ENOENT: 'there is no such file or folder; check the path.',
  EACCES: 'you may not open it; ask for the right to, or copy it to a place of your own.',
  EPERM: 'you may not open it; ask for the right to, or copy it to a place of your own.',
  EISDIR: 'it is a folder; name a file in it.',
  ENOTDIR: 'a part of its path is a file, not a folder; check the path.',
  ENOSPC: 'the disk is full; make room and run it again.',
  EROFS: 'the disk cannot be written to; choose another place.',
  EMFILE: 'too many files are open; close some programs and run it again.',
  ENAMETOOLONG: 'its name is too long; choose a shorter one.',
  ELOOP: 'its links lead in a circle; name the file itself.',
  EPIPE: 'whoever read it stopped reading.',
}

/**
 * An error about a file as a sentence that names the file; anything else is thrown on.
 * @param what What was wanted of it, for the rare error without words of its own.
 */
export function toFileProblem(file: string, error: unknown, what = 'opened'): FileProblem {
  if (error instanceof FileProblem) return error
  if (error instanceof FormatError || error instanceof LimitError)
    return new FileProblem(file, `${lowerFirst(error.message)}.`, { cause: error })
  if (error instanceof Error && 'code' in error && typeof error.code === 'string' && /^E[A-Z]+$/.test(error.code))
    return new FileProblem(file, SYSTEM_WORDS[error.code] ?? `it cannot be ${what} (${error.code}).`, { cause: error })
  throw error
}

const lowerFirst = (text: string) => text.charAt(0).toLowerCase() + text.slice(1)
