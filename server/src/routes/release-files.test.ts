import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { STAND_INS } from '@satchel/core/destinations/destination'
import { toByteSource } from '@satchel/core/formats/zip/layout'
import { findMarks } from '@satchel/core/pack/issued/find-marks'
import { takeMark } from '@satchel/core/pack/issued/mark-kinds'
import { STAND_IN_READERS } from '@satchel/core/stand-ins/stand-ins'
import { nodeZipCodecs } from '@satchel/node/hash'
import { standInDecoders } from '@satchel/node/stand-in-decoders'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

const SATCHEL = join(process.cwd(), 'satchel')
let server: TestServer
let person: Person
let folder = ''
let packId = ''
const HELP = '# Begin\n\nHold it *flat*. <script>alert(1)</script> [Ask](javascript:alert(1))'

async function download(who: Person, pack: string, version: string): Promise<Uint8Array> {
  const release = await who.post<{ id: string }>(`/api/packs/${pack}/releases`, { version, notes: '' })
  await until(async () => {
    const { releases } = await who.json<{ releases: { id: string; state: string }[] }>(`/api/packs/${pack}`)
    const state = releases.find(({ id }) => id === release.id)?.state
    if (state === 'failed') throw new Error('the release could not be built')
    return state === 'ready'
  }, 120_000)
  const hand = { releaseId: release.id, name: 'Ida' }
  const { link } = await who.post<{ link: string }>(`/api/packs/${pack}/hand-outs`, hand)
  const response = await fetch(`${server.url}/api/h/${link.split('/').at(-1)}/download`)
  return new Uint8Array(await response.arrayBuffer())
}
function unpack(zip: Uint8Array): string {
  const into = mkdtempSync(join(tmpdir(), 'release-'))
  writeFileSync(join(into, 'd.zip'), zip)
  execFileSync('unzip', ['-q', 'd.zip'], { cwd: into })
  return into
}
function filesIn(root: string, under = ''): string[] {
  return readdirSync(join(root, under)).flatMap((name) => {
    const path = under ? `${under}/${name}` : name
    return statSync(join(root, path)).isDirectory() ? filesIn(root, path) : [path]
  })
}

beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  await takeInFiles(person, {
    'Reeds/one.png': blotPng(1, 120),
    'Reeds/two.png': blotPng(2, 90),
    'Apps/three.png': blotPng(3),
    'README.txt/four.png': blotPng(4),
  })
  const { sets } = await person.json<{ sets: { id: string; name: string; starter: boolean }[] }>('/api/sets')
  const own = sets.filter(({ starter }) => !starter).map(({ id }) => id)
  packId = (await person.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })).id
  await person.post(`/api/packs/${packId}/sets`, { setIds: own }, 'PUT')
  await person.request(`/api/packs/${packId}`, {
    method: 'PATCH',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ destinationIds: STAND_INS, help: HELP }),
  })
  folder = unpack(await download(person, packId, '1.0.0'))
}, 180_000)
afterAll(() => server.close())

describe('the download of a pack that is meant for apps', () => {
  it.each(STAND_INS)(
    'has a folder in which %s finds every brush, and a page that says what to press',
    async (standIn) => {
      const app = readdirSync(join(folder, 'Apps')).find((name) => name.toLowerCase().startsWith(standIn)) ?? ''
      const files = filesIn(join(folder, 'Apps', app)).filter((path) => !path.startsWith('carry-over'))
      const there = {
        keys: () => files.values(),
        get: (path: string) =>
          files.includes(path) ? new Uint8Array(readFileSync(join(folder, 'Apps', app, path))) : undefined,
      }
      const { brushes, ignored } = await STAND_IN_READERS[standIn](there, standInDecoders)
      expect(brushes.length).toBeGreaterThanOrEqual(4)
      expect(ignored).toEqual([])
      const page = readFileSync(join(folder, 'Apps', app, 'carry-over.html'), 'utf8')
      expect(page).toContain('What to do')
      const told = JSON.parse(readFileSync(join(folder, 'Apps', app, 'carry-over.json'), 'utf8'))
      expect(told.brushes).toHaveLength(4)
      for (const { likeness } of told.brushes) expect(likeness).toBeGreaterThan(0)
    },
  )

  it('is checked with all of them, and says so in its texts; a set of that name goes by another', () => {
    const stdout = execFileSync(SATCHEL, ['check', join(folder, 'd.zip')], { encoding: 'utf8' })
    expect(stdout).toContain('all sound')
    expect(execFileSync('sha256sum', ['-c', 'SHA256SUMS'], { cwd: folder, encoding: 'utf8' })).not.toContain('FAILED')
    expect(readFileSync(join(folder, 'README.txt'), 'utf8')).toContain('  Apps/Dunlin 3\n')
    expect(readdirSync(folder)).toEqual(expect.arrayContaining(['Apps', 'Apps 2', 'Reeds']))
  })

  it('has its help as a page in which nothing runs, the very one that is shown before', async () => {
    const page = readFileSync(join(folder, 'HELP.html'), 'utf8')
    expect(page).toContain('<h1>Begin</h1>\n<p>Hold it <em>flat</em>. alert(1) Ask</p>')
    expect(page).not.toMatch(/<script|javascript:/)
    const { nodes } = await person.post<{ nodes: unknown }>('/api/packs/laid-out', { text: HELP })
    expect(nodes).toEqual([
      { tag: 'h1', children: ['Begin'] },
      '\n',
      { tag: 'p', children: ['Hold it ', { tag: 'em', children: ['flat'] }, '. ', 'alert(1)', ' ', 'Ask'] },
    ])
  })

  it('has no folder of a set in the place of a text beside it', () => {
    expect(readFileSync(join(folder, 'README.txt'), 'utf8')).toContain('HELP.html has the help')
    expect(filesIn(folder)).toContain('README.txt 2/four.png')
  })

  it('leaves nothing in the store but itself and what is noted of it', async () => {
    const { rows } = await server.parts.deps.db.execute<{ media: string; n: number }>(
      `select media_type as media, count(*)::int as n from blob where media_type <> 'image/png' group by 1`,
    )
    // the files that came lie there for as long as the ledger does
    expect(new Map(rows.map(({ media, n }) => [media, n]))).toEqual(
      new Map([
        ['application/json', 1],
        ['application/octet-stream', 4],
        ['application/zip', 1],
      ]),
    )
  })
})

it('the same content gives the same bytes in another workspace, whose key is the same', async () => {
  const { pem } = await person.post<{ pem: string }>('/api/signing/export')
  const other = await server.owner()
  await other.post('/api/signing/import', { pem })
  await takeInFiles(other, { 'pack.zip': new Uint8Array(readFileSync(join(folder, 'd.zip'))) })
  // the pack in it, and no file of an app a second time
  expect(await other.json('/api/brushes/count')).toEqual({ count: 4 })
  const { sets } = await other.json<{ sets: { id: string; name: string; starter: boolean }[] }>('/api/sets')
  const made = async (who: Person, setIds: string[]) => {
    const { id } = await who.post<{ id: string }>('/api/packs', { title: 'Again', maker: 'Ida', licence: 'CC0-1.0' })
    await who.post(`/api/packs/${id}/sets`, { setIds }, 'PUT')
    return unpack(await download(who, id, '1.0.0'))
  }
  const mine = await person.json<{ sets: { id: string; name: string; starter: boolean }[] }>('/api/sets')
  const idsOf = (list: typeof sets) =>
    ['Apps', 'Reeds'].map((name) => list.find((set) => set.name === name && !set.starter)?.id ?? '')
  const [one, two] = [await made(person, idsOf(mine.sets)), await made(other, idsOf(sets))]
  // ids are each library's own: all that does not name them is the same, byte for byte, but for whose copy it is
  const same = filesIn(one).filter((path) => !/^(d\.zip|(RELEASED\.)?SHA256SUMS(\.sig)?|.*\.satchel\.zip)$/.test(path))
  expect(filesIn(two)).toEqual(filesIn(one))
  expect(same.length).toBeGreaterThan(8)
  const bare = (root: string, path: string) => {
    const bytes = readFileSync(join(root, path))
    return Buffer.from(takeMark(path, bytes)?.bytes ?? bytes)
  }
  for (const path of same) expect(bare(two, path).equals(bare(one, path)), path).toBe(true)
  // and nothing in it tells whose copy the other library took in
  const zip = new Uint8Array(readFileSync(join(two, 'd.zip')))
  expect((await findMarks('d.zip', toByteSource(zip), nodeZipCodecs)).marks).toHaveLength(1)
}, 120_000)
