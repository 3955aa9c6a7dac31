import * as v from 'valibot'
import { FormatError } from '../errors.ts'
import { FIRST_STROKE_NAMES } from './first-stroke.ts'
import type { Step } from './step-kinds.ts'
import { completeSteps, parseSteps } from './steps.ts'
import { type Plan, WAY_NAMES, WAYS } from './ways.ts'

/** What plans of every way have. */
const PlanOutside = v.looseObject({
  way: v.picklist(WAY_NAMES),
  steps: v.unknown(),
  stroke: v.optional(v.picklist(FIRST_STROKE_NAMES)),
})

/** @throws {FormatError} If it is not a plan as it is stored. */
export function parsePlan(data: unknown): Plan {
  const outer = v.safeParse(PlanOutside, data)
  if (!outer.success) throw new FormatError('plan of a source', undefined, issueOf(outer.issues[0]))
  const { way, steps, stroke, ...head } = outer.output
  const result = v.safeParse(WAYS[way].head as v.GenericSchema, head)
  if (!result.success) throw new FormatError('plan of a source', undefined, issueOf(result.issues[0]))
  return { way, ...(result.output as object), steps: parseSteps(steps) as Step[], ...(stroke && { stroke }) } as Plan
}

/**
 * A plan as this product has stored it, by whichever release.
 * @throws {FormatError} If it is none.
 */
export function readStoredPlan(stored: unknown): Plan {
  const plan = typeof stored === 'object' && stored !== null ? stored : {}
  return parsePlan({ ...plan, steps: completeSteps('steps' in plan ? plan.steps : undefined) })
}

const issueOf = (issue: v.BaseIssue<unknown>) => `${v.getDotPath(issue) ?? 'plan'}: ${issue.message}`
