/** A failure with a status and one plain sentence for the person: what happened, to what, and what to do. */
export class Problem extends Error {
  constructor(
    readonly status: 400 | 401 | 403 | 404 | 409 | 410 | 413 | 422 | 429 | 503,
    message: string,
  ) {
    super(message)
  }
}

export const notFound = (what: string) =>
  new Problem(404, `This ${what} is not here any more; go back and choose another.`)

/** SQLSTATE classes and codes of a database that went away or is not up yet (PostgreSQL manual, appendix A). */
const AWAY_CODE = /^(08...|57P0[1-5]|53300|ECONNREFUSED|ECONNRESET|EPIPE|ENOTFOUND|ETIMEDOUT)$/
/** What node-postgres says without a code. */
const AWAY_SENTENCE =
  /^(Connection terminated|timeout exceeded when trying to connect|Client has encountered a connection error|Cannot use a pool after calling end)/

/** Whether something failed because the database does not answer, by the error or what caused it. */
export function isDatabaseAway(error: unknown): boolean {
  for (let at = error; at instanceof Error; at = at.cause) {
    if ('code' in at && typeof at.code === 'string' && AWAY_CODE.test(at.code)) return true
    if (AWAY_SENTENCE.test(at.message)) return true
    if (at instanceof AggregateError && at.errors.some(isDatabaseAway)) return true
  }
  return false
}
