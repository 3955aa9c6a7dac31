import { mkdtempSync, readdirSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, it, vi } from 'vitest'
import { RenderCache } from './render-cache.ts'

it('makes a picture once, also when many ask at the same moment, and never keeps a failed one', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'renders-'))
  const cache = new RenderCache(folder)
  let made = 0
  const make = async () => {
    made++
    await new Promise((done) => setTimeout(done, 20))
    return Uint8Array.of(1, 2, 3)
  }
  const key = cache.key({ brush: 1 })
  expect(key).not.toBe(cache.key({ brush: 2 }))
  const all = await Promise.all(Array.from({ length: 6 }, () => cache.get(key, make)))
  expect(all.every((bytes) => bytes.join() === '1,2,3')).toBe(true)
  expect((await new RenderCache(folder).get(key, make)).join()).toBe('1,2,3')
  expect(made).toBe(1)
  const broken = cache.key({ brush: 3 })
  await expect(cache.get(broken, () => Promise.reject(new Error('no')))).rejects.toThrow('no')
  expect(readdirSync(folder)).toEqual([`${key}.png`])
  expect((await cache.get(broken, make)).length).toBe(3)
})

it('waits, where it is closed, for what is being made', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'renders-'))
  const cache = new RenderCache(folder)
  const key = cache.key({ brush: 1 })
  const goOn: ((bytes: Uint8Array) => void)[] = []
  const asked = cache.get(
    key,
    () =>
      new Promise<Uint8Array>((done) => {
        goOn.push(done)
      }),
  )
  const told: string[] = []
  await vi.waitFor(() => expect(goOn).toHaveLength(1))
  const settled = cache.settled().then(() => told.push('settled'))
  // as long as it takes for what waits for nothing to come back
  await new Promise((done) => setImmediate(done))
  told.push('made')
  goOn[0]?.(Uint8Array.of(7))
  await settled
  expect(told).toEqual(['made', 'settled'])
  expect(readdirSync(folder)).toEqual([`${key}.png`])
  expect([...(await asked)]).toEqual([7])
})
