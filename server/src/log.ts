import { renameSync, statSync } from 'node:fs'
import pino, { type DestinationStream, type Logger } from 'pino'
import { whoAsks } from './asking.ts'

const SECRET_PATH = /(\/(?:api\/)?[hpi]\/|\/(?:download|invitations|reset)\/)[^/?#]+/g
const HIDDEN = '[hidden]'

/** A path as it may stand in the log: the token of a link is a secret. */
export const shownPath = (path: string): string => path.replace(SECRET_PATH, `$1${HIDDEN}`)

/** Database errors tell the values of the statement in their text: sessions, links, addresses. */
const withoutValues = (text: string): string =>
  shownPath(text.replace(/\nparams: [\s\S]*?(?=\n {4}at |$)/, `\nparams: ${HIDDEN}`))

/** What of an error is logged: everything that says where and why, nothing that it was about. */
function shownError(error: unknown): unknown {
  if (!(error instanceof Error)) return typeof error === 'string' ? withoutValues(error) : { type: typeof error }
  return {
    type: error.name,
    message: withoutValues(error.message),
    stack: withoutValues(error.stack ?? ''),
    ...('code' in error ? { code: error.code } : {}),
    ...(error.cause === undefined ? {} : { cause: shownError(error.cause) }),
  }
}

export type Log = Logger<'security'>

/** Between a warning and an error: whoever shows warnings sees it. */
const SECURITY_LEVEL = 45

/** The server's log, as JSON lines, with no secret in it; every line of a request says which one. */
export const createLog = (level: string, to?: DestinationStream): Log => {
  const options = {
    level,
    customLevels: { security: SECURITY_LEVEL },
    mixin: () => {
      const { requestId } = whoAsks()
      return requestId === undefined ? {} : { request: requestId }
    },
    serializers: { err: shownError, error: shownError, path: shownPath },
  }
  return to ? pino(options, to) : pino(options)
}

/**
 * Standard output, and a file of its own that is begun anew once it is large. A disk that is full, or a file that is gone,
 * loses lines and stops nothing.
 */
export function logTo(file: string): DestinationStream {
  if ((statSync(file, { throwIfNoEntry: false })?.size ?? 0) > FILE_MAX_BYTES) renameSync(file, `${file}.1`)
  const written = pino.destination({ dest: file, sync: false, mkdir: true })
  written.on('error', () => undefined)
  return pino.multistream(
    [{ stream: process.stdout }, { stream: written }].map((each) => ({ ...each, level: 'trace' })),
  )
}

const FILE_MAX_BYTES = 20 * 1024 * 1024
