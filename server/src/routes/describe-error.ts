import { FormatError, LimitError } from '@satchel/core/errors'
import { HTTPException } from 'hono/http-exception'
import {
  isDatabaseAway,
  isDiskFull,
  isStoreAway,
  isUnfitValue,
  Problem,
  type Reason,
  Refusal,
  TaskGivenUp,
} from '../errors.ts'

/** With which status a request is answered whose work was refused. */
const REFUSED_AS: Record<Reason, number> = { gone: 404, clash: 409, unfit: 422, tooMuch: 429, noRoom: 507 }

/** With which status, and which sentence, a failure is answered. */
export function describeError(error: Error): { status: number; detail: string } {
  if (error instanceof Problem) return { status: error.status, detail: error.message }
  if (error instanceof Refusal) return { status: REFUSED_AS[error.reason], detail: error.message }
  if (isStoreAway(error))
    return {
      status: 503,
      detail: 'The store that files rest in does not answer just now; nothing was changed. Try again in a moment.',
    }
  if (isDatabaseAway(error))
    return { status: 503, detail: 'The database does not answer just now; nothing was changed. Try again in a moment.' }
  if (isDiskFull(error))
    return {
      status: 507,
      detail: 'There is no room left on the disk; nothing was changed. Ask whoever runs the server to make room.',
    }
  if (isUnfitValue(error))
    return {
      status: 422,
      detail: 'A value of this request cannot be stored; nothing was changed. Check it and try again.',
    }
  if (error instanceof TaskGivenUp) return { status: 422, detail: error.message }
  if (error instanceof LimitError) return { status: 413, detail: `${error.message}.` }
  if (error instanceof FormatError) return { status: 422, detail: `${error.message}.` }
  if (error instanceof HTTPException)
    return { status: error.status, detail: error.message || 'The request could not be read.' }
  return {
    status: 500,
    detail: 'Something failed on the server; nothing was changed. Try again, and look into the log if it stays.',
  }
}
