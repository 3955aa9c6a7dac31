import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { FormatError } from '@satchel/core/errors'
import { afterEach, describe, expect, it } from 'vitest'
import { askAs } from '../asking.ts'
import { TaskGivenUp } from '../errors.ts'
import { createWorkerPool, type RunOptions, type WorkerPool } from './pool.ts'
import { TASK_LIMITS } from './task-limits.ts'

const ODD = fileURLToPath(new URL('../testing/odd-hand.mjs', import.meta.url))
const MIB = 1024 * 1024
/** Small budgets, so that what goes beyond them is seen soon. */
const SMALL = Object.fromEntries(
  Object.entries(TASK_LIMITS).map(([task, limit]) => [task, { ...limit, cpuSeconds: 1, memoryBytes: 220 * MIB }]),
) as typeof TASK_LIMITS

let pool: WorkerPool
const open = (limits = TASK_LIMITS) => {
  pool = createWorkerPool(ODD, { limits })
}
afterEach(() => pool.close())

/** What the odd process is asked for, as the task of another name: only its budget counts here. */
const ask = (does: string, options?: RunOptions, task: 'readTip' | 'renderTip' = 'readTip') =>
  pool.run(task, { does } as never, options) as Promise<unknown>
const isAlive = (pid: number) => {
  try {
    return execFileSync('ps', ['-o', 'stat=', '-p', String(pid)], { encoding: 'utf8' }).trim()[0] !== 'Z'
  } catch {
    return false
  }
}

describe('a process of the pool', () => {
  it('gives results and errors of ours back, and knows no secret of the server', async () => {
    open()
    expect(await ask('echo')).toEqual({ does: 'echo' })
    await expect(ask('fail')).rejects.toEqual(new FormatError('X', 3, 'Y'))
    process.env.SATCHEL_SECRET = 'not for readers'
    const { env } = (await ask('whoAmI')) as { env: string[] }
    delete process.env.SATCHEL_SECRET
    expect(env.filter((name) => name.startsWith('SATCHEL'))).toEqual([])
  })

  it.each(['spin', 'match'])('that does nothing but %s is given up for its time, with a sentence', async (does) => {
    open(SMALL)
    const error = (await ask(does).catch((thrown) => thrown)) as Error
    expect(error).toBeInstanceOf(TaskGivenUp)
    expect(error.message).toBe(
      'It was given up: it takes more than 1 seconds of computing. Make it smaller or simpler, and try again.',
    )
    expect(await ask('echo')).toEqual({ does: 'echo' })
  })

  it('that takes more memory than it may is given up for that', async () => {
    open(SMALL)
    await expect(ask('grow')).rejects.toThrow('more than 220 MiB of memory')
  })

  it('that ends is replaced; what has ended it twice is given up', async () => {
    open()
    await expect(ask('end')).rejects.toThrow('it has twice ended the program')
    expect(await ask('echo')).toEqual({ does: 'echo' })
  })

  it('ends at once when nobody waits for it any more, whatever it does', async () => {
    open()
    const leave = new AbortController()
    const { pid } = (await ask('whoAmI')) as { pid: number }
    const spinning = ask('spin', { signal: leave.signal }).catch((thrown) => thrown)
    const waiting = askAs({ signal: leave.signal }, () => ask('spin')).catch((thrown) => thrown)
    const left = new Error('left')
    leave.abort(left)
    expect(await spinning).toBe(left)
    expect(await waiting).toBe(left)
    await expect.poll(() => isAlive(pid), { timeout: 20_000 }).toBe(false)
    await expect(ask('echo', { signal: leave.signal })).rejects.toBe(left)
  })

  it('ends with the pool', async () => {
    open()
    const { pid } = (await ask('whoAmI')) as { pid: number }
    const spinning = ask('spin').catch((thrown) => thrown)
    await pool.close()
    expect(await spinning).toMatchObject({ name: 'AbortError' })
    await expect.poll(() => isAlive(pid), { timeout: 20_000 }).toBe(false)
    await expect(ask('echo')).rejects.toMatchObject({ name: 'AbortError' })
  })
})

describe('who has asked', () => {
  it('does not keep another one waiting, however much it asks for, nor pictures that are looked at', async () => {
    open()
    const leave = new AbortController()
    const many = askAs({ workspaceId: 'A', signal: leave.signal }, () =>
      Array.from({ length: 40 }, () => ask('spin').catch(() => 'ended')),
    )
    const others = askAs({ workspaceId: 'B' }, () => ask('echo'))
    const seen = askAs({ workspaceId: 'A' }, () => ask('echo', {}, 'renderTip'))
    // all of the first one's tasks go on for ever: neither answer waits for one of them
    expect(await others).toEqual({ does: 'echo' })
    expect(await seen).toEqual({ does: 'echo' })
    leave.abort(new Error('left'))
    expect(new Set(await Promise.all(many))).toEqual(new Set(['ended']))
  })
})
