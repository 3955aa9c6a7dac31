import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import { createConfig, lintFromString } from '@redocly/openapi-core'
import { transform } from 'esbuild'
import { generateSource } from 'oazapfts'
import * as v from 'valibot'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { type EveryRoute, type Ids, startWithAll } from '../testing/every-route.ts'
import { type Person, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'
import { OPERATIONS } from './operations.ts'

let server: TestServer
let owner: Person
let ids: Ids
let every: EveryRoute
/** The description as a program gets it. */
let described: string
/** A folder of the build's, where packages are found. */
const folder = mkdtempSync(fileURLToPath(new URL('../../dist/client-', import.meta.url)))

beforeAll(async () => {
  ;({ server, owner, ids, every } = await startWithAll(inject('databaseUrl')))
  described = await (await owner.request('/api/openapi.json')).text()
})
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true })
  await server.close()
})

const tokenTo = async (scope: string) =>
  (await owner.post<{ token: string }>('/api/tokens', { name: 'Program', scope, days: 1 })).token

describe('the description of what programs may ask', () => {
  it('holds before a linter, but that this house has no licence yet', async () => {
    const config = await createConfig({ extends: ['recommended'], rules: { 'info-license': 'off' } })
    const problems = await lintFromString({ source: described, absoluteRef: join(folder, 'openapi.json'), config })
    expect(problems.map(({ ruleId, message }) => `${ruleId}: ${message}`)).toEqual([])
  })

  it('names routes that there are, and each with the schemas by which it checks', () => {
    const routes = new Set(server.parts.app.routes.map(({ method, path }) => `${method} ${path}`))
    for (const key of Object.keys(OPERATIONS)) expect(routes).toContain(key)
    const { paths } = JSON.parse(described)
    const handOut = paths['/api/packs/{id}/hand-outs'].post
    expect(handOut.parameters).toEqual([
      { name: 'id', in: 'path', required: true, schema: expect.objectContaining({ format: 'uuid' }) },
    ])
    const { schema } = handOut.requestBody.content['application/json']
    expect(schema.required).toEqual(expect.arrayContaining(['releaseId', 'name']))
    expect(schema.properties.downloadLimit).toBeDefined()
  })

  it('says of each route what it answers, and the route does', async () => {
    // what ends or changes the things of the others comes last
    const last = /withdraw|stop|cancel|undo|take$/
    const keys = Object.keys(OPERATIONS).sort((a, b) => Number(last.test(a)) - Number(last.test(b)))
    const answered: string[] = []
    for (const key of keys) {
      const [method = '', path = ''] = key.split(' ')
      const response = await every.ask(owner, { method, path })
      const { status, schema } = OPERATIONS[key]?.answer ?? { status: 200, schema: v.never() }
      // what is done or gone already is refused, as is described
      if (response.status === 404 || response.status === 409) continue
      expect([key, response.status]).toEqual([key, status])
      const result = v.safeParse(schema, await response.json())
      expect([key, result.issues?.map((issue) => `${v.getDotPath(issue)}: ${issue.message}`)]).toEqual([key, undefined])
      answered.push(key)
    }
    expect(answered.length).toBeGreaterThan(keys.length - 5)
  })

  it('gives a client, made by a generator, that gathers, releases and hands out by a token', async () => {
    const file = join(folder, 'openapi.json')
    writeFileSync(file, described)
    const { code } = await transform(await generateSource(file), { loader: 'ts', format: 'esm' })
    const module = join(folder, 'client.mjs')
    writeFileSync(module, code)
    const client = await import(/* @vite-ignore */ pathToFileURL(module).href)
    client.defaults.headers = { authorization: `Bearer ${await tokenTo('work')}` }

    const ledger = await client.openLedger()
    expect(ledger.status).toBe(201)
    const png = new Blob([new Uint8Array(blotPng(7))])
    expect((await client.sendFile(ledger.data.id, 'Evening/reed.png', png)).status).toBe(201)
    await until(async () => {
      const { data } = await client.readLedger(ledger.data.id)
      return data.reading === null && data.files.read === data.files.total
    })
    expect((await client.takeIn(ledger.data.id)).status).toBe(200)
    const found = await client.listBrushes({ q: 'reed' })
    expect(found.data.brushes.map(({ name }: { name: string }) => name)).toContain('reed')

    const released = await client.release(ids.pack, { version: '99.0.0', notes: 'By a program.' })
    expect(released.status).toBe(201)
    const given = await client.handOut(ids.pack, { releaseId: released.data.id, name: 'Wren' })
    expect([given.status, given.data.link]).toEqual([201, expect.stringContaining(`${server.url}/h/`)])

    client.defaults.headers = { authorization: `Bearer ${await tokenTo('read')}` }
    const refused = await client.release(ids.pack, { version: '99.0.1' })
    expect(refused).toMatchObject({ status: 403, data: { status: 403, title: expect.stringContaining('may look') } })
  })
})
