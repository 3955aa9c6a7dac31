import { vValidator } from '@hono/valibot-validator'
import { NAME_MAX_CHARS } from '@satchel/core/limits'
import type { ValidationTargets } from 'hono'
import * as v from 'valibot'
import { Problem } from '../errors.ts'

/** Checks a part of the request against a schema; what fails is answered with one sentence. */
export const valid = <Target extends keyof ValidationTargets, Schema extends v.GenericSchema>(
  target: Target,
  schema: Schema,
) =>
  vValidator(target, schema, (result) => {
    if (result.success) return
    const [issue] = result.issues as [v.BaseIssue<unknown>, ...v.BaseIssue<unknown>[]]
    const where = v.getDotPath(issue as never)
    throw new Problem(422, `${where ? `${where}: ` : ''}${issue.message}. Change it and try again.`)
  })

export const Id = v.object({ id: v.pipe(v.string(), v.uuid()) })
export const Name = v.pipe(
  v.string(),
  v.trim(),
  v.nonEmpty('a name is needed'),
  v.maxLength(NAME_MAX_CHARS, `a name may have ${NAME_MAX_CHARS} characters`),
)
export const Line = v.pipe(
  v.string(),
  v.trim(),
  v.maxLength(NAME_MAX_CHARS, `it may have ${NAME_MAX_CHARS} characters`),
)
export const Ids = v.pipe(v.array(v.pipe(v.string(), v.uuid())), v.minLength(1), v.maxLength(20_000))
const TAGS_MAX = 30
export const Tags = v.pipe(v.array(Name), v.maxLength(TAGS_MAX))
/** A whole number above 0 out of an address or a form. */
export const Ordinal = v.pipe(v.string(), v.transform(Number), v.integer(), v.minValue(1))
export const whole = (fallback: number, max: number) => v.optional(v.pipe(Ordinal, v.maxValue(max)), String(fallback))
