import { mkdtempSync, rmSync } from 'node:fs'
import { createServer, type RequestListener, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { serve } from '@hono/node-server'
import { readPng } from '@satchel/core/formats/png/read'
import { encodePng } from '@satchel/node/png'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { exchangePages } from '../exchange/pages.ts'
import { Shed } from '../exchange/shed.ts'
import { stock } from '../exchange/stock.ts'
import { settledLedger, takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng, onSheet } from '../testing/tips.ts'
import { listPack } from '../workers/list-pack.ts'

type Found = { title: string; next: string | null; items: { id: string; title: string; maker: string; version: string; had: string | null; strokes: string[] }[] } // biome-ignore format: a record
type Item = {
  title: string
  version: string
  had: string | null
  releases: { version: string }[]
  brushes: { id: string; name: string; maker: string; stroke: string; here: { how: string; name: string } | null }[]
}
type Newer = { newer: { title: string; had: string; now: string; item: string }[] }

let server: TestServer
let person: Person
let shed: Shed
let host = ''
let strange: { host: string; answer: RequestListener; server: Server }
const folder = mkdtempSync(join(tmpdir(), 'satchel-exchange-'))
const ends: (() => void)[] = []

beforeAll(async () => {
  shed = new Shed(folder, 'Barter Shed', listPack)
  await stock(shed)
  const pages = exchangePages(shed, (asked) => asked === host)
  host = await new Promise<string>((done) => {
    const running = serve({ fetch: pages.fetch, hostname: '127.0.0.1', port: 0 }, ({ port }) =>
      done(`127.0.0.1:${port}`),
    )
    ends.push(() => running.close())
  })
  const hostile = createServer((request, response) => strange.answer(request, response))
  await new Promise<void>((done) => hostile.listen(0, '127.0.0.1', done))
  strange = { host: `127.0.0.1:${(hostile.address() as AddressInfo).port}`, answer: (_, response) => response.end(), server: hostile } // biome-ignore format: a record
  ends.push(() => {
    hostile.closeAllConnections()
    hostile.close()
  })
  const exchanges = [`http://${host}`, `http://${strange.host}`]
  server = await startTestServer(inject('databaseUrl'), { exchanges })
})
beforeEach(async () => {
  person = await server.owner()
})
afterAll(async () => {
  await server.close()
  for (const end of ends) end()
  rmSync(folder, { recursive: true, force: true })
})

const find = (wish: object = {}, at = host) => person.post<Found>(`/api/exchanges/${at}/find`, wish)
const open = (item: string) => person.post<Item>(`/api/exchanges/${host}/items/${item}`)
const itemOf = async (title: string) => (await find({ q: title })).items.find((each) => each.title === title)?.id ?? ''
const ask = async (path: string, body: object = {}) => {
  const response = await person.request(path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }) // biome-ignore format: one request
  return { status: response.status, title: ((await response.json()) as { title?: string }).title ?? '' }
}
async function take(title: string, version: string, only: string[] | null = null) {
  const item = await itemOf(title)
  const { id } = await person.post<{ id: string }>(`/api/exchanges/${host}/items/${item}/take`, { version, only })
  return { id, item, ledger: await settledLedger(person, id) }
}

describe('an exchange', () => {
  it('is looked through by words, makers, and by what a brush of the library looks like', async () => {
    const { title, items } = await find()
    expect([title, items.length]).toEqual(['Barter Shed', 6])
    expect((await find({ q: 'rope tarred' })).items.map((each) => each.title)).toEqual(['Cordage'])
    expect((await find({ maker: 'Ilse Duinhof' })).items.map((each) => each.title)).toEqual(['Shell Cabinet'])
    expect((await find({ q: 'nothing of that' })).items).toEqual([])
    await take('Cordage', '1.0.0')
    const { id } = await person.json<{ id: string }>('/api/gathers/current')
    await person.post(`/api/gathers/${id}/take`)
    const { brushes } = await person.json<{ brushes: { id: string }[] }>('/api/brushes?q=hawser')
    expect((await find({ like: brushes[0]?.id })).items[0]?.title).toBe('Cordage')
  })

  it('shows strokes, and gives all that trying a brush takes, before anything is taken', async () => {
    const item = await itemOf('Wet Grounds')
    const { brushes } = await open(item)
    const stroke = await person.request(
      `/api/exchanges/${host}/picture?path=${encodeURIComponent(brushes[0]?.stroke ?? '')}`,
    )
    expect([stroke.status, stroke.headers.get('content-type')]).toEqual([200, 'image/png'])
    const tried = await person.request(`/api/exchanges/${host}/items/${item}/brushes/${brushes[1]?.id}`)
    const form = await tried.formData()
    expect(JSON.parse(String(form.get('recipe')))).toMatchObject({ mark: { sizePx: 120 } })
    expect(form.getAll('frame')).toHaveLength(1)
    expect((await person.request('/api/gathers/current').then((r) => r.json())) as object).toEqual({ id: null })
  })

  it('gives one, some or all, with maker, licence and where it came from, and tells what is here already', async () => {
    const item = await itemOf('Quiet Feathers')
    const { brushes: all } = await open(item)
    expect(all.map(({ here }) => here)).toEqual([null, null, null, null])
    const chosen = all[1]?.id ?? ''
    const { id, ledger } = await take('Quiet Feathers', '1.1.0', [chosen])
    expect(ledger.lines.map(({ name, outcome }) => [name, outcome]).sort()).toEqual([
      ['Barred plume', 'take'],
      ['Breast down', 'skip'],
      ['Loose down', 'skip'],
      ['Old quill', 'skip'],
    ])
    await person.post(`/api/gathers/${id}/take`)
    const { brushes } = await person.json<{ brushes: { name: string; maker: string }[] }>('/api/brushes')
    expect(brushes).toMatchObject([{ name: 'Barred plume', maker: 'Brita Holm-Aas' }])
    const again = await open(item)
    expect([again.had, again.brushes.map(({ here }) => here?.how ?? null)]).toEqual([
      '1.1.0',
      [null, 'exact', null, null],
    ])
    expect((await find({ q: 'quiet' })).items[0]?.had).toBe('1.1.0')
    await person.post('/api/brushes/bin', { ids: (await person.json<{ brushes: { id: string }[] }>('/api/brushes')).brushes.map((each) => each.id) }) // biome-ignore format: one step
    expect((await open(item)).brushes.map(({ here }) => here)).toEqual([null, null, null, null])
  })

  it('tells what looks like a brush that is here, by the marks alone', async () => {
    const item = await itemOf('Shell Cabinet')
    const alike = () =>
      person.post<{ alike: { id: string; how: string; name: string }[] }>(`/api/exchanges/${host}/items/${item}/alike`)
    expect(await alike()).toEqual({ alike: [] })
    const { brushes } = await open(item)
    const turret = brushes.find(({ name }) => name === 'Turret')
    const page = (await (await fetch(`http://${host}/items/${item}.json`)).json()) as {
      _satchel: { list: { name: string; frames: { path: string }[] }[] }
    }
    const path = page._satchel.list.find(({ name }) => name === 'Turret')?.frames[0]?.path
    const png = new Uint8Array(await (await fetch(`http://${host}${path}`)).arrayBuffer())
    const [frame] = readPng(png).frames
    if (!frame) throw new Error('the turret has a picture')
    // the same with paper around it, as it came by another way
    await takeInFiles(person, { 'Mine/snail.png': encodePng(onSheet(frame.pixels, 11)) })
    expect(await alike()).toEqual({ alike: [{ id: turret?.id, how: 'alike', name: 'snail' }] })
  })

  it('tells of a newer release, which is taken in as one', async () => {
    const { id, item } = await take('Shell Cabinet', '1.0.0')
    await person.post(`/api/gathers/${id}/take`)
    expect(await person.json<Newer>('/api/exchanges')).toMatchObject({ newer: [] })
    expect(await person.post<Newer>('/api/exchanges/look')).toMatchObject({ newer: [{ title: 'Shell Cabinet', had: '1.0.0', now: '2.0.0', item }] }) // biome-ignore format: one line
    const next = await take('Shell Cabinet', '2.0.0')
    expect(next.ledger.lines.filter(({ outcome }) => outcome === 'take').map(({ name }) => name)).toEqual([
      'Broken bits',
    ])
    await person.post(`/api/gathers/${next.id}/take`)
    expect(await person.json<Newer>('/api/exchanges')).toMatchObject({ newer: [] })
  })

  it('takes what is published, lists an update, and lets go of it for its maker alone', async () => {
    await takeInFiles(person, { 'Shore/blot.png': blotPng(1), 'Shore/tuft.png': blotPng(2) })
    const { sets } = await person.json<{ sets: { id: string }[] }>('/api/sets')
    const pack = await person.post<{ id: string }>('/api/packs', {
      title: 'Reed Beds',
      maker: 'Wren',
      licence: 'CC0-1.0',
    })
    await person.post(`/api/packs/${pack.id}/sets`, { setIds: sets.map(({ id }) => id) }, 'PUT')
    const release = async (version: string) => {
      const { id } = await person.post<{ id: string }>(`/api/packs/${pack.id}/releases`, {
        version,
        notes: 'More reeds.',
      })
      await until(async () => {
        const { releases } = await person.json<{ releases: { id: string; state: string }[] }>(`/api/packs/${pack.id}`)
        return releases.find((each) => each.id === id)?.state === 'ready'
      }, 60_000)
      return id
    }
    const publish = async (releaseId: string) => {
      const { jobId } = await person.post<{ jobId: string }>('/api/exchanges/publish', { releaseId, host, about: 'Reeds, wet and dry.', notes: 'First.', tags: ['reeds'] }) // biome-ignore format: one request
      return until(async () => {
        const { jobs } = await person.json<{ jobs: { id: string; state: string; error: string | null }[] }>('/api/jobs')
        const job = jobs.find(({ id }) => id === jobId)
        return job && job.state !== 'queued' && job.state !== 'running' && job
      })
    }
    const first = await release('1.0.0')
    expect(await publish(first)).toMatchObject({ state: 'done' })
    const item = await itemOf('Reed Beds')
    expect((await open(item)).brushes.map(({ here }) => here?.how)).toEqual(['exact', 'exact'])
    // an answer that was lost: the same once more changes nothing
    expect(await publish(first)).toMatchObject({ state: 'done' })
    expect((await open(item)).releases).toHaveLength(1)
    const newest = await release('1.1.0')
    expect(await publish(newest)).toMatchObject({ state: 'done' })
    expect((await open(item)).releases.map(({ version }) => version)).toEqual(['1.1.0', '1.0.0'])
    expect(await publish(first)).toMatchObject({ state: 'failed', error: expect.stringContaining('is here already') })
    const { published } = await person.json<{ published: { id: string; version: string }[] }>(
      `/api/exchanges/published-of/${pack.id}`,
    )
    expect(published).toMatchObject([{ version: '1.1.0' }])

    // more brushes than an exchange lists are told before anything is sent
    await server.parts.deps.db.execute(sql`update release set brushes =
      (select jsonb_agg(jsonb_set(brushes->0, '{id}', to_jsonb('b' || n))) from generate_series(1, 501) n) where id = ${first}`)
    expect(await ask('/api/exchanges/publish', { releaseId: first, host, about: '', notes: '', tags: [] })).toEqual({ status: 422, title: expect.stringContaining('has 501 brushes, and an exchange lists 500 of a pack at most') }) // biome-ignore format: one line

    // one that never answers holds up nobody who stops it
    let [isSent, isLeft] = [false, false]
    strange.answer = (request, response) => {
      if (request.method === 'PUT') {
        isSent = true
        request.resume().socket.once('close', () => {
          isLeft = true
        })
      } else response.end(JSON.stringify({ exchange: 1, title: 'Strange', description: '', feed: '/f', like: '/l', items: '/items' })) // biome-ignore format: one line
    }
    const hung = { releaseId: newest, host: strange.host, about: '', notes: '', tags: [] }
    const { jobId } = await person.post<{ jobId: string }>('/api/exchanges/publish', hung)
    const stateOf = async () => (await person.json<{ jobs: { id: string; state: string }[] }>('/api/jobs')).jobs.find(({ id }) => id === jobId)?.state // biome-ignore format: one line
    await until(async () => isSent, 20_000)
    await person.post(`/api/jobs/${jobId}/stop`)
    await until(async () => (await stateOf()) === 'stopped', 20_000)
    await until(async () => isLeft, 20_000)

    const forged = await fetch(`http://${host}/items/${item}/withdraw`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ at: new Date().toISOString(), signature: 'A'.repeat(86) }) }) // biome-ignore format: one request
    expect(forged.status).toBe(403)
    await person.post(`/api/exchanges/published/${published[0]?.id}/withdraw`)
    expect((await find({ q: 'reed beds' })).items).toEqual([])
    expect(await ask(`/api/exchanges/${host}/items/${item}`)).toEqual({ status: 404, title: expect.stringContaining('was taken away by its maker') }) // biome-ignore format: one line
  })
})

describe('an exchange that is not as it should be', () => {
  const says =
    (status: number, body: string | Uint8Array, type = 'application/json'): RequestListener =>
    (_request, response) =>
      response.writeHead(status, { 'content-type': type }).end(body)

  it.each<[string, RequestListener, number, string]>([
    ['answers with a page', says(200, '<html></html>', 'text/html'), 502, 'in another way than exchanges do'],
    ['answers with what is too deep', says(200, '['.repeat(100_000)), 502, 'in another way'],
    ['answers with bad names', says(200, JSON.stringify({ exchange: 1, title: 'a\u0000\nb', description: '', feed: '/f', like: '/l', items: '/i' })), 502, 'title'],
    ['leads elsewhere by a path', says(200, JSON.stringify({ exchange: 1, title: 'x', description: '', feed: '//evil.example/f', like: '/l', items: '/i' })), 502, 'path'],
    ['leads elsewhere by a redirect', (_, response) => response.writeHead(302, { location: 'http://127.0.0.1:1/' }).end(), 502, 'does not answer'],
    ['breaks off', (_, response) => { response.writeHead(200, { 'content-length': '1000' }); response.write('{'); response.destroy() }, 502, 'does not answer, or broke off'],
    ['answers without end', (_, response) => { const more = () => { while (!response.destroyed && response.write('x'.repeat(1 << 16))); }; response.on('drain', more); more() }, 502, 'is longer than 4 MiB'],
    ['fails', says(500, 'no'), 502, 'answered 500'],
    ['refuses', says(403, JSON.stringify({ title: 'Not for you.\nReally.' })), 502, 'says: Not for you. Really.'],
  ])('that %s is told in one sentence', async (_name, answer, status, sentence) => {
    strange.answer = answer
    const said = await ask(`/api/exchanges/${strange.host}/find`)
    expect(said).toEqual({ status, title: expect.stringContaining(sentence) })
    expect(said.title).toContain(strange.host)
  }) // biome-ignore format: a table

  it('is given up where it answers a byte a second', async () => {
    strange.answer = (_, response) => {
      response.writeHead(200)
      const timer = setInterval(() => response.write(' '), 500)
      response.on('close', () => clearInterval(timer))
    }
    expect(await ask(`/api/exchanges/${strange.host}/find`)).toEqual({ status: 504, title: expect.stringContaining('takes too long') }) // biome-ignore format: one line
  })

  it('gives nothing that it has not listed: another pack, a longer one, or one that breaks off', async () => {
    const item = await itemOf('Kelp Forest')
    const page = await (await fetch(`http://${host}/items/${item}.json`)).text()
    const pack = new Uint8Array(await (await fetch(`http://${host}/items/${item}/1.0.0.satchel.zip`)).arrayBuffer())
    let sent: RequestListener = says(200, pack)
    strange.answer = (request, response) => {
      if (request.url === '/exchange.json') return says(200, JSON.stringify({ exchange: 1, title: 'Strange', description: '', feed: '/feed.json', like: '/like.json', items: '/items' }))(request, response) // biome-ignore format: one line
      return request.url?.endsWith('.json') ? says(200, page)(request, response) : sent(request, response)
    }
    const take = () => ask(`/api/exchanges/${strange.host}/items/${item}/take`, { version: '1.0.0', only: null })
    const other = pack.slice()
    other[200] = (other[200] ?? 0) ^ 1
    const wrong: [RequestListener, string][] = [
      [says(200, other), 'is not what it lists'],
      [says(200, Buffer.concat([pack, pack])), 'is not what it lists'],
      [(_, response) => { response.writeHead(200, { 'content-length': String(pack.length) }); response.write(pack.slice(0, 500)); setTimeout(() => response.destroy(), 50) }, 'broke off'],
      [says(404, JSON.stringify({ title: 'Gone.' })), 'says: Gone.'],
    ] // biome-ignore format: a table
    for (const [answer, sentence] of wrong) {
      sent = answer
      expect((await take()).title).toContain(sentence)
    }
    const { id } = await person.json<{ id: string | null }>('/api/gathers/current')
    if (id) expect((await settledLedger(person, id)).files.total).toBe(0)
    sent = says(200, pack)
    expect((await take()).status).toBe(201)
  })

  it('is not reached at all where nobody has said that it may be', async () => {
    expect(await ask('/api/exchanges/exchange.example/find')).toEqual({ status: 404, title: expect.stringContaining('No such exchange') }) // biome-ignore format: one line
    expect((await person.request(`/api/exchanges/${host}/picture?path=${encodeURIComponent('//evil.example/x.png')}`)).status).toBe(422) // biome-ignore format: one line
    expect((await person.request(`/api/exchanges/${host}/picture?path=${encodeURIComponent('/')}`)).status).toBe(502)
  })
})
