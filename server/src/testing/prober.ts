import { STROKE_SIZE_NAMES } from '../pictures/picture-sizes.ts'
import type { Person } from './test-server.ts'

/** What somebody else waits for, while something heavy is done: how long each answer took, ms. */
export type Probes = Record<'healthz' | 'page' | 'picture', number[]>

/**
 * Asks for the server's health, a page of brushes and a picture that was never rendered before, one after another, until it
 * is told to stop.
 */
export function probe(person: Person, brushIds: readonly string[]): { stop(): Promise<Probes> } {
  const probes: Probes = { healthz: [], page: [], picture: [] }
  let isOver = false
  let n = 0
  const ask = async (what: keyof Probes, path: string) => {
    const began = performance.now()
    const answer = await person.request(path)
    await answer.arrayBuffer()
    if (!answer.ok) throw new Error(`${path} answered ${answer.status}`)
    probes[what].push(performance.now() - began)
  }
  const going = (async () => {
    while (!isOver) {
      await ask('healthz', '/healthz')
      await ask('page', '/api/brushes?limit=60')
      // each brush in each size is rendered once
      const [brush, size] = [
        brushIds[n % brushIds.length],
        STROKE_SIZE_NAMES[Math.floor(n / brushIds.length) % STROKE_SIZE_NAMES.length],
      ]
      n++
      await ask('picture', `/api/brushes/${brush}/stroke.png?size=${size}`)
    }
  })()
  // what was not answered is told to whoever stops it
  going.catch(() => undefined)
  return {
    async stop() {
      isOver = true
      await going
      return probes
    },
  }
}

export const longest = (times: readonly number[]): number => Math.max(0, ...times)
