import { expect, it } from 'vitest'
import { AtOnce } from './at-once.ts'

it('makes the same once for all who ask meanwhile, and anew after that or after it failed', async () => {
  const atOnce = new AtOnce<number>()
  let made = 0
  const make = async () => ++made
  expect(await Promise.all(['a', 'a', 'b', 'a'].map((key) => atOnce.make(key, make)))).toEqual([1, 1, 2, 1])
  expect(await atOnce.make('a', make)).toBe(3)
  const fail = () => Promise.reject(new Error('gone'))
  const both = await Promise.allSettled([atOnce.make('a', fail), atOnce.make('a', fail)])
  expect(both.map(({ status }) => status)).toEqual(['rejected', 'rejected'])
  expect(await atOnce.make('a', make)).toBe(4)
})
