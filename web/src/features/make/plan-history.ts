import type { Plan } from '@satchel/core/make/ways'

/** Plans that were, the one that is, and those that were undone. */
export type PlanHistory = {
  past: readonly Plan[]
  now: Plan
  undone: readonly Plan[]
  last: { what: string; at: number } | undefined
}

/** Changes of the same thing that follow each other so closely are one: a slider that moves. */
const ONE_CHANGE_MS = 900
const KEPT_MAX = 200

export type PlanAction =
  /** @param what Names what is changed. */
  | { type: 'change'; plan: Plan; what: string; at: number }
  | { type: 'undo' }
  | { type: 'redo' }
  /** Another plan came from the server. */
  | { type: 'take'; plan: Plan }

export const beginHistory = (plan: Plan): PlanHistory => ({ past: [], now: plan, undone: [], last: undefined })

export function planReducer(history: PlanHistory, action: PlanAction): PlanHistory {
  const { past, now, undone, last } = history
  switch (action.type) {
    case 'change': {
      if (JSON.stringify(action.plan) === JSON.stringify(now)) return history
      const goesOn = last?.what === action.what && action.at - last.at < ONE_CHANGE_MS && past.length > 0
      return {
        past: goesOn ? past : [...past.slice(1 - KEPT_MAX), now],
        now: action.plan,
        undone: [],
        last: { what: action.what, at: action.at },
      }
    }
    case 'undo': {
      const before = past.at(-1)
      return before ? { past: past.slice(0, -1), now: before, undone: [now, ...undone], last: undefined } : history
    }
    case 'redo': {
      const [next, ...rest] = undone
      return next ? { past: [...past, now], now: next, undone: rest, last: undefined } : history
    }
    case 'take':
      return beginHistory(action.plan)
  }
}
