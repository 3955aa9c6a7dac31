import fc from 'fast-check'
import { expect, it } from 'vitest'
import { FairQueue } from './fair-queue.ts'

const fill = (queue: FairQueue<string>, workspaceId: string, personId: string, count: number) => {
  for (let n = 0; n < count; n++) queue.add(`${workspaceId}${personId}${n}`, { workspaceId, personId })
}
const drain = (queue: FairQueue<string>) => {
  const all: string[] = []
  for (let item = queue.take(); item !== undefined; item = queue.take()) all.push(item)
  return all
}

it('lets workspaces take turns, and in one of them its members, each by the order of asking', () => {
  const queue = new FairQueue<string>()
  fill(queue, 'A', 'x', 4)
  fill(queue, 'A', 'y', 1)
  fill(queue, 'B', 'z', 2)
  expect(drain(queue)).toEqual(['Ax0', 'Bz0', 'Ay0', 'Bz1', 'Ax1', 'Ax2', 'Ax3'])
})

it('keeps the place of a workspace that may not have a turn just now', () => {
  const queue = new FairQueue<string>()
  fill(queue, 'A', 'x', 2)
  fill(queue, 'B', 'x', 1)
  expect(queue.take((workspaceId) => workspaceId !== 'A')).toBe('Bx0')
  expect(queue.take((workspaceId) => workspaceId !== 'A')).toBeUndefined()
  expect(queue.take()).toBe('Ax0')
  expect(queue.size).toBe(1)
})

it('gives each once, whatever is taken out between, and nobody waits longer than one turn of all others', () => {
  const asked = fc.record({ workspace: fc.integer({ min: 0, max: 3 }), person: fc.integer({ min: 0, max: 2 }) })
  fc.assert(
    fc.property(fc.array(asked, { maxLength: 40 }), fc.array(fc.nat(39)), (all, dropped) => {
      const queue = new FairQueue<number>()
      for (const [n, { workspace, person }] of all.entries())
        queue.add(n, { workspaceId: `${workspace}`, personId: `${person}` })
      const gone = new Set(dropped.filter((n) => n < all.length))
      for (const n of gone) expect(queue.remove(n)).toBe(true)
      expect(queue.remove(-1)).toBe(false)
      const given: number[] = []
      for (let n = queue.take(); n !== undefined; n = queue.take()) given.push(n)
      expect([...given].sort((a, b) => a - b)).toEqual(all.map((_, n) => n).filter((n) => !gone.has(n)))
      // between two turns of a workspace every other one that still waits has had one
      for (const [i, n] of given.entries()) {
        const own = all[n]?.workspace
        const next = given.findIndex((m, at) => at > i && all[m]?.workspace === own)
        if (next < 0) continue
        const between = new Set(given.slice(i + 1, next).map((m) => all[m]?.workspace))
        for (const m of given.slice(next + 1)) {
          const other = all[m]?.workspace
          if (other !== own) expect(between.has(other)).toBe(true)
        }
      }
    }),
  )
})
