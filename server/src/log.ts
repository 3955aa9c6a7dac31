import pino, { type DestinationStream, type Logger } from 'pino'

const SECRET_PATH = /(\/(?:api\/)?[hp]\/|\/download\/)[^/?#]+/g
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

/** The server's log, as JSON lines, with no secret in it. */
export const createLog = (level: string, to?: DestinationStream): Logger => {
  const options = { level, serializers: { err: shownError, error: shownError, path: shownPath } }
  return to ? pino(options, to) : pino(options)
}
