import { withSettings } from '@satchel/core/make/step-kinds'
import { usualSteps } from '@satchel/core/make/steps'
import type { Plan } from '@satchel/core/make/ways'
import { describe, expect, it } from 'vitest'
import { NO_HISTORY, noteChange, type PlanHistory, stepBack, stepForth } from './plan-history.ts'

const plan = (softPx: number): Plan => ({ way: 'picture', steps: withSettings(usualSteps(), 'edge', { softPx }) })
/** A bench that goes from plan to plan, as the page does. */
function bench(softPx: number) {
  let [now, history]: [Plan, PlanHistory] = [plan(softPx), NO_HISTORY]
  const go = (step: typeof stepBack) => () => {
    const to = step(history, now)
    if (to) [now, history] = [to.plan, to.history]
    return now
  }
  return {
    change(softPx: number, at: number, what = 'edge') {
      history = noteChange(history, now, { what, at })
      now = plan(softPx)
    },
    undo: go(stepBack),
    redo: go(stepForth),
    history: () => history,
  }
}

describe('the history of a plan', () => {
  it('takes a slider that moves as one change', () => {
    const slider = bench(1)
    for (const [i, px] of [2, 3, 4, 5].entries()) slider.change(px, 1000 + i * 50)
    expect(slider.history().past).toEqual([plan(1)])
    expect(slider.undo()).toEqual(plan(1))
  })

  it('tells changes apart that are of something else, or later', () => {
    const [other, later] = [bench(1), bench(1)]
    for (const each of [other, later]) each.change(2, 1000)
    other.change(3, 1100, 'trim')
    later.change(3, 3000)
    expect([other, later].map(({ history }) => history().past.length)).toEqual([2, 2])
  })

  it('goes back and forth, and forgets what was undone once something new comes', () => {
    const three = bench(1)
    three.change(2, 1000)
    three.change(3, 9000)
    expect([three.undo(), three.undo(), three.undo()]).toEqual([plan(2), plan(1), plan(1)])
    expect(three.redo()).toEqual(plan(2))
    three.change(7, 20_000)
    expect(three.redo()).toEqual(plan(7))
    expect(three.undo()).toEqual(plan(2))
  })

  it('keeps the last two hundred', () => {
    const long = bench(0)
    for (let i = 1; i <= 300; i++) long.change(i, i * 1000)
    expect(long.history().past).toHaveLength(200)
    expect(long.undo()).toEqual(plan(299))
  })
})
