import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import { signIn, startTestServer, type TestServer } from '../testing/test-server.ts'
import { seedLife } from './life.ts'
import { DEMO_EMAIL, DEMO_PASSWORD, seedDemo } from './seed.ts'

let server: TestServer
let ask: <Body>(path: string) => Promise<Body>
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  const library = await seedDemo(server.parts.deps)
  if (!library) throw new Error('there was something already')
  await seedLife(server.parts.deps, library)
  const cookie = await signIn(server.url, DEMO_EMAIL, DEMO_PASSWORD)
  ask = async (path) => {
    const response = await fetch(`${server.url}/api${path}`, { headers: { origin: server.url, cookie } })
    if (!response.ok) throw new Error(`${path} answered ${response.status}`)
    return response.json() as never
  }
}, 600_000)
afterAll(() => server.close())

it('has brushes made of its sources', async () => {
  const { sources } = await ask<{ sources: { name: string; made: unknown[] }[] }>('/sources')
  const made = sources.filter((source) => source.made.length > 0)
  expect(made.map(({ name }) => name).sort()).toEqual(['Sea star, half an arm', 'Shells from the tide line'])
  expect(made.reduce((sum, { made: brushes }) => sum + brushes.length, 0)).toBeGreaterThanOrEqual(9)
})

it('has one install with something changed, something gone, and one of a release that has a newer one', async () => {
  type Install = { id: string; name: string; state: string; release: unknown }
  const { installs } = await ask<{ installs: Install[] }>('/installs')
  expect(installs.map(({ name, state }) => [name, state]).sort()).toEqual([
    ['Inks for charts', 'in'],
    ['Ropes', 'in'],
    ['Saltmarsh Sketching', 'in'],
  ])
  const whole = async (name: string) => {
    const id = installs.find((install) => install.name === name)?.id
    return ask<{ drift: { state: string }[] }>(`/installs/${id}`)
  }
  expect((await whole('Inks for charts')).drift.map(({ state }) => state).sort()).toEqual(['changed', 'gone'])
  expect((await whole('Saltmarsh Sketching')).drift).toEqual([])
  expect(installs.find(({ name }) => name === 'Saltmarsh Sketching')?.release).toMatchObject({
    version: '1.0.0',
    newest: '1.1.1',
    recalled: null,
  })
})

it('has a class whose links go on to each newer release, some of whom have fetched it', async () => {
  const { packs } = await ask<{ packs: { id: string }[] }>('/packs')
  type HandOut = { version: string; follows: boolean; lastVersion: string | null }
  const { handOuts } = await ask<{ handOuts: HandOut[] }>(`/packs/${packs[0]?.id}/people`)
  const following = handOuts.filter(({ follows }) => follows)
  expect(following).toHaveLength(10)
  expect(new Set(following.map(({ version }) => version))).toEqual(new Set(['1.1.1']))
  expect(new Set(following.map(({ lastVersion }) => lastVersion))).toEqual(new Set([null, '1.0.0', '1.1.1']))
})

it('has loose ends of four kinds, and a mend that can be undone', async () => {
  type End = { brush: string; proposals: { by: string; putBack?: boolean }[] }
  const { ends, mends } = await ask<{ ends: End[]; mends: { ends: number }[] }>('/loose-ends?standIn=sanderling')
  const kinds = new Map(ends.map(({ brush, proposals: [first] }) => [brush, first?.putBack ? 'back' : first?.by]))
  expect(kinds.get('Powder down')).toBe('look')
  expect(kinds.get('Marram tuft')).toBe('name')
  expect(kinds.get('Sea campion')).toBeUndefined()
  expect([...kinds.values()].filter((kind) => kind === 'content').length).toBeGreaterThanOrEqual(1)
  expect([...kinds.values()].filter((kind) => kind === 'back')).toHaveLength(1)
  expect(mends).toHaveLength(1)
})

it('has the likeness of everything asked for', async () => {
  const { jobs } = await ask<{ jobs: { title: string; state: string }[] }>('/jobs')
  const measuring = jobs.find(({ title }) => title === 'Likeness of the whole library')
  expect(measuring?.state).toMatch(/queued|running|done/)
  expect(jobs.filter(({ state }) => state === 'failed' || state === 'stopped')).toEqual([])
})
