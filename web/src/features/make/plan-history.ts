import type { Plan } from '@satchel/core/make/ways'

/** Plans that were before the one that is shown, and those that were undone. */
export type PlanHistory = {
  past: readonly Plan[]
  undone: readonly Plan[]
  last: { what: string; at: number } | undefined
}

/** Changes of the same thing that follow each other so closely are one: a slider that moves. */
const ONE_CHANGE_MS = 900
const KEPT_MAX = 200

export const NO_HISTORY: PlanHistory = { past: [], undone: [], last: undefined }

/**
 * Notes that a plan gives way to another one.
 * @param what Names what is changed.
 * @param at When, in ms.
 */
export function noteChange(
  history: PlanHistory,
  before: Plan,
  { what, at }: { what: string; at: number },
): PlanHistory {
  const { past, last } = history
  const goesOn = last?.what === what && at - last.at < ONE_CHANGE_MS && past.length > 0
  return { past: goesOn ? past : [...past.slice(1 - KEPT_MAX), before], undone: [], last: { what, at } }
}

/** The plan before this one, and the history from there; nothing where there is none. */
export function stepBack({ past, undone }: PlanHistory, now: Plan): { plan: Plan; history: PlanHistory } | undefined {
  const plan = past.at(-1)
  return plan && { plan, history: { past: past.slice(0, -1), undone: [now, ...undone], last: undefined } }
}

/** The plan that was undone last, and the history from there; nothing where there is none. */
export function stepForth({ past, undone }: PlanHistory, now: Plan): { plan: Plan; history: PlanHistory } | undefined {
  const [plan, ...rest] = undone
  return plan && { plan, history: { past: [...past, now], undone: rest, last: undefined } }
}
