// @vitest-environment jsdom
import { act, cleanup, renderHook } from '@testing-library/react'
import { afterEach, expect, it } from 'vitest'
import { useActs, useChoice } from './use-choice.ts'

afterEach(cleanup)

function open() {
  const pinned: string[][] = []
  const { result } = renderHook(() => {
    const { choice, dispatch, ask } = useChoice('all')
    return { choice, dispatch, ask, run: useActs({ pin: () => pinned.push([...choice.chosen]) }, choice) }
  })
  return { result, pinned }
}

/** An answer that comes when it is told to. */
function later() {
  let give: (ids: string[]) => void = () => undefined
  let fail: () => void = () => undefined
  const answer = new Promise<{ ids: string[] }>((done, refuse) => {
    give = (ids) => done({ ids })
    fail = () => refuse(new Error('gone'))
  })
  return { load: () => answer, give, fail }
}

it('an act that comes while chosen lines are still asked for is done with all of them', async () => {
  const { result, pinned } = open()
  const { load, give } = later()
  act(() => result.current.dispatch({ type: 'toggle', index: 0, id: 'a' }))
  act(() => result.current.ask('range', load))
  act(() => result.current.run('pin'))
  expect(pinned).toEqual([])
  await act(async () => give(['a', 'b', 'c']))
  expect(pinned).toEqual([['a', 'b', 'c']])
})

it('where they cannot be had, or with nothing chosen, nothing is done', async () => {
  const { result, pinned } = open()
  const { load, fail } = later()
  act(() => result.current.run('pin'))
  act(() => result.current.dispatch({ type: 'toggle', index: 0, id: 'a' }))
  act(() => result.current.ask('all', load))
  act(() => result.current.run('pin'))
  await act(async () => fail())
  expect(pinned).toEqual([])
  act(() => result.current.run('pin'))
  expect(pinned).toEqual([['a']])
})
