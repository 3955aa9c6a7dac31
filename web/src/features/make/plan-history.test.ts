import { withSettings } from '@satchel/core/make/step-kinds'
import { usualSteps } from '@satchel/core/make/steps'
import type { Plan } from '@satchel/core/make/ways'
import { describe, expect, it } from 'vitest'
import { beginHistory, type PlanHistory, planReducer } from './plan-history.ts'

const plan = (softPx: number): Plan => ({ way: 'picture', steps: withSettings(usualSteps(), 'edge', { softPx }) })
const change = (history: PlanHistory, softPx: number, at: number, what = 'edge') =>
  planReducer(history, { type: 'change', plan: plan(softPx), what, at })

describe('the history of a plan', () => {
  it('takes a slider that moves as one change', () => {
    const moved = [2, 3, 4, 5].reduce((history, px, i) => change(history, px, 1000 + i * 50), beginHistory(plan(1)))
    expect(moved.past).toEqual([plan(1)])
    expect(planReducer(moved, { type: 'undo' }).now).toEqual(plan(1))
  })

  it('tells changes apart that are of something else, or later', () => {
    const first = change(beginHistory(plan(1)), 2, 1000)
    expect(change(first, 3, 1100, 'trim').past).toHaveLength(2)
    expect(change(first, 3, 3000).past).toHaveLength(2)
  })

  it('goes back and forth, and forgets what was undone once something new comes', () => {
    const three = change(change(beginHistory(plan(1)), 2, 1000), 3, 9000)
    const back = planReducer(planReducer(three, { type: 'undo' }), { type: 'undo' })
    expect(back.now).toEqual(plan(1))
    expect(planReducer(back, { type: 'undo' })).toBe(back)
    const forth = planReducer(back, { type: 'redo' })
    expect(forth.now).toEqual(plan(2))
    expect(forth.undone).toEqual([plan(3)])
    expect(change(forth, 7, 20_000).undone).toEqual([])
  })

  it('does not count what changes nothing', () => {
    const history = beginHistory(plan(1))
    expect(change(history, 1, 1000)).toBe(history)
  })
})
