import { vValidator } from '@hono/valibot-validator'
import { Name } from '@satchel/core/forms/names'
import type { ValidationTargets } from 'hono'
import * as v from 'valibot'
import { Problem } from '../errors.ts'

/** NUL cannot be kept in a text of the database, and half a character of UTF-16 in none at all. */
function holdsWhatCannotBeStored(value: unknown): boolean {
  if (typeof value === 'string') return value.includes('\u0000') || /\p{Surrogate}/u.test(value)
  if (Array.isArray(value)) return value.some(holdsWhatCannotBeStored)
  if (typeof value === 'object' && value !== null && !(value instanceof Blob))
    return Object.entries(value).some((entry) => entry.some(holdsWhatCannotBeStored))
  return false
}

/** A part of a request, and the schema that it is held to. */
export type CheckedPart = { target: keyof ValidationTargets; schema: v.GenericSchema }
const parts = new WeakMap<object, CheckedPart>()
/** What a handler of a route checks, where it checks a part of the request. */
export const partOf = (handler: object): CheckedPart | undefined => parts.get(handler)

/** Checks a part of the request against a schema; what fails is answered with one sentence. */
export const valid = <Target extends keyof ValidationTargets, Schema extends v.GenericSchema>(
  target: Target,
  schema: Schema,
) => {
  const check = vValidator(target, schema, (result) => {
    if (result.success) {
      if (holdsWhatCannotBeStored(result.output))
        throw new Problem(422, 'It holds characters that no text may have (NUL or half a character). Take them out.')
      return
    }
    const [issue] = result.issues as [v.BaseIssue<unknown>, ...v.BaseIssue<unknown>[]]
    const where = v.getDotPath(issue as never)
    throw new Problem(422, `${where ? `${where}: ` : ''}${issue.message}. Change it and try again.`)
  })
  parts.set(check, { target, schema })
  return check
}

export const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
export const Ids = v.pipe(v.array(v.pipe(v.string(), v.uuid())), v.minLength(1), v.maxLength(20_000))
/** Characters of a file's path in a drop. */
export const PATH_MAX_CHARS = 1024
const TAGS_MAX = 30
export const Tags = v.pipe(v.array(Name), v.maxLength(TAGS_MAX))
/** The largest number of the database's integers. */
const INTEGER_MAX = 2 ** 31 - 1
/** A whole number above 0 in a body. */
export const Count = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(INTEGER_MAX))
/** A whole number above 0 in an address or a form, where everything is text. */
export const Ordinal = v.pipe(v.string(), v.transform(Number), Count)
/** A change of some of an object's parts: of one at least. */
export const someOf = <Entries extends v.ObjectEntries>(entries: Entries) =>
  v.pipe(
    v.object(entries),
    v.check((change) => Object.keys(change).length > 0, 'it names nothing to change'),
  )
export const whole = (fallback: number, max: number) => v.optional(v.pipe(Ordinal, v.maxValue(max)), String(fallback))
/** The place of a list's line in an address, counted from 0. */
export const ListPlace = v.optional(
  v.pipe(v.string(), v.transform(Number), v.integer(), v.minValue(0), v.maxValue(INTEGER_MAX)),
  '0',
)

/** What is installed or counted: brushes of the library, or all that a release holds. */
export const BrushesOrRelease = {
  brushIds: v.optional(Ids),
  releaseId: v.optional(v.pipe(v.string(), v.uuid('a release is wanted'))),
  editionId: v.optional(v.pipe(v.string(), v.uuid('an edition is wanted'))),
}
export const isEither = (wish: { brushIds?: unknown; releaseId?: unknown; editionId?: unknown }): boolean =>
  [wish.brushIds, wish.releaseId, wish.editionId].filter((each) => each !== undefined).length === 1
