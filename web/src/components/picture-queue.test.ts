import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { PictureQueue } from './picture-queue.ts'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

const begun: string[] = []
beforeEach(() => void begun.splice(0))
const enter = (queue: PictureQueue, name: string) => queue.enter(() => begun.push(name))

test('some begin at once, the others one by one after them', () => {
  const queue = new PictureQueue(2)
  const [endA, endB] = ['a', 'b', 'c', 'd'].map((name) => enter(queue, name))
  expect(begun).toEqual(['a', 'b'])
  endB?.()
  expect(begun).toEqual(['a', 'b', 'c'])
  endA?.()
  expect(begun).toEqual(['a', 'b', 'c', 'd'])
})

test('what is left before its turn never begins, and makes no room', () => {
  const queue = new PictureQueue(1)
  const [, endB] = ['a', 'b', 'c'].map((name) => enter(queue, name))
  endB?.()
  expect(begun).toEqual(['a'])
})

test('a turn that is ended twice makes room once', () => {
  const queue = new PictureQueue(1)
  const [endA] = ['a', 'b', 'c'].map((name) => enter(queue, name))
  endA?.()
  endA?.()
  expect(begun).toEqual(['a', 'b'])
})

test('one that takes too long keeps nobody waiting', () => {
  const queue = new PictureQueue(1)
  const [endA] = ['a', 'b', 'c'].map((name) => enter(queue, name))
  vi.advanceTimersByTime(5000)
  expect(begun).toEqual(['a', 'b'])
  endA?.()
  expect(begun).toEqual(['a', 'b'])
})
