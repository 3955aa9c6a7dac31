import { Change } from '@satchel/core/many/change'
import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import { CHOICES, choiceOf, type Draft, toChange } from './drafts.ts'

const all = CHOICES.flatMap(({ choices }) => choices)

describe('a change that is filled in', () => {
  it('begins with something under each choice, which is found again by it', () => {
    expect(new Set(all.map(({ value }) => value)).size).toBe(all.length)
    for (const { value, draft } of all) expect(choiceOf(draft)).toBe(value)
    // those that need a word of the curator are none yet; all others are changes already
    const open = all.filter(({ draft }) => toChange(draft) === undefined).map(({ value }) => value)
    expect(open).toEqual(['parts', 'replace', 'tags'])
  })

  it('takes numbers as they are told, and factors as they are', () => {
    const flow: Draft = { kind: 'number', name: 'colour.flow', way: 'set', told: '40', onlyUsed: true }
    expect(toChange(flow)).toMatchObject({ value: 0.4 })
    expect(toChange({ ...flow, told: '250' })).toMatchObject({ value: 1 })
    expect(toChange({ ...flow, way: 'times', told: '1,5' })).toMatchObject({ value: 1.5 })
    for (const told of ['', 'x', 'Infinity']) expect(toChange({ ...flow, way: 'times', told })).toBeUndefined()
  })

  it('is what the server takes', () => {
    const drafts: Draft[] = [
      ...all.map(({ draft }) => draft),
      { kind: 'parts', parts: ['hand.tilt'], brushId: crypto.randomUUID(), called: 'Kelp' },
      { kind: 'replace', find: 'a', by: '' },
      { kind: 'tags', add: 'ink, ink , wet', remove: '' },
      { kind: 'thumbnail', from: 'frame', frame: '3' },
    ]
    for (const draft of drafts) {
      const change = toChange(draft)
      if (change) expect(v.is(Change, change)).toBe(true)
    }
    expect(toChange({ kind: 'tags', add: 'ink, ink , wet', remove: '' })).toMatchObject({ add: ['ink', 'wet'] })
  })
})
