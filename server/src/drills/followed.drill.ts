import { execFile, spawn } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { fileURLToPath } from 'node:url'
import { hashPixels } from '@satchel/core/hashes'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { blot, blotPng } from '../testing/tips.ts'
import { startWholeServer, type WholeServer } from '../testing/whole-server.ts'

const SHELL = fileURLToPath(new URL('../../../cli/dist/main.mjs', import.meta.url))
const FILES = 40
const SIDE_PX = 40
/** The server is killed so many times, each time later after its folder was painted anew; every second time its follower, too. */
const KILLS = 8
/** Files lie still for a while before they are sent: the first moment is before that, the last ones once all is settled. */
const [FIRST_MS, STEP_MS] = [2000, 1400]

let server: WholeServer
let folder: string
let env: NodeJS.ProcessEnv

beforeAll(async () => {
  server = await startWholeServer()
  folder = mkdtempSync(join(tmpdir(), 'satchel-followed-'))
  const { token } = await server.post<{ token: string }>('/api/tokens', { name: 'Drill', scope: 'work', days: 1 })
  env = { ...process.env, SATCHEL_AT: server.url, SATCHEL_TOKEN: token }
})
afterAll(async () => {
  await server.close()
  rmSync(folder, { recursive: true, force: true })
})

const seedOf = (round: number, n: number) => 1000 * round + n
/** All files of the folder as they are painted in a round. */
const paint = (round: number) => {
  for (let n = 0; n < FILES; n++) writeFileSync(join(folder, `t${n}.png`), blotPng(seedOf(round, n), SIDE_PX))
}
/** Looks until all that lies there is settled. @returns What that brought. */
const settle = () =>
  new Promise<Record<string, number>>((done, fail) => {
    execFile(process.execPath, [SHELL, 'watch', folder, '--once', '--json'], { env }, (error, out, said) =>
      error ? fail(new Error(said)) : done(JSON.parse(out)),
    )
  })
const follow = () => spawn(process.execPath, [SHELL, 'watch', folder, '--json'], { env, stdio: 'ignore' })

type Line = { id: string; name: string }
type Brush = { version: number; pictures: { pixelSha: string }[] }
/** What the brushes hold, by the names of their files. */
async function held(): Promise<Map<string, Brush>> {
  const { brushes } = await server.json<{ brushes: Line[] }>('/api/brushes?sort=name&from=0&limit=100')
  const all = new Map<string, Brush>()
  for (const { id, name } of brushes) {
    expect(all.has(name), `${name} is there once`).toBe(false)
    all.set(name, await server.json<Brush>(`/api/brushes/${id}`))
  }
  return all
}
const pixelsOf = (round: number) =>
  new Map(Array.from({ length: FILES }, (_, n) => [`t${n}`, hashPixels(blot(seedOf(round, n), SIDE_PX))]))
const tipsOf = (brushes: Map<string, Brush>) =>
  new Map([...brushes].map(([name, { pictures }]) => [name, pictures[0]?.pixelSha]))

it('a server that is killed while a folder is followed brings each file to its brush, once, and the day is taken back as one', async () => {
  paint(0)
  expect(await settle()).toMatchObject({ fresh: FILES })
  const { id } = await server.json<{ id: string }>('/api/gathers/current')
  await server.post(`/api/gathers/${id}/take`)
  expect(tipsOf(await held())).toEqual(pixelsOf(0))

  let follower = follow()
  try {
    for (let round = 1; round <= KILLS; round++) {
      paint(round)
      await sleep(FIRST_MS + round * STEP_MS)
      if (round % 2 === 0) follower.kill('SIGKILL')
      await server.end('SIGKILL')
      await server.start()
      if (round % 2 === 0) follower = follow()
    }
  } finally {
    follower.kill('SIGKILL')
  }
  await settle()
  const brushes = await held()
  expect(tipsOf(brushes)).toEqual(pixelsOf(KILLS))
  const versions = [...brushes.values()].map(({ version }) => version)
  console.log(`${KILLS} kills; versions of a brush: ${Math.min(...versions)} to ${Math.max(...versions)}`)
  // each round gave a brush a new version at most once
  expect(Math.max(...versions)).toBeLessThanOrEqual(1 + KILLS)
  // nothing waits, and nothing more is brought
  expect(await settle()).toMatchObject({ changed: 0, fresh: 0, renamed: 0, gone: 0, refused: 0 })
  const { acts } = await server.json<{ acts: { id: string }[] }>('/api/acts')
  await server.post(`/api/acts/${acts[0]?.id}/undo`)
  expect(tipsOf(await held())).toEqual(pixelsOf(0))
}, 600_000)
