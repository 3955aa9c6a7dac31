// @vitest-environment jsdom
import { defaultRecipe } from '@satchel/core/brush/recipe'
import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query'
import { act, cleanup, renderHook } from '@testing-library/react'
import type { ReactNode } from 'react'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { RequestError } from '../../api/client.ts'
import type { Brush, Facts } from './queries.ts'
import { useBrushEdit } from './use-brush-edit.ts'

/** A server that holds one brush with its versions; `fail` makes the next saves fail. */
const server = vi.hoisted(() => ({
  names: ['Reed'] as string[],
  version: 1,
  fail: [] as Error[],
  hold: undefined as Promise<void> | undefined,
}))
const brushNow = () =>
  ({
    ...{ id: 'b1', name: server.names[server.version - 1], maker: '', licence: '', tags: [], recipe: defaultRecipe() },
    version: server.version,
    versions: server.names.map((_, i) => ({ ordinal: i + 1, label: '', createdAt: '' })).reverse(),
  }) as unknown as Brush

vi.mock('./queries.ts', () => ({
  brushQuery: (id: string) => ({ queryKey: ['brush', id], queryFn: async () => brushNow(), staleTime: 0 }),
  async saveBrush(_id: string, { name }: Facts, from: number) {
    await server.hold
    const error = server.fail.shift()
    if (error) throw error
    if (from !== server.version) throw new RequestError(409, 'It has moved on.')
    server.names = [...server.names.slice(0, from), name]
    server.version = server.names.length
    return { version: server.version }
  },
  async goToVersion(_id: string, ordinal: number) {
    server.version = ordinal
  },
}))

beforeEach(() => {
  vi.useFakeTimers()
  sessionStorage.clear()
  Object.assign(server, { names: ['Reed'], version: 1, fail: [], hold: undefined })
})
afterEach(() => {
  cleanup()
  vi.useRealTimers()
})

function open() {
  const client = new QueryClient()
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  )
  client.setQueryData(['brush', 'b1'], brushNow())
  const { result, unmount } = renderHook(
    () => {
      const { data = brushNow() } = useQuery({ queryKey: ['brush', 'b1'], queryFn: async () => brushNow() })
      return useBrushEdit(data)
    },
    { wrapper },
  )
  return { edit: () => result.current, unmount }
}
const rename = (edit: ReturnType<typeof open>['edit'], name: string) => act(() => edit().change({ name }))
const pass = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms))

it('is saved only when nothing waits any more, also where a change came during a save', async () => {
  let go: () => void = () => undefined
  server.hold = new Promise((done) => {
    go = done
  })
  const { edit } = open()
  rename(edit, 'Sedge')
  expect(edit().phase).toBe('changed')
  await pass(700)
  expect(edit().phase).toBe('saving')
  rename(edit, 'Rush')
  await pass(700)
  go()
  await pass(1)
  expect([edit().phase, edit().facts.name, server.names]).toEqual(['saved', 'Rush', ['Reed', 'Sedge', 'Rush']])
})

it('keeps what the server did not take, says why, and saves it when the server answers again', async () => {
  server.fail = [new RequestError(0, 'No answer.'), new RequestError(503, 'Not just now.')]
  const { edit } = open()
  rename(edit, 'Sedge')
  await pass(700)
  expect(edit()).toMatchObject({ phase: 'waiting', facts: { name: 'Sedge' }, trouble: { sentence: 'No answer.' } })
  await pass(2100)
  expect(edit().trouble).toMatchObject({ sentence: 'Not just now.', tries: 2 })
  await pass(5100)
  expect([edit().phase, server.names]).toEqual(['saved', ['Reed', 'Sedge']])
})

it('what is not saved outlives a reload of the page', async () => {
  server.fail = [new RequestError(0, 'No answer.'), new RequestError(0, 'No answer.')]
  const first = open()
  rename(first.edit, 'Sedge')
  await pass(700)
  first.unmount()
  await pass(1)
  const { edit } = open()
  expect(edit().facts.name).toBe('Sedge')
  await pass(1)
  expect([edit().phase, server.names]).toEqual(['saved', ['Reed', 'Sedge']])
  expect(sessionStorage.length).toBe(0)
})

it('a version saved elsewhere meanwhile is not covered unasked', async () => {
  const { edit } = open()
  rename(edit, 'Sedge')
  Object.assign(server, { names: ['Reed', 'Bulrush'], version: 2 })
  await pass(700)
  expect([edit().phase, edit().facts.name]).toEqual(['overtaken', 'Sedge'])
  await pass(120_000)
  expect(server.names).toEqual(['Reed', 'Bulrush'])
  act(() => edit().saveOnTop())
  await pass(1)
  expect([edit().phase, server.names]).toEqual(['saved', ['Reed', 'Bulrush', 'Sedge']])
})

it('or it is taken in the place of what was changed here', async () => {
  const { edit } = open()
  rename(edit, 'Sedge')
  Object.assign(server, { names: ['Reed', 'Bulrush'], version: 2 })
  await pass(700)
  act(() => edit().drop())
  await pass(1)
  expect([edit().phase, edit().facts.name, server.names]).toEqual(['saved', 'Bulrush', ['Reed', 'Bulrush']])
})

it('two quick undos go two versions back, after what was changed last has been saved', async () => {
  Object.assign(server, { names: ['Reed', 'Sedge'], version: 2 })
  const { edit } = open()
  rename(edit, 'Rush')
  act(() => void Promise.all([edit().undo(), edit().undo()]))
  await pass(1)
  expect([server.names, server.version, edit().facts.name]).toEqual([['Reed', 'Sedge', 'Rush'], 1, 'Reed'])
  act(() => void Promise.all([edit().redo(), edit().redo(), edit().redo()]))
  await pass(1)
  expect(edit().facts.name).toBe('Rush')
})
