import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import { nodeHashBytes } from '@satchel/node/hash'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { LIBRARY_TABLES } from '../db/library-tables.ts'
import { giveStarters } from '../starter/give-starters.ts'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

let first: TestServer
let second: TestServer
let curator: Person
let file = ''
const folder = mkdtempSync(join(tmpdir(), 'library-'))

const open = () => startTestServer(inject('databaseUrl'))
const patch = (body: object) => ({
  method: 'PATCH',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
})

/** A library with something of every kind. */
async function fill(person: Person): Promise<void> {
  await takeInFiles(person, {
    'Reeds/one.png': blotPng(1, 120),
    'Reeds/two.png': blotPng(2, 90),
    'Shore/three.png': blotPng(3),
    'four.png': blotPng(4, 70),
  })
  const { sets } = await person.json<{ sets: { id: string; name: string; starter: boolean }[] }>('/api/sets')
  const { brushes } = await person.json<{ brushes: { id: string }[] }>('/api/brushes?limit=50')
  const [one] = brushes
  const own = sets.filter(({ starter }) => !starter)
  // one of the product's own brushes in a set of the curator's, and in a pocket
  const starterSet = sets.find(({ starter }) => starter)
  const starters = await person.json<{ brushes: { id: string }[] }>(`/api/brushes?setId=${starterSet?.id}&sort=set`)
  await person.post(`/api/sets/${own[0]?.id}/brushes`, { ids: [starters.brushes[0]?.id] })
  const pocket = await person.post<{ id: string }>('/api/pockets', { name: 'Evening' })
  await person.post(`/api/pockets/${pocket.id}/items`, { ids: [one?.id, starters.brushes[1]?.id] })
  await person.request('/api/materials?name=sand', {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: new Uint8Array(blotPng(6, 64)),
  })
  // a second version, and one in the bin
  const found = await person.json<Record<string, unknown> & { version: number }>(`/api/brushes/${one?.id}`)
  const { name, maker, licence, tags, recipe, version } = found
  await person.post(
    `/api/brushes/${one?.id}`,
    { name: `${name} again`, maker, licence, tags, recipe, from: version },
    'PUT',
  )
  await person.post('/api/brushes/bin', { ids: [brushes[3]?.id] })
  const pack = await person.post<{ id: string }>('/api/packs', { title: 'Marsh', licence: 'CC0-1.0' })
  await person.post(`/api/packs/${pack.id}/sets`, { setIds: own.map(({ id }) => id) }, 'PUT')
  await person.request(`/api/packs/${pack.id}`, patch({ help: '# Begin', destinationIds: ['dunlin'] }))
  await person.post(`/api/packs/${pack.id}/releases`, { version: '1.0.0', notes: 'first' })
  await until(async () => {
    const { releases } = await person.json<{ releases: { state: string }[] }>(`/api/packs/${pack.id}`)
    return releases[0]?.state === 'ready'
  }, 120_000)
  await person.request('/api/sources?name=cove.png', {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: new Uint8Array(blotPng(5, 200)),
  })
  await person.request('/api/workspace/facts', { ...patch({ maker: 'Ida', licence: 'CC-BY-4.0' }), method: 'PUT' })
}

type Parcel = { id: string; fileName: string | null; lost: string | null }
async function writeLibrary(person: Person, called: string): Promise<string> {
  const { id } = await person.post<{ id: string }>('/api/parcels', { wanted: { kind: 'library' } })
  await until(async () => {
    const { parcels } = await person.json<{ parcels: Parcel[] }>('/api/parcels')
    const parcel = parcels.find((each) => each.id === id)
    if (parcel?.lost) throw new Error(parcel.lost)
    return parcel?.fileName === 'Library.library.zip'
  }, 60_000)
  const path = join(folder, called)
  writeFileSync(path, new Uint8Array(await (await person.request(`/api/parcels/${id}/file`)).arrayBuffer()))
  return path
}

const give = (person: Person, bytes: Uint8Array) =>
  person.request('/api/library', {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: new Uint8Array(bytes),
  })
/** How the job ended that puts a library in. */
async function given(person: Person): Promise<{ state: string; error: string | null }> {
  let job: { kind: string; state: string; error: string | null } | undefined
  await until(async () => {
    const { jobs } = await person.json<{ jobs: { kind: string; state: string; error: string | null }[] }>('/api/jobs')
    job = jobs.find(({ kind }) => kind === 'give-back')
    return job !== undefined && !['queued', 'running'].includes(job.state)
  }, 60_000)
  return { state: job?.state ?? '', error: job?.error ?? null }
}
const unpack = (zip: string, into: string): string => {
  const to = join(folder, into)
  execFileSync('unzip', ['-q', '-o', zip, '-d', to])
  return to
}

beforeAll(async () => {
  first = await open()
  second = await open()
  curator = await first.owner()
  await giveStarters(first.parts.deps, curator.workspaceId)
  await fill(curator)
  file = await writeLibrary(curator, 'first.zip')
}, 240_000)
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true })
  await first.close()
  await second.close()
})

describe('a library file', () => {
  it('says how much it is before it is written', async () => {
    expect(await curator.json('/api/library')).toEqual({ brushes: 3, sets: 2, packs: 1, sources: 1, isEmpty: false })
    const look = await curator.post<{ title: string; comes: string; brushes: number }>('/api/parcels/look', {
      wanted: { kind: 'library' },
    })
    expect(look).toMatchObject({ title: 'The whole library', brushes: 3 })
    expect(look.comes).toContain('no pack to hand out')
  })

  it('has something of every table that is the library', () => {
    const info = JSON.parse(execFileSync('unzip', ['-p', file, 'library/library.json'], { encoding: 'utf8' }))
    const rows = new Map<string, number>(
      info.tables.map(({ name, rows }: { name: string; rows: number }) => [name, rows]),
    )
    expect([...rows.keys()]).toEqual(LIBRARY_TABLES.map(({ name }) => name))
    for (const name of [
      'tip',
      'tipFrame',
      'brush',
      'brushVersion',
      'rackSet',
      'setItem',
      'pocketItem',
      'source',
      'pack',
      'packSet',
      'release',
      'material',
    ])
      expect(rows.get(name), name).toBeGreaterThan(0)
    expect(rows.get('brush')).toBe(4) // the one in the bin, too
  })

  it('gives an empty library on another server all of it back: written again it is the same file, byte for byte', async () => {
    const other = await second.owner('else@test.example')
    await giveStarters(second.parts.deps, other.workspaceId)
    expect((await give(other, readFileSync(file))).status).toBe(202)
    expect(await given(other)).toEqual({ state: 'done', error: null })
    const again = await writeLibrary(other, 'second.zip')
    expect(nodeHashBytes(readFileSync(again))).toBe(nodeHashBytes(readFileSync(file)))
    // and it works: found by a word, painted, released before
    expect((await other.json<{ brushes: object[] }>('/api/brushes?q=again')).brushes).toHaveLength(1)
    const { packs } = await other.json<{ packs: { id: string; latest: string }[] }>('/api/packs')
    expect(packs[0]?.latest).toBe('1.0.0')
    const { brushes } = await other.json<{ brushes: { id: string }[] }>('/api/brushes?limit=1')
    expect((await other.request(`/api/brushes/${brushes[0]?.id}/stroke.png`)).status).toBe(200)
    expect(await other.json('/api/workspace/facts')).toEqual({ maker: 'Ida', licence: 'CC-BY-4.0' })
    // a second time there is no room for it
    expect((await give(other, readFileSync(file))).status).toBe(409)
  }, 120_000)

  it('is gathered like any other file where there is something already', async () => {
    const third = await first.owner('third@test.example')
    await takeInFiles(third, { 'own.png': blotPng(9) })
    await takeInFiles(third, { 'all.library.zip': new Uint8Array(readFileSync(file)) })
    const { sets } = await third.json<{ sets: { name: string; count: number }[] }>('/api/sets')
    expect(sets.map(({ name }) => name)).toEqual(expect.arrayContaining(['Reeds', 'Shore']))
    expect(await third.json('/api/brushes/count')).toEqual({ count: 5 })
  }, 60_000)

  it('is not put in where its rows are another one’s on this server', async () => {
    const twin = await first.owner('twin@test.example')
    expect((await give(twin, readFileSync(file))).status).toBe(202)
    expect((await given(twin)).error).toContain('is another one’s on this server already')
    expect(await twin.json('/api/library')).toMatchObject({ brushes: 0, sets: 0, packs: 0, isEmpty: true })
  }, 60_000)
})

describe('a library file that was tampered with', () => {
  /** The file with some of its entries written otherwise, or left out. */
  function changedFile(change: (path: string, bytes: Buffer) => Buffer | undefined): Uint8Array {
    const from = unpack(file, 'tampered')
    const zip = new ZipWriter()
    const parts: Uint8Array[] = []
    const paths = execFileSync('unzip', ['-Z1', file], { encoding: 'utf8' }).trim().split('\n')
    for (const path of paths) {
      const bytes = change(path, readFileSync(join(from, path)))
      if (bytes) parts.push(...zip.add(path, new Uint8Array(bytes), 'store'))
    }
    return Buffer.concat([...parts, ...zip.finish()])
  }
  const inRows = (table: string, change: (row: Record<string, unknown>) => Record<string, unknown>) =>
    changedFile((path, bytes) =>
      path.startsWith(`library/rows/${table}-`)
        ? Buffer.from(
            bytes
              .toString()
              .trim()
              .split('\n')
              .map((line) => `${JSON.stringify(change(JSON.parse(line)))}\n`)
              .join(''),
          )
        : bytes,
    )
  const strange = '11111111-2222-4333-8444-555555555555'

  it.each([
    ['no archive', () => Buffer.from('no archive at all'), /ZIP|archive/i],
    [
      'a pack that is no library',
      () => changedFile((path, bytes) => (path.startsWith('library/') ? undefined : bytes)),
      /library\/library\.json/,
    ],
    [
      'a picture that was changed',
      () => changedFile((path, bytes) => (path.startsWith('tips/') ? Buffer.concat([bytes, Buffer.from('x')]) : bytes)),
      /changed/,
    ],
    [
      'a picture that is gone',
      () => changedFile((path, bytes) => (path.startsWith('tips/') ? undefined : bytes)),
      /the file tips\//,
    ],
    [
      'a row that is gone',
      () =>
        changedFile((path, bytes) =>
          path.includes('rows/brush-') ? Buffer.from(`${bytes.toString().split('\n')[0]}\n`) : bytes,
        ),
      /4 rows of brush, found 1/,
    ],
    [
      'a row of another library’s set',
      () => inRows('setItem', (row) => ({ ...row, set_id: strange })),
      /set_id that is in it/,
    ],
    [
      'a row for another workspace',
      () => inRows('brush', (row) => ({ ...row, workspace_id: strange })),
      /no "workspace_id"/,
    ],
    [
      'a recipe that is none',
      () =>
        inRows('brushVersion', (row) => ({ ...row, snapshot: { ...(row.snapshot as object), recipe: { mark: 7 } } })),
      /snapshot that can be read/,
    ],
    [
      'a file that is not in it',
      () => inRows('tipFrame', (row) => ({ ...row, blob_sha: 'f'.repeat(64) })),
      /its file ffff/,
    ],
    ['a name that is missing', () => inRows('pack', ({ title: _, ...row }) => row), /its title/],
  ])(
    'is refused with a sentence, and nothing is put in: %s',
    async (what, make, says) => {
      const person = await second.owner(`${nodeHashBytes(Buffer.from(what)).slice(0, 8)}@test.example`)
      expect((await give(person, make())).status).toBe(202)
      const { state, error } = await given(person)
      expect(state).toBe('failed')
      expect(error).toMatch(says)
      expect(error).toMatch(/^Nothing was put in\./)
      expect(await person.json('/api/library')).toMatchObject({
        brushes: 0,
        sets: 0,
        packs: 0,
        sources: 0,
        isEmpty: true,
      })
    },
    60_000,
  )
})
