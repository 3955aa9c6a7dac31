import { spawnSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { releaseAndDownload } from '../testing/release.ts'
import { type Person, sentenceOf, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Keys = { keys: { fingerprint: string; retiredAt: string | null }[] }
const folder = mkdtempSync(join(tmpdir(), 'signing-'))
let server: TestServer
let person: Person

const keys = async (who = person) => (await who.json<Keys>('/api/signing')).keys
async function check(download: Uint8Array, ...args: string[]) {
  const file = join(folder, 'd.zip')
  writeFileSync(file, download)
  const { status, stdout } = spawnSync('./satchel', ['check', file, ...args], { encoding: 'utf8' })
  return { status, stdout }
}

beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  await takeInFiles(person, { 'Reeds/one.png': blotPng(1), 'Reeds/two.png': blotPng(2) })
})
afterAll(() => server.close())

it('a workspace has one key from the first time it is asked for, however many ask at once', async () => {
  const all = await Promise.all(Array.from({ length: 8 }, () => keys()))
  expect(new Set(all.map(([key]) => key?.fingerprint)).size).toBe(1)
  expect(await keys()).toHaveLength(1)
  expect(await keys(await server.owner())).not.toEqual(await keys())
})

it('a release is signed by it, says so in its texts, and goes on being valid when another key signs', async () => {
  const [first] = await keys()
  const download = await releaseAndDownload(server, person)
  expect(await check(download, '--signer', first?.fingerprint ?? '')).toMatchObject({
    status: 0,
    stdout: expect.stringContaining(`signed by ${first?.fingerprint}.`),
  })
  await person.post('/api/signing/rotate')
  const [second, retired] = await keys()
  expect(second?.fingerprint).not.toBe(first?.fingerprint)
  expect(retired).toMatchObject({ fingerprint: first?.fingerprint, retiredAt: expect.any(String) })
  expect((await check(download)).status).toBe(0)
  const later = await releaseAndDownload(server, person)
  expect((await check(later)).stdout).toContain(`signed by ${second?.fingerprint}.`)
  expect((await check(later, '--signer', first?.fingerprint ?? '')).status).toBe(1)
})

it('the key goes to another workspace as a file, and then the same brushes give the same bytes there', async () => {
  const { pem } = await person.post<{ pem: string }>('/api/signing/export')
  const other = await server.owner()
  await other.post('/api/signing/import', { pem })
  expect((await keys(other))[0]?.fingerprint).toBe((await keys())[0]?.fingerprint)
  const refused = await other.request('/api/signing/import', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ pem: 'nothing' }),
  })
  expect([refused.status, await sentenceOf(refused)]).toEqual([
    422,
    expect.stringContaining('no private key of Ed25519'),
  ])
})

it('what is stored signs nothing by itself: the private half is sealed, and for one workspace alone', async () => {
  const { rows } = await server.parts.deps.db.execute<{ sealed: string; workspace_id: string; public_key: string }>(
    sql`select * from signing_key where retired_at is null`,
  )
  const { pem } = await person.post<{ pem: string }>('/api/signing/export')
  const secret = pem.split('\n')[1] ?? ''
  for (const { sealed } of rows) {
    expect(sealed).not.toContain(secret)
    expect(Buffer.from(sealed, 'base64url').toString('latin1')).not.toContain(secret)
  }
  // what was sealed for one workspace is nothing to another one
  const other = rows.find(({ workspace_id }) => workspace_id !== person.workspaceId)
  await server.parts.deps.db.execute(
    sql`update signing_key set sealed = ${other?.sealed} where workspace_id = ${person.workspaceId} and retired_at is null`,
  )
  const broken = await person.request('/api/signing/export', { method: 'POST' })
  expect([broken.status, await sentenceOf(broken)]).toEqual([409, expect.stringContaining('cannot be opened')])
  await person.post('/api/signing/rotate')
  expect((await person.request('/api/signing/export', { method: 'POST' })).status).toBe(200)
})
