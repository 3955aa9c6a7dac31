// @vitest-environment jsdom
import { act, cleanup, renderHook } from '@testing-library/react'
import { useState } from 'react'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { RequestError } from '../api/client.ts'
import { useAhead } from './use-ahead.ts'

/** A server that holds one word with its version; `fail` makes the next saves fail, `loseAnswer` saves and says nothing. */
const server = { word: 'Reed', version: 1, saves: 0, fail: [] as Error[], loseAnswer: false, hold: Promise.resolve() }
const FRESH = { ...server }

/** What is sent is parsed, here as there. */
const parseWord = (word: unknown) => String(word).trim()

async function put(word: string, base: number): Promise<{ version: number }> {
  server.saves++
  await server.hold
  const error = server.fail.shift()
  if (error) throw error
  if (base !== server.version) throw new RequestError(409, 'It has moved on.')
  Object.assign(server, { word: parseWord(word), version: base + 1 })
  if (server.loseAnswer) throw new RequestError(0, 'No answer.')
  return { version: server.version }
}

beforeEach(() => {
  vi.useFakeTimers()
  sessionStorage.clear()
  Object.assign(server, FRESH, { fail: [] })
})
afterEach(() => {
  cleanup()
  vi.useRealTimers()
})

/** A page that shows what it last asked the server for. */
function open(wish: { isByHand?: boolean } = {}) {
  let latest = { value: server.word, version: server.version }
  const { result, unmount } = renderHook(() => {
    const [, drawAnew] = useState({})
    const refresh = async () => {
      latest = { value: server.word, version: server.version }
      drawAnew({})
    }
    return useAhead<string>({
      ...wish,
      key: 'word-1',
      server: latest,
      known: () => latest,
      parse: parseWord,
      async save(word, base) {
        const saved = await put(word, base)
        await refresh()
        return saved
      },
      refresh,
    })
  })
  return { page: () => result.current, change: (word: string) => act(() => result.current.change(word)), unmount }
}
const pass = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms))

it('is saved only when nothing waits any more, also where a change came during a save', async () => {
  let go: () => void = () => undefined
  server.hold = new Promise((done) => {
    go = done
  })
  const { page, change } = open()
  change('Sedge')
  expect(page().phase).toBe('changed')
  await pass(700)
  expect(page().phase).toBe('saving')
  change('Rush')
  await pass(700)
  go()
  await pass(1)
  expect([page().phase, page().value, server.word, server.saves]).toEqual(['saved', 'Rush', 'Rush', 2])
})

it.each([
  [0, 'No answer.'],
  [429, 'Too much at once.'],
  [503, 'Not just now.'],
])('keeps what met a %d, says why, and saves it when that works', async (status, sentence) => {
  server.fail = [new RequestError(status, sentence), new RequestError(503, 'Not just now.')]
  const { page, change } = open()
  change('Sedge')
  await pass(700)
  expect(page()).toMatchObject({ phase: 'waiting', value: 'Sedge', trouble: { sentence } })
  await pass(2100)
  expect(page().trouble).toMatchObject({ sentence: 'Not just now.', tries: 2 })
  await pass(4100)
  expect([page().phase, server.word]).toEqual(['saved', 'Sedge'])
})

it('what the server refused waits for another change', async () => {
  server.fail = [new RequestError(400, 'No such word.')]
  const { page, change } = open()
  change('Sdge')
  await pass(120_000)
  expect([page().phase, server.saves]).toEqual(['refused', 1])
  change('Sedge')
  await pass(700)
  expect([page().phase, server.word]).toEqual(['saved', 'Sedge'])
})

it('what is saved, and whose answer was lost, is not taken for the change of another page', async () => {
  server.loseAnswer = true
  const { page, change } = open()
  change('Sedge')
  await pass(700)
  expect(page().phase).toBe('waiting')
  server.loseAnswer = false
  await pass(2100)
  expect([page().phase, page().value, server.version]).toEqual(['saved', 'Sedge', 2])
})

it('nor is it, where the server has trimmed what it was sent', async () => {
  server.loseAnswer = true
  const { page, change } = open()
  change('Sedge ')
  await pass(700)
  server.loseAnswer = false
  await pass(2100)
  expect([page().phase, page().value]).toEqual(['saved', 'Sedge'])
})

it('a version saved elsewhere meanwhile is not covered unasked', async () => {
  const { page, change } = open()
  change('Sedge')
  Object.assign(server, { word: 'Bulrush', version: 2 })
  await pass(700)
  expect([page().phase, page().value]).toEqual(['overtaken', 'Sedge'])
  change('Sedges')
  await pass(120_000)
  expect(server.word).toBe('Bulrush')
  await expect(act(() => page().make(async () => undefined))).rejects.toThrow('could not be saved')
  await act(() => page().saveOnTop())
  expect([page().phase, server.word]).toEqual(['saved', 'Sedges'])
})

it('or it is taken in the place of what was changed here', async () => {
  const { page, change } = open()
  change('Sedge')
  Object.assign(server, { word: 'Bulrush', version: 2 })
  await pass(700)
  act(() => page().drop())
  await pass(1)
  expect([page().phase, page().value, server.word]).toEqual(['saved', 'Bulrush', 'Bulrush'])
})

it('a page that is left tries once, and no more; another one goes on with what was kept', async () => {
  server.fail = [new RequestError(0, 'No answer.'), new RequestError(0, 'No answer.')]
  const { change, unmount } = open()
  change('Sedge')
  await pass(700)
  unmount()
  await pass(600_000)
  expect([server.saves, server.word]).toEqual([2, 'Reed'])
  const { page } = open()
  expect(page().value).toBe('Sedge')
  await pass(1)
  expect([page().phase, server.word, sessionStorage.length]).toEqual(['saved', 'Sedge', 0])
})

it('what was kept on a version that is no longer the newest has to be asked for', async () => {
  server.fail = [new RequestError(0, 'No answer.'), new RequestError(0, 'No answer.')]
  const first = open()
  first.change('Sedge')
  await pass(700)
  first.unmount()
  await pass(1)
  Object.assign(server, { word: 'Bulrush', version: 2 })
  const { page } = open()
  await pass(120_000)
  expect([page().phase, page().value, server.word]).toEqual(['overtaken', 'Sedge', 'Bulrush'])
})

it('what is saved by hand waits for it, over a reload too', async () => {
  const { page, change, unmount } = open({ isByHand: true })
  change('Sedge')
  await pass(120_000)
  expect([page().phase, server.saves]).toEqual(['changed', 0])
  unmount()
  await pass(1)
  const again = open({ isByHand: true })
  expect([again.page().phase, again.page().value, server.saves]).toEqual(['changed', 'Sedge', 0])
  server.fail = [new RequestError(503, 'Not just now.')]
  await act(() => again.page().save())
  expect(again.page().phase).toBe('waiting')
  await pass(2100)
  expect([again.page().phase, server.word]).toEqual(['saved', 'Sedge'])
})

it('a change back to what is saved is no version', async () => {
  const { page, change } = open()
  change('Sedge')
  change('Reed')
  await pass(700)
  expect([page().phase, server.saves, sessionStorage.length]).toEqual(['saved', 0, 0])
})
