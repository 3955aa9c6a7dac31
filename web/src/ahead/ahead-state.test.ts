import { expect, it } from 'vitest'
import { type AheadAction, type AheadState, aheadReducer, NOTHING_CHANGED, phaseOf } from './ahead-state.ts'

type State = AheadState<string>
type Action = AheadAction<string>
const after = (...actions: Action[]): State => actions.reduce<State>(aheadReducer, NOTHING_CHANGED)
const change = (value: string, version = 3): Action => ({ type: 'change', value, version })

it('a change made while another is saved is neither lost nor called saved', () => {
  const during = after(change('a'), { type: 'begin' }, change('b'))
  expect(phaseOf(during)).toBe('saving')
  const then = aheadReducer(during, { type: 'saved', version: 4, changes: 1 })
  expect(phaseOf(then)).toBe('changed')
  expect(then.draft).toEqual({ value: 'b', base: 4 })
  expect(aheadReducer(then, { type: 'saved', version: 5, changes: 2 })).toMatchObject({ draft: undefined })
})

it.each([
  [{ type: 'waiting', sentence: 'Gone.' }, 'waiting'],
  [{ type: 'refused', sentence: 'No.' }, 'refused'],
  [{ type: 'overtaken' }, 'overtaken'],
] as const)('%o keeps the draft, and says so', (action, phase) => {
  const state = after(change('a'), { type: 'begin' }, action)
  expect(phaseOf(state)).toBe(phase)
  expect(state.draft?.value).toBe('a')
})

it('a further change tries again what was refused, and not what another page overtook', () => {
  expect(phaseOf(after(change('a'), { type: 'refused', sentence: 'No.' }, change('b')))).toBe('changed')
  const overtaken = after(change('a'), { type: 'overtaken' }, change('b', 9))
  expect(phaseOf(overtaken)).toBe('overtaken')
  expect(overtaken.draft?.base).toBe(3)
  expect(aheadReducer(overtaken, { type: 'onTop', version: 9 })).toMatchObject({
    draft: { base: 9, value: 'b' },
    trouble: undefined,
  })
})

it('counts the tries that found no answer, one after the other', () => {
  const waiting: Action = { type: 'waiting', sentence: 'Gone.' }
  expect(after(change('a'), waiting, waiting).trouble).toMatchObject({ tries: 2 })
  expect(after(change('a'), waiting, change('b'), waiting).trouble).toMatchObject({ tries: 1 })
})
