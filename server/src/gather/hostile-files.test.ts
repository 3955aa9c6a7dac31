import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { loadLedger, takeInFiles } from '../testing/gather.ts'
import { HOSTILE_FILES, hostileFiles } from '../testing/hostile-files.ts'
import { longest, probe } from '../testing/prober.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

/** Until all of them have been read: on a busy machine that takes its time. */
const PATIENCE_MS = 600_000

let server: TestServer
let person: Person
let other: Person
let brushIds: string[]
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  other = await server.owner()
  await takeInFiles(other, Object.fromEntries(Array.from({ length: 12 }, (_, i) => [`b${i}.png`, blotPng(i)])))
  brushIds = (await other.json<{ ids: string[] }>('/api/brushes/ids')).ids
})
afterAll(() => server.close())

/** Files that a check has time for: what is dear beside what it shows is left to the drills. */
const soon = hostileFiles().filter(({ kind, file }) => kind === 'svg' || HOSTILE_FILES[kind].indexOf(file) < 2)

describe('files that are made to cost time or memory', () => {
  it(
    'are each accounted for in the ledger, while others go on with their work',
    async () => {
      const { id } = await person.post<{ id: string }>('/api/gathers')
      const prober = probe(other, brushIds)
      const begun = performance.now()
      for (const [i, { kind, file }] of soon.entries())
        expect((await person.upload(id, `${kind}-${i}.bin`, await file.make())).status).toBe(201)
      const ledger = await until(async () => {
        const now = await loadLedger(person, id)
        return !now.reading && now.files.read === soon.length && now
      }, PATIENCE_MS)
      const wholeMs = performance.now() - begun
      const probes = await prober.stop()
      for (const [i, { kind, file }] of soon.entries()) {
        const lines = ledger.lines.filter(({ path, folder }) => `${folder}/${path}`.includes(`${kind}-${i}.bin`))
        expect(lines.length, `${kind}: ${file.name}`).toBeGreaterThan(0)
        for (const { outcome, reason } of lines) if (outcome !== 'take') expect(reason, file.name).toMatch(/\.$/)
      }
      // what failed by a fault of ours would stand in the log
      expect(server.logged().filter(({ level }) => Number(level) >= 50)).toEqual([])
      // nobody waits for the files of somebody else; how long at most is measured by the drills, on a machine that does nothing else
      for (const times of Object.values(probes)) {
        expect(times.length).toBeGreaterThan(5)
        expect(longest(times)).toBeLessThan(wholeMs / 3)
      }
      await person.post(`/api/gathers/${id}/cancel`)
    },
    PATIENCE_MS,
  )

  const heads = [
    HOSTILE_FILES.svg[0],
    HOSTILE_FILES.svg[1],
    HOSTILE_FILES.png[1],
    HOSTILE_FILES.obj[0],
    HOSTILE_FILES.gih[0],
  ]
  it.each(heads.flatMap((file) => (file ? [[file.name, file] as const] : [])))(
    'are answered with a sentence by whatever way they come: %s',
    async (_name, file) => {
      const body = new Uint8Array(await file.make())
      const brushId = (await takeOne(person)) ?? ''
      const answers = [
        await person.request('/api/sources?name=x.bin', { method: 'POST', body }),
        await person.request('/api/materials?name=x.bin', { method: 'POST', body }),
        await person.request(`/api/brushes/${brushId}/frames/1?from=1&name=x.bin`, { method: 'PUT', body }),
      ]
      for (const answer of answers) {
        expect([200, 201, 413, 422]).toContain(answer.status)
        if (!answer.ok) expect(await sentenceOf(answer)).toMatch(/\.$/)
      }
    },
  )
})

/** A brush of one's own, taken in once. */
async function takeOne(who: Person): Promise<string | undefined> {
  const [known] = (await who.json<{ ids: string[] }>('/api/brushes/ids')).ids
  if (known) return known
  await takeInFiles(who, { 'one.png': blotPng(99) })
  return (await who.json<{ ids: string[] }>('/api/brushes/ids')).ids[0]
}
