import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pino from 'pino'
import { afterEach, beforeEach, expect, it } from 'vitest'
import { keepCache, pruneCache } from './cache-keeper.ts'

let root: string
beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'satchel-cache-'))
})
afterEach(() => rmSync(root, { recursive: true, force: true }))

const NOW = Date.now()
function put(folder: string, name: string, bytes: number, minutesAgo: number): string {
  mkdirSync(join(root, folder), { recursive: true })
  const path = join(root, folder, name)
  writeFileSync(path, new Uint8Array(bytes))
  const at = new Date(NOW - minutesAgo * 60_000)
  utimesSync(path, at, at)
  return path
}

it('keeps what was used last within the budget, over all folders together', async () => {
  const old = put('blobs', 'old', 400, 90)
  const older = put('renders', 'older', 300, 120)
  const used = put('blobs', 'used', 500, 30)
  expect(await pruneCache([join(root, 'blobs'), join(root, 'renders')], 950, NOW)).toBe(900)
  expect([older, old, used].map((path) => existsSync(path))).toEqual([false, true, true])
})

it('leaves what is in use just now, even over the budget', async () => {
  const fresh = put('blobs', 'fresh', 400, 1)
  expect(await pruneCache([join(root, 'blobs')], 100, NOW)).toBe(400)
  expect(existsSync(fresh)).toBe(true)
})

it('clears away at the start what a server left that ended in the middle', async () => {
  put('blobs', 'whole', 10, 1)
  put('blobs', 'a.1.partial', 10, 1)
  put('scratch/release', 'half', 10, 1)
  const folders = { folders: [join(root, 'blobs'), join(root, 'none')], leftovers: [join(root, 'scratch')] }
  const stop = await keepCache({ ...folders, budgetBytes: 1000 }, pino({ level: 'silent' }))
  stop()
  expect([readdirSync(join(root, 'blobs')), existsSync(join(root, 'scratch'))]).toEqual([['whole'], false])
})
