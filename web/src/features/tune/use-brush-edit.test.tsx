// @vitest-environment jsdom
import { defaultRecipe } from '@satchel/core/brush/recipe'
import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query'
import { act, cleanup, renderHook } from '@testing-library/react'
import type { ReactNode } from 'react'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { RequestError } from '../../api/client.ts'
import type { Brush, Facts } from '../../data/brush.ts'
import { useBrushEdit } from './use-brush-edit.ts'

/** A server that holds one brush with its versions; `fail` makes the next saves fail. */
const server = vi.hoisted(() => ({
  names: ['Reed'] as string[],
  version: 1,
  fail: [] as Error[],
}))
const brushNow = () =>
  ({
    id: 'b1',
    name: server.names[server.version - 1],
    maker: '',
    licence: '',
    tags: [],
    recipe: defaultRecipe(),
    version: server.version,
    versions: server.names.map((_, i) => ({ ordinal: i + 1, label: '', createdAt: '' })).reverse(),
  }) as unknown as Brush

vi.mock('../../data/brush.ts', () => ({
  brushQuery: (id: string) => ({ queryKey: ['brush', id], queryFn: async () => brushNow(), staleTime: 0 }),
  async saveBrush(_id: string, { name }: Facts, from: number) {
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
  Object.assign(server, { names: ['Reed'], version: 1, fail: [] })
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

it('is saved as a version once it settles', async () => {
  const { edit } = open()
  rename(edit, 'Sedge')
  await pass(700)
  expect([edit().phase, edit().value.name, server.names]).toEqual(['saved', 'Sedge', ['Reed', 'Sedge']])
})

it('what is not saved outlives a reload of the page; what can be read no more does not', async () => {
  server.fail = [new RequestError(0, 'No answer.'), new RequestError(0, 'No answer.')]
  const first = open()
  rename(first.edit, 'Sedge')
  await pass(700)
  first.unmount()
  await pass(1)
  const { edit, unmount } = open()
  expect(edit().value.name).toBe('Sedge')
  await pass(1)
  expect([edit().phase, server.names]).toEqual(['saved', ['Reed', 'Sedge']])
  unmount()
  sessionStorage.setItem('satchel-draft-brush-b1', JSON.stringify({ base: 2, value: { name: 'Of another kind' } }))
  expect(open().edit().value.name).toBe('Sedge')
})

it('two quick undos go two versions back, after what was changed last has been saved', async () => {
  Object.assign(server, { names: ['Reed', 'Sedge'], version: 2 })
  const { edit } = open()
  rename(edit, 'Rush')
  act(() => void Promise.all([edit().undo(), edit().undo()]))
  await pass(1)
  expect([server.names, server.version, edit().value.name]).toEqual([['Reed', 'Sedge', 'Rush'], 1, 'Reed'])
  act(() => void Promise.all([edit().redo(), edit().redo(), edit().redo()]))
  await pass(1)
  expect(edit().value.name).toBe('Rush')
})
