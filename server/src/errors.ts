/** A failure of a request, with the status of its answer; what the rooms of the server refuse is a `Refusal`. */
export class Problem extends Error {
  constructor(
    readonly status: 400 | 401 | 403 | 404 | 409 | 410 | 413 | 421 | 422 | 429 | 502 | 503 | 504 | 507,
    message: string,
  ) {
    super(message)
  }
}

/** Why something is not done that somebody asked for, whoever asks: a request, a job, the shell. */
export type Reason =
  /** It is not there any more. */
  | 'gone'
  /** It is another one by now, or something else is under way. */
  | 'clash'
  /** It is nothing that can be taken, or not so. */
  | 'unfit'
  /** So much of it is not taken, or not so soon. */
  | 'tooMuch'
  /** There is no room for it. */
  | 'noRoom'

/** Something that is not done, with one plain sentence: what happened, to what, and what to do. */
export class Refusal extends Error {
  constructor(
    readonly reason: Reason,
    message: string,
  ) {
    super(message)
  }
}

/** Heavy work that was given up: it took more than it may, or ended what did it. Its sentence says what happened, and what to do. */
export class TaskGivenUp extends Error {
  override readonly name = 'TaskGivenUp'
}

/** The store that files rest in does not answer, or fails. */
export class StoreAway extends Error {
  constructor(why: string) {
    super(`The store of files does not answer (${why}).`)
  }
}

export const notFound = (what: string) =>
  new Refusal('gone', `This ${what} is not here any more; go back and choose another.`)

/** A size in words. */
export const inBytes = (bytes: number) =>
  bytes < 1024 ** 3
    ? `${Math.ceil(bytes / 1024 ** 2).toLocaleString('en')} MiB`
    : `${(bytes / 1024 ** 3).toLocaleString('en', { maximumFractionDigits: 1 })} GiB`

/** A workspace holds as much as it may. */
export const workspaceFull = (takenBytes: number, mostBytes: number) =>
  new Refusal(
    'noRoom',
    `This workspace holds ${inBytes(takenBytes)} of the ${inBytes(mostBytes)} it may, and has no room for this. Empty the bins, or ask whoever runs the server for more.`,
  )

/** Somebody else has saved the same thing since it was looked at. */
export const changedElsewhere = (what: string) =>
  new Refusal(
    'clash',
    `${what} was changed elsewhere meanwhile; nothing was saved. Look at it as it is now, and change it once more.`,
  )

/** SQLSTATE classes and codes of a database that went away or is not up yet (PostgreSQL manual, appendix A). */
const AWAY_CODE = /^(08...|57P0[1-5]|53300|ECONNREFUSED|ECONNRESET|EPIPE|ENOTFOUND|ETIMEDOUT)$/
/** What node-postgres says without a code. */
const AWAY_SENTENCE =
  /^(Connection terminated|timeout exceeded when trying to connect|Client has encountered a connection error|Cannot use a pool after calling end)/

/** Whether an error, or one that caused it, is such a one. */
function isCausedBy(error: unknown, isSuch: (error: Error, code: string) => boolean): boolean {
  for (let at = error; at instanceof Error; at = at.cause) {
    if (isSuch(at, 'code' in at && typeof at.code === 'string' ? at.code : '')) return true
    if (at instanceof AggregateError && at.errors.some((each) => isCausedBy(each, isSuch))) return true
  }
  return false
}

/** Whether something failed because the store of files does not answer. */
export const isStoreAway = (error: unknown): boolean => isCausedBy(error, (each) => each instanceof StoreAway)

/** Whether something failed because what holds the library is away for now: it is tried again later. */
export const isAway = (error: unknown): boolean => isDatabaseAway(error) || isStoreAway(error)

/** Whether something failed because the database does not answer. */
export const isDatabaseAway = (error: unknown): boolean =>
  isCausedBy(error, ({ message }, code) => AWAY_CODE.test(code) || AWAY_SENTENCE.test(message))

/** Whether the database could not take a value: class 22, data exceptions. */
export const isUnfitValue = (error: unknown): boolean => isCausedBy(error, (_, code) => /^22...$/.test(code))

/** Whether the disk of this server or of the database is full: ENOSPC, and 53100 of PostgreSQL. */
export const isDiskFull = (error: unknown): boolean => isCausedBy(error, (_, code) => /^(ENOSPC|53100)$/.test(code))

type Recalled = { version: string; recallReason: string }

/** That a release was taken back, and why. */
export const recalledSentence = ({ version, recallReason }: Recalled): string =>
  `Release ${version} was recalled: ${recallReason}`

/** Whoever would hand on what was taken back is told so. */
export const recalled = (release: Recalled): Refusal =>
  new Refusal('clash', `${recalledSentence(release)} Take another release.`)
