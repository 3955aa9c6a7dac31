import { defaultRecipe } from '@satchel/core/brush/recipe'
import { expect, it } from 'vitest'
import { type EditAction, editReducer, NOTHING_CHANGED, phaseOf, waitMs } from './edit-state.ts'

const facts = (name: string) => ({ name, maker: '', licence: '', tags: [], recipe: defaultRecipe() })
const after = (...actions: EditAction[]) => actions.reduce(editReducer, NOTHING_CHANGED)
const change = (name: string, version = 3): EditAction => ({ type: 'change', facts: facts(name), version })

it('a change made while another is saved is neither lost nor called saved', () => {
  const during = after(change('a'), { type: 'begin' }, change('b'))
  expect(phaseOf(during)).toBe('saving')
  const then = editReducer(during, { type: 'saved', version: 4, changes: 1 })
  expect(phaseOf(then)).toBe('changed')
  expect(then.draft).toEqual({ facts: facts('b'), base: 4 })
  expect(editReducer(then, { type: 'saved', version: 5, changes: 2 })).toMatchObject({ draft: undefined })
})

it.each([
  [{ type: 'unanswered', sentence: 'Gone.' }, 'waiting'],
  [{ type: 'refused', sentence: 'No.' }, 'refused'],
  [{ type: 'overtaken' }, 'overtaken'],
] as const)('%o keeps the draft, and says so', (action, phase) => {
  const state = after(change('a'), { type: 'begin' }, action)
  expect(phaseOf(state)).toBe(phase)
  expect(state.draft?.facts.name).toBe('a')
})

it('a further change tries again what was refused, and not what another page overtook', () => {
  expect(phaseOf(after(change('a'), { type: 'refused', sentence: 'No.' }, change('b')))).toBe('changed')
  const overtaken = after(change('a'), { type: 'overtaken' }, change('b', 9))
  expect(phaseOf(overtaken)).toBe('overtaken')
  expect(overtaken.draft?.base).toBe(3)
  expect(editReducer(overtaken, { type: 'onTop', version: 9 })).toMatchObject({
    ...{ draft: { base: 9, facts: facts('b') }, trouble: undefined },
  })
})

it('waits longer with every try, and a minute at most', () => {
  const [one, two] = [after({ type: 'unanswered', sentence: '' }), after({ type: 'unanswered', sentence: '' }, { type: 'unanswered', sentence: '' })] // biome-ignore format: one line
  expect([one.trouble, two.trouble]).toMatchObject([{ tries: 1 }, { tries: 2 }])
  expect([1, 2, 3, 4, 5, 6, 99].map(waitMs)).toEqual([2000, 5000, 10_000, 30_000, 60_000, 60_000, 60_000])
})
