// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, renderHook } from '@testing-library/react'
import type { ReactNode } from 'react'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { useServerEvents } from './events.ts'
import { MAKES_OLD } from './keys.ts'

/** A stream of events as a page opens it. */
class Stream extends EventTarget {
  static readonly CLOSED = 2
  static opened: Stream[] = []
  readyState = 1
  constructor(readonly url: string) {
    super()
    Stream.opened.push(this)
  }
  close() {
    this.readyState = Stream.CLOSED
  }
  say(topic: string) {
    this.dispatchEvent(topic === 'hello' ? new MessageEvent(topic, { data: '{}' }) : new Event(topic))
  }
}

let asked: string[]
beforeEach(() => {
  vi.useFakeTimers()
  vi.stubGlobal('EventSource', Stream)
  Stream.opened = []
  asked = []
})
afterEach(() => {
  cleanup()
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

function follow() {
  const client = new QueryClient()
  vi.spyOn(client, 'invalidateQueries').mockImplementation(async (filters) => {
    asked.push(String(filters?.queryKey?.[0]))
  })
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  )
  const { unmount } = renderHook(() => useServerEvents(), { wrapper })
  const latest = () => Stream.opened[Stream.opened.length - 1] as Stream
  return { latest, unmount }
}
const TOPICS = Object.keys(MAKES_OLD) as (keyof typeof MAKES_OLD)[]

it.each(TOPICS)('what %s makes old is asked for anew, once for many events in one go', (topic) => {
  const { latest } = follow()
  for (let i = 0; i < 5; i++) latest().say(topic)
  expect(asked).toEqual([])
  vi.advanceTimersByTime(500)
  expect(asked).toEqual([...MAKES_OLD[topic]])
  latest().say(topic)
  vi.advanceTimersByTime(500)
  expect(asked).toHaveLength(2 * MAKES_OLD[topic].length)
})

it('after a break everything is asked for: nobody knows what was missed', () => {
  const { latest } = follow()
  latest().say('hello')
  vi.advanceTimersByTime(500)
  expect(asked).toEqual([])
  latest().say('hello')
  vi.advanceTimersByTime(500)
  expect(new Set(asked)).toEqual(new Set(Object.values(MAKES_OLD).flat()))
})

it('a stream that was refused is opened again after a while, one that was left is not', () => {
  const { latest, unmount } = follow()
  latest().close()
  latest().say('error')
  expect(Stream.opened).toHaveLength(1)
  vi.advanceTimersByTime(3100)
  expect(Stream.opened).toHaveLength(2)
  unmount()
  expect(latest().readyState).toBe(Stream.CLOSED)
  vi.advanceTimersByTime(60_000)
  expect(Stream.opened).toHaveLength(2)
})

it('a stream that the browser opens again by itself is left to it', () => {
  const { latest } = follow()
  latest().readyState = 0
  latest().say('error')
  vi.advanceTimersByTime(60_000)
  expect(Stream.opened).toHaveLength(1)
})
