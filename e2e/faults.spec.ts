import { existsSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { type APIRequestContext, type APIResponse, expect, request as requests, test } from '@playwright/test'
import { toByteSource } from '@satchel/core/formats/zip/layout'
import { listZip } from '@satchel/core/formats/zip/read'
import pg from 'pg'
import { openSatchel, type Satchel } from './harness.ts'
import { packOfTips } from './tips.ts'

let satchel: Satchel
let ask: APIRequestContext
/** One looks, one holds a lock that a server waits for. */
let database: pg.Client
let holder: pg.Client
test.beforeAll(async () => {
  satchel = await openSatchel({ demo: false })
  ask = await requests.newContext({ baseURL: satchel.url, extraHTTPHeaders: { origin: satchel.url } })
  database = new pg.Client({ connectionString: satchel.databaseUrl })
  holder = new pg.Client({ connectionString: satchel.databaseUrl })
  await Promise.all([database.connect(), holder.connect()])
  await good(
    ask.post('/api/session/owner', {
      data: { name: 'Ida', workspace: 'Marsh', email: 'ida@marsh.example', password: 'samphire-and-salt' },
    }),
  )
})
test.afterAll(async () => {
  await Promise.all([database.end(), holder.end()])
  await satchel.close()
})

// biome-ignore lint/suspicious/noExplicitAny: answers of many routes
async function good(asked: Promise<APIResponse>): Promise<any> {
  const response = await asked
  if (!response.ok()) throw new Error(`${response.url()} answered ${response.status()}: ${await response.text()}`)
  return response.json()
}
const get = (path: string) => good(ask.get(path))
const post = (path: string, data: object = {}) => good(ask.post(path, { data }))
const count = async (sql: string): Promise<number> => Number((await database.query(sql)).rows[0].n)

/** Uploads the zip of 150 tips into a new ledger. */
async function upload(): Promise<string> {
  const { id } = await post('/api/gathers')
  await good(ask.put(`/api/gathers/${id}/files?path=tips.zip`, { data: Buffer.from(packOfTips()) }))
  return id
}
const readLines = (id: string) => count(`select count(*) as n from gather_line where gather_id = '${id}'`)
/** Whether a statement of the server waits for what this test holds. */
const isHeldUp = async () =>
  (await count(`select count(*) as n from pg_stat_activity where wait_event_type = 'Lock' and state = 'active'`)) > 0

test('two servers: one stands still for longer than it may while it reads; each file counts once', async () => {
  const id = await upload()
  await expect.poll(() => readLines(id), { intervals: [20] }).toBeGreaterThan(10)
  // in the middle of a transaction, so that it keeps what it has locked
  await holder.query('begin; lock table gather_line in exclusive mode')
  await expect.poll(isHeldUp).toBe(true)
  satchel.pause()
  await holder.query('rollback')
  expect(await readLines(id)).toBeLessThan(150)
  const second = await satchel.join()
  const atSecond = await requests.newContext({
    baseURL: second.url,
    extraHTTPHeaders: { origin: satchel.url },
    storageState: await ask.storageState(),
  })
  await expect
    .poll(async () => {
      const { reading, files } = await good(atSecond.get(`/api/gathers/${id}`))
      return reading === null && files.read === 1
    })
    .toBe(true)
  const told = async () => (await good(atSecond.get(`/api/gathers/${id}`))).tally
  const after = await told()
  satchel.goOn()
  await satchel.stop() // once it has ended there is nothing it could still write
  expect(await told()).toEqual(after)
  const paths = `select count(distinct path) as n from gather_line where gather_id = '${id}' and outcome = 'take'`
  expect([await count(paths), after.take]).toEqual([150, 150])
  await atSecond.dispose()
  await second.stop()
  await satchel.start()
})

test('killed while brushes are taken in: none of them is, and the ledger can be taken in again', async () => {
  const { id } = await get('/api/gathers/current')
  // what takes in stops at the last of its tables, with most of it written
  await holder.query('begin; lock table set_item in exclusive mode')
  const lost = ask.post(`/api/gathers/${id}/take`).catch(() => 'cut off')
  await expect.poll(isHeldUp).toBe(true)
  await satchel.kill()
  expect(await lost).toBe('cut off')
  await holder.query('rollback')
  await satchel.start()
  const isNothing = async () => (await count('select count(*) as n from brush where not starter')) === 0
  expect(await isNothing()).toBe(true)
  expect((await get(`/api/gathers/${id}`)).tally.take).toBe(150)
  expect((await post(`/api/gathers/${id}/take`)).brushes).toBe(150)
  expect(await count('select count(*) as n from brush where not starter')).toBe(150)
})

test('killed while a release is built: it is built again, once, and nothing of the first is left', async () => {
  const { sets } = await get('/api/sets')
  const pack = await post('/api/packs', { title: 'Marsh', licence: 'CC0-1.0' })
  const setIds = sets.filter(({ starter }: { starter: boolean }) => !starter).map(({ id }: { id: string }) => id)
  await good(ask.put(`/api/packs/${pack.id}/sets`, { data: { setIds } }))
  const release = await post(`/api/packs/${pack.id}/releases`, { version: '1.0.0', notes: '' })
  const states = async () => (await get(`/api/packs/${pack.id}`)).releases.map(({ state }: { state: string }) => state)
  await expect.poll(states).toEqual(['building'])
  // stops where the built file is stored
  await holder.query('begin; lock table blob_piece in exclusive mode')
  await expect.poll(isHeldUp).toBe(true)
  await satchel.kill()
  await holder.query('rollback')
  await satchel.start()
  await expect.poll(states).toEqual(['ready'])
  expect(readdirSync(join(satchel.cacheFolder, 'scratch'))).toEqual([])
  const { link } = await post(`/api/packs/${pack.id}/hand-outs`, { releaseId: release.id, name: 'Tom' })
  const zip = await (await ask.get(`/api/h/${link.split('/').at(-1)}/download`)).body()
  const entries = await listZip(toByteSource(new Uint8Array(zip)))
  expect(entries.filter(({ path }) => path.endsWith('.png')).length).toBeGreaterThan(140)
  expect(await count(`select count(*) as n from blob where media_type = 'application/zip'`)).toBe(1)
})

test('killed while a sheet is printed: it is printed again, and nothing of the first is left', async () => {
  const { packs } = await get('/api/packs')
  const { id } = await post('/api/parcels', { wanted: { kind: 'packSheet', packId: packs[0].id, paper: 'a4' } })
  const find = async () => {
    const { parcels } = await get('/api/parcels')
    return parcels.find((parcel: { id: string }) => parcel.id === id)
  }
  // its first pictures are painted, and lie there
  const scratch = join(satchel.cacheFolder, 'scratch')
  const painted = () => (existsSync(scratch) ? readdirSync(scratch, { recursive: true }).length : 0)
  await expect.poll(painted, { intervals: [20] }).toBeGreaterThan(4)
  await satchel.kill()
  expect(await count(`select count(*) as n from parcel where file_name is null`)).toBe(1)
  await satchel.start()
  await expect.poll(async () => (await find()).fileName).toBe('Marsh A4.pdf')
  await expect.poll(painted).toBe(0)
  expect(await count(`select count(*) as n from blob where media_type = 'application/pdf'`)).toBe(1)
  const pdf = await (await ask.get(`/api/parcels/${id}/file`)).body()
  expect(pdf.subarray(0, 8).toString()).toBe('%PDF-1.7')
  expect(pdf.subarray(-6).toString()).toContain('%%EOF')
})

/** The states of an install as the server tells them. */
const installState = async (id: string) => (await get(`/api/installs/${id}`)).state
const inFolder = () => count(`select count(*) as n from stand_in_file where stand_in = 'dunlin'`)

test('killed in each phase of an install: what was written stays, the folder has all of it or nothing', async () => {
  const { ids } = await get('/api/brushes/ids')
  const brushIds = ids.slice(0, 24)
  const { id } = await post('/api/installs', { name: 'Class', destinationId: 'dunlin', brushIds })
  const written = () => count(`select count(*) as n from install_file where install_id = '${id}'`)
  // while its files are written: those of the first part are kept
  await expect.poll(written, { intervals: [20] }).toBeGreaterThanOrEqual(8)
  await holder.query('begin; lock table install_file in exclusive mode')
  await expect.poll(isHeldUp).toBe(true)
  const before = await written()
  expect(before).toBeLessThan(24)
  await satchel.kill()
  await holder.query('rollback')
  await satchel.start()
  expect([await written(), await installState(id)]).toEqual([before, 'preparing'])
  await expect.poll(() => installState(id)).toBe('ready')
  expect([await written(), await inFolder()]).toEqual([24, 0])

  /** Held where the install's own state is written, killed, and begun again. */
  const killedWhile = async (what: string, body: object = {}) => {
    await holder.query(`begin; select from install where id = '${id}' for share`)
    const lost = ask.post(`/api/installs/${id}/${what}`, { data: body }).catch(() => 'cut off')
    await expect.poll(isHeldUp).toBe(true)
    await satchel.kill()
    expect(await lost).toBe('cut off')
    await holder.query('rollback')
    await satchel.start()
  }
  // while it is put in
  await killedWhile('put', { answer: 'both' })
  expect([await inFolder(), await installState(id)]).toEqual([0, 'ready'])
  await post(`/api/installs/${id}/put`, { answer: 'both' })
  expect(await inFolder()).toBe(24)
  // while it is repaired, and while it is taken out
  await database.query(`delete from stand_in_file where path like '%0.gbr'`)
  const drifted = await inFolder()
  expect(drifted).toBeLessThan(24)
  await killedWhile('repair')
  expect(await inFolder()).toBe(drifted)
  expect((await post(`/api/installs/${id}/repair`)).repaired).toBe(24 - drifted)
  await killedWhile('take-out')
  expect([await inFolder(), await installState(id)]).toEqual([24, 'in'])
  await post(`/api/installs/${id}/take-out`)
  expect([await inFolder(), await installState(id)]).toEqual([0, 'out'])
})
