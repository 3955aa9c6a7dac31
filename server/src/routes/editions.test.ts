import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { momentOf } from '@satchel/core/editions/moments'
import { type EditionPlan, type Lesson, wholePlan } from '@satchel/core/editions/plan'
import { toByteSource } from '@satchel/core/formats/zip/layout'
import { listZip, readZipEntry } from '@satchel/core/formats/zip/read'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { hashToken } from '../hand-out/token.ts'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Page = {
  brushes: { id: string; name: string }[]
  sets: { name: string; brushes: string[] }[]
  single: string[]
  notes: string
  files: string
  zipBytes: number | null
  apps: { id: string }[]
  open: object | null
  course: {
    name: string
    zone: string
    endsAt: string | null
    lessons: { title: string; state: string; brushes: string[]; isNew: boolean }[]
  } | null
  nextAt: string | null
  coverBrushId: string | null
  hasCover: boolean
}
type Listed = {
  editions: { id: string; name: string; version: number; handOuts: number; plan: EditionPlan }[]
  newest: { version: string; brushes: { id: string; name: string }[] } | null
}

let server: TestServer
let person: Person
const brushes = new Map<string, string>()
const idOf = (name: string) => brushes.get(name) ?? ''

const send = (path: string, body: object, method = 'POST') =>
  person.request(path, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
async function packOf(names: string[], version = '1.0.0') {
  const facts = { title: 'Shore', licence: 'CC0-1.0' }
  const { id } = await person.post<{ id: string }>('/api/packs', facts)
  await person.post(`/api/packs/${id}`, { destinationIds: ['dunlin'], help: 'Press lightly.' }, 'PATCH')
  await person.post(`/api/packs/${id}/single`, { brushIds: names.map(idOf) }, 'PUT')
  return { packId: id, releaseId: await release(id, version) }
}
async function release(packId: string, version: string): Promise<string> {
  const { id } = await person.post<{ id: string }>(`/api/packs/${packId}/releases`, { version, notes: 'Heron is new.' })
  await until(async () => {
    const { releases } = await person.json<{ releases: { id: string; state: string }[] }>(`/api/packs/${packId}`)
    return releases.find((each) => each.id === id)?.state === 'ready'
  }, 120_000)
  return id
}
const edition = async (packId: string, plan: Partial<EditionPlan>, name = 'Evening class') =>
  (await person.post<{ id: string }>(`/api/packs/${packId}/editions`, { name, plan: { ...wholePlan(), ...plan } })).id
async function handOut(packId: string, releaseId: string, editionId: string, more: object = {}): Promise<string> {
  const wish = { releaseId, editionId, name: 'Ida', ...more }
  return tokenIn((await person.post<{ link: string }>(`/api/packs/${packId}/hand-outs`, wish)).link)
}
const tokenIn = (link: string) => link.split('/').at(-1) ?? ''
const ask = (token: string, path = '') => fetch(`${server.url}/api/h/${token}${path}`)
const page = async (token: string) => (await (await ask(token)).json()) as Page
const names = ({ brushes: some }: Page) => some.map(({ name }) => name).sort()
const built = (token: string) => until(async () => (await page(token)).files === 'ready', 60_000)
const listed = (packId: string) => person.json<Listed>(`/api/packs/${packId}/editions`)

const HOUR_MS = 3_600_000
let lessons = 0
/** A lesson that opens so many hours from now, and closes again. */
function lesson(inHours: number, ids: string[], closesInHours?: number): Lesson {
  const wall = (hours: number) => {
    const text = new Date(Date.now() + hours * HOUR_MS).toISOString()
    return { day: text.slice(0, 10), at: text.slice(11, 16) }
  }
  lessons++
  return {
    ...{ id: `00000000-0000-4000-8000-${String(lessons).padStart(12, '0')}`, title: `Lesson ${lessons}` },
    ...{ ...wall(inHours), closes: closesInHours === undefined ? null : wall(closesInHours), brushes: ids },
  }
}
const kit = (some: Lesson[], more: object = {}) => ({ zone: 'UTC', lessons: some, lastDay: null, ...more })
async function change(packId: string, id: string, plan: Partial<EditionPlan>) {
  const was = (await listed(packId)).editions.find((each) => each.id === id)?.version
  return send(`/api/packs/editions/${id}`, { name: 'Evening class', plan: { ...wholePlan(), ...plan }, was }, 'PUT')
}

/** Everything that lies in a download: its files by their paths, with what is in the Satchel pack. */
function unpack(zip: Uint8Array): { paths: string[]; text: string } {
  const folder = mkdtempSync(join(tmpdir(), 'edition-'))
  writeFileSync(join(folder, 'd.zip'), zip)
  const run = (command: string, args: string[]) => execFileSync(command, args, { cwd: folder, encoding: 'latin1' })
  run('unzip', ['-q', 'd.zip', '-d', 'all'])
  for (const inner of run('find', ['all', '-name', '*.satchel.zip']).split('\n').filter(Boolean))
    run('unzip', ['-q', inner, '-d', `${inner}-all`])
  for (const sheet of run('find', ['all', '-name', '*.pdf']).split('\n').filter(Boolean))
    run('pdftotext', [sheet, `${sheet}.txt`])
  const paths = run('find', ['all', '-type', 'f']).split('\n').filter(Boolean).sort()
  const text = paths.map((path) => run('cat', [path])).join('\n')
  return { paths, text }
}

beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  await takeInFiles(person, {
    'Reeds/Rush.png': blotPng(1), 'Reeds/Sedge.png': blotPng(2), 'Birds/Heron.png': blotPng(3), 'Birds/Egret.png': blotPng(4),
  }) // biome-ignore format: two lines
  const all = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes')
  for (const { id, name } of all.brushes) brushes.set(name, id)
})
afterAll(() => server.close())

describe('moments of a class', () => {
  // the tables of time zones of the operating system, as PostgreSQL reads them, in the place of those that Node brings
  it('are those of the platform’s own tables, in every zone and over every change of the clocks', async () => {
    const zones = ['Europe/Oslo', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kathmandu', 'Pacific/Auckland', 'Africa/Casablanca', 'America/St_Johns'] // biome-ignore format: a list
    const { rows } = await server.parts.deps.db.execute<{ zone: string; wall: string; at: string; back: string }>(sql`
      select zone, to_char(wall, 'YYYY-MM-DD HH24:MI') as wall, extract(epoch from wall at time zone zone) * 1000 as at,
        to_char((wall at time zone zone) at time zone zone, 'YYYY-MM-DD HH24:MI') as back
      from unnest(string_to_array(${zones.join(',')}, ',')) as zone,
        generate_series(timestamp '2026-01-01', timestamp '2027-01-01', interval '30 minutes') as wall`)
    expect(rows).toHaveLength(zones.length * (365 * 48 + 1))
    let twice = 0
    for (const { zone, wall, at, back } of rows) {
      const [day = '', time = ''] = wall.split(' ')
      const ours = momentOf({ day, at: time }, zone).getTime()
      if (ours === Number(at)) continue
      // of a time that comes twice we mean the first, the database the second
      twice++
      expect([back, Number(at) - ours > 0 && Number(at) - ours <= HOUR_MS], `${zone} ${wall}`).toEqual([wall, true])
    }
    expect(twice).toBeGreaterThan(5)
    expect(twice).toBeLessThan(20)
  })
})

describe('an edition', () => {
  it('gives what is in it, shows nothing else, and its download has nothing else', async () => {
    const { packId, releaseId } = await packOf(['Rush', 'Sedge', 'Heron'])
    const id = await edition(packId, { without: [idOf('Heron')], notes: 'For the class.' })
    const token = await handOut(packId, releaseId, id)
    await built(token)
    const shown = await page(token)
    expect(names(shown)).toEqual(['Rush', 'Sedge'])
    expect([shown.notes, shown.course]).toEqual(['For the class.', null])
    const { paths, text } = unpack(new Uint8Array(await (await ask(token, '/download')).arrayBuffer()))
    expect(paths.some((path) => path.endsWith('Rush.png'))).toBe(true)
    expect([paths.join().includes('Heron'), text.includes('Heron'), text.includes(idOf('Heron'))]).toEqual([
      false,
      false,
      false,
    ])
    expect((await listed(packId)).editions).toMatchObject([{ id, handOuts: 1, name: 'Evening class' }])
  })

  it('that leaves nothing out gives the release’s own file', async () => {
    const { packId, releaseId } = await packOf(['Rush', 'Sedge'])
    const token = await handOut(packId, releaseId, await edition(packId, {}))
    const whole = await handOut(packId, releaseId, '', { editionId: null })
    const released = async (of: string) => {
      const source = toByteSource(new Uint8Array(await (await ask(of, '/download')).arrayBuffer()))
      const sums = (await listZip(source)).find(({ path }) => path === 'RELEASED.SHA256SUMS')
      return sums && Buffer.from(await readZipEntry(source, sums)).toString()
    }
    expect(await released(token)).toContain('.satchel.zip')
    expect(await released(token)).toBe(await released(whole))
  })

  it('has its own apps, licence and pocket, and no open files where it says so', async () => {
    const { packId, releaseId } = await packOf(['Rush', 'Sedge'])
    const pocket = [{ brush: idOf('Sedge'), sizePx: 40, label: 'wide' }]
    const plan = { openFiles: false, licence: 'LicenseRef-Class', licenceText: 'For the class only.', pocket }
    const token = await handOut(packId, releaseId, await edition(packId, plan))
    await built(token)
    expect((await page(token)).open).toBeNull()
    const { paths, text } = unpack(new Uint8Array(await (await ask(token, '/download')).arrayBuffer()))
    expect(paths.filter((path) => /^all\/[^/]*\.(png|gbr)$/.test(path))).toEqual([])
    expect(paths.some((path) => path.startsWith('all/Apps/'))).toBe(true)
    // a boolean: what is looked through has pictures in it
    expect(text.includes('For the class only.')).toBe(true)
    expect(/"sizePx": ?40,\s*"label": ?"wide"/.test(text)).toBe(true)
    const without = await handOut(packId, releaseId, await edition(packId, { destinations: [] }, 'Open'))
    await built(without)
    expect([(await page(without)).apps, (await page(without)).open !== null]).toEqual([[], true])
  })

  it('goes on to a newer release, cut in the same way', async () => {
    const { packId, releaseId } = await packOf(['Rush', 'Heron'])
    const token = await handOut(packId, releaseId, await edition(packId, { without: [idOf('Heron')] }), {
      follows: true,
    })
    await built(token)
    await person.post(`/api/packs/${packId}/single`, { brushIds: ['Rush', 'Egret', 'Heron'].map(idOf) }, 'PUT')
    await release(packId, '1.1.0')
    await built(token)
    expect(names(await page(token))).toEqual(['Egret', 'Rush'])
    expect((await ask(token, '/download')).status).toBe(200)
  })

  it('shows a cover only where all of whose strokes are on it are given', async () => {
    const { packId } = await packOf(['Rush', 'Heron'])
    const strokes = [{ brushId: idOf('Heron'), colour: '#333333', top: 0.2, height: 0.3 }]
    const cover = { ground: '#ffffff', title: 'Shore', titleColour: '#000000', titlePlace: 'above', strokes }
    await person.post(`/api/packs/${packId}/cover`, { cover }, 'PUT')
    const releaseId = await release(packId, '1.1.0')
    const coverOf = async (plan: Partial<EditionPlan>) => {
      const token = await handOut(packId, releaseId, await edition(packId, plan))
      return [(await page(token)).hasCover, (await ask(token, '/cover.png')).status]
    }
    expect(await coverOf({ without: [idOf('Heron')] })).toEqual([false, 404])
    expect(await coverOf({ without: [idOf('Rush')] })).toEqual([true, 200])
  })

  it('is refused in a sentence: of nothing, of another pack, of no release, changed twice, or gone while people have it', async () => {
    const { packId, releaseId } = await packOf(['Rush', 'Sedge'])
    const nothing = await send(`/api/packs/${packId}/editions`, {
      name: 'X',
      plan: { ...wholePlan(), all: false, sets: ['Gone'] },
    })
    expect([nothing.status, await nothing.text()]).toEqual([422, expect.stringContaining('Nothing of release 1.0.0')])
    const { id: bare } = await person.post<{ id: string }>('/api/packs', { title: 'Bare', licence: 'CC0-1.0' })
    expect((await send(`/api/packs/${bare}/editions`, { name: 'X', plan: wholePlan() })).status).toBe(422)
    const id = await edition(packId, {})
    const other = await packOf(['Rush'])
    const wish = { releaseId: other.releaseId, editionId: id, name: 'Ida' }
    expect((await send(`/api/packs/${other.packId}/hand-outs`, wish)).status).toBe(404)
    const body = { name: 'Again', plan: wholePlan(), was: 1 }
    expect((await send(`/api/packs/editions/${id}`, body, 'PUT')).status).toBe(200)
    expect((await send(`/api/packs/editions/${id}`, body, 'PUT')).status).toBe(409)
    await handOut(packId, releaseId, id)
    expect((await send(`/api/packs/editions/${id}`, {}, 'DELETE')).status).toBe(409)
    const free = await edition(packId, {}, 'Free')
    expect((await send(`/api/packs/editions/${free}`, {}, 'DELETE')).status).toBe(200)
    expect((await listed(packId)).editions.map(({ name }) => name)).toEqual(['Again'])
    await person.post(`/api/packs/editions/${free}/bring-back`)
    expect((await listed(packId)).editions.map(({ name }) => name)).toEqual(['Again', 'Free'])
  })

  it('takes the place of what a hand-out gives, and gives it back', async () => {
    const { packId, releaseId } = await packOf(['Rush', 'Sedge'])
    const token = await handOut(packId, releaseId, '', { editionId: null })
    const id = await edition(packId, { without: [idOf('Sedge')] })
    const { handOuts } = await person.json<{ handOuts: { id: string }[] }>(`/api/packs/${packId}/people`)
    const give = (changes: object[]) =>
      person.post<{ before: object[] }>(`/api/packs/${packId}/hand-outs/change`, { changes })
    const { before } = await give([{ id: handOuts[0]?.id, editionId: id }])
    await built(token)
    expect(names(await page(token))).toEqual(['Rush'])
    await give(before.map((each) => ({ id: handOuts[0]?.id, ...each, withdrawnAt: null, endsAt: null })))
    expect(names(await page(token))).toEqual(['Rush', 'Sedge'])
  })
})

describe('who is signed in here', () => {
  it('takes what a link gives into their library, and nothing that it does not', async () => {
    const { packId, releaseId } = await packOf(['Rush', 'Heron'])
    const id = await edition(packId, { without: [idOf('Heron')] })
    const token = await handOut(packId, releaseId, id, { downloadLimit: 1 })
    await built(token)
    const other = await server.owner()
    const seen = await other.json<{ canTake: boolean }>(`/api/h/${token}`)
    expect([seen.canTake, ((await (await ask(token)).json()) as { canTake: boolean }).canTake]).toEqual([true, false])
    const { id: gather } = await other.post<{ id: string }>('/api/gathers/from-link', { token })
    type Ledger = { reading: object | null; tally: { lines: number }; files: { waiting: number } }
    await until(async () => {
      const ledger = await other.json<Ledger>(`/api/gathers/${gather}`)
      return ledger.reading === null && ledger.tally.lines > 0
    }, 60_000)
    const { lines } = await other.json<{ lines: { name: string }[] }>(`/api/gathers/${gather}/lines`)
    expect(lines.map(({ name }) => name)).toEqual(['Rush'])
    // it counts like a download, and the link gave one
    const again = await other.request('/api/gathers/from-link', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ token }),
    })
    expect(again.status).toBe(410)
    expect((await ask(token, '/download')).status).toBe(410)
    const nobody = await fetch(`${server.url}/api/gathers/from-link`, {
      method: 'POST',
      headers: { origin: server.url },
    })
    expect(nobody.status).toBe(401)
  })
})

/** How many links of a pack are out. */
const outOf = async (packId: string) =>
  (await person.json<{ packs: { id: string; out: number }[] }>('/api/packs')).packs.find(({ id }) => id === packId)?.out

describe('a class kit', () => {
  it('opens and closes its brushes: what they come to is as if the others were not there, byte for byte', async () => {
    const withHidden = await packOf(['Rush', 'Sedge', 'Heron', 'Egret'])
    const [first, later] = [lesson(-1, []), lesson(5, [])]
    const plan = (ids: string[]) => ({ kit: kit([first, { ...later, brushes: ids }]), notes: 'Welcome.' })
    const id = await edition(withHidden.packId, plan([idOf('Heron'), idOf('Egret')]))
    const hidden = await handOut(withHidden.packId, withHidden.releaseId, id)
    await built(hidden)
    const paths = server.parts.app.routes
      .filter(({ method, path }) => method === 'GET' && path.startsWith('/api/h/:token'))
      .map(({ path }) => path.replace('/api/h/:token', ''))
      .filter((path) => path !== '/download/:grant')
    expect(new Set(paths).size).toBeGreaterThan(6)
    const parts = ['', '?as=open', '?as=satchel', '?as=app.dunlin', `?as=open&of=brush.${idOf('Heron')}`]
    const asked = [...new Set(paths)].flatMap((path) =>
      path.endsWith('/download')
        ? parts.map((part) => path + part)
        : path.endsWith('/arrives')
          ? ['?as=open', '?as=app.dunlin'].map((as) => path + as)
          : ['Rush', 'Heron'].map((name) => path.replace(':brushId', idOf(name)).replace(':at', '0')),
    )
    const bodies = async (token: string, path: string) => {
      const answer = await ask(token, path)
      const bytes = Buffer.from(await answer.arrayBuffer()).toString('latin1')
      const boundary = /boundary=(\S+)/.exec(answer.headers.get('content-type') ?? '')?.[1]
      return [answer.status, boundary ? bytes.replaceAll(boundary, '-') : bytes]
    }
    const theirs = new Map<string, (string | number)[]>()
    for (const path of new Set(asked)) theirs.set(path, await bodies(hidden, path))
    // the same pack, as if it never had them: a release says which pack it is of
    const { packId } = withHidden
    const { db } = server.parts.deps
    const { rows } = await db.execute<{ id: string }>(
      sql`delete from hand_out where token_hash = ${hashToken(hidden)} returning id`,
    )
    await db.execute(sql`delete from edition where id = ${id}`)
    await db.execute(sql`delete from release where id = ${withHidden.releaseId}`)
    await person.post(`/api/packs/${packId}/single`, { brushIds: ['Rush', 'Sedge'].map(idOf) }, 'PUT')
    // one brush less in the lesson that comes: of how many those are nothing is told
    const one = await handOut(packId, await release(packId, '1.0.0'), await edition(packId, plan([])))
    // a copy says whose it is: the other one is the same person's, by the very same name of its own
    await db.execute(sql`update hand_out set id = ${rows[0]?.id} where token_hash = ${hashToken(one)}`)
    const found: number[] = []
    for (const [path, [status, body]] of theirs) {
      const those = await bodies(one, path)
      expect(status, path).toBe(those[0])
      found.push(Number(status))
      expect(body === those[1], `${path} tells of what is closed`).toBe(true)
    }
    // page, stroke, brush, frame, what arrives twice, four downloads; the others are not there
    expect(found.filter((status) => status === 200)).toHaveLength(10)
  }, 120_000)

  it('tells what comes when, by title and time alone', async () => {
    const { packId, releaseId } = await packOf(['Rush', 'Sedge', 'Heron'])
    const lessonsOf = [lesson(-48, [idOf('Sedge')], -24), lesson(-1, [idOf('Rush')]), lesson(30, [idOf('Heron')])]
    const id = await edition(packId, { kit: kit(lessonsOf) })
    const token = await handOut(packId, releaseId, id)
    await built(token)
    const shown = await page(token)
    expect(shown.course?.lessons.map(({ state, brushes: some }) => [state, some])).toEqual([
      ['closed', []],
      ['open', [idOf('Rush')]],
      ['to come', []],
    ])
    expect(names(shown)).toEqual(['Rush'])
    expect(shown.nextAt?.slice(0, 16)).toBe(new Date(Date.now() + 30 * HOUR_MS).toISOString().slice(0, 16))
    await (await ask(token, '/download')).arrayBuffer()
    // the teacher opens it earlier, by hand
    const [closed, open, toCome] = lessonsOf
    if (!closed || !open || !toCome) throw new Error('three lessons')
    expect((await change(packId, id, { kit: kit([closed, open, { ...lesson(-0.1, [idOf('Heron')]) }]) })).status).toBe(
      200,
    )
    await built(token)
    expect(names(await page(token))).toEqual(['Heron', 'Rush'])
    expect((await page(token)).course?.lessons.map(({ title, isNew }) => [title, isNew])).toContainEqual([
      `Lesson ${lessons}`,
      true,
    ])
    expect((await page(token)).course?.lessons.filter(({ isNew }) => isNew)).toHaveLength(1)
  })

  it('a download that was begun goes on as it was, also after a lesson closes', async () => {
    const { packId, releaseId } = await packOf(['Rush', 'Sedge', 'Heron'])
    const id = await edition(packId, { kit: kit([lesson(5, [idOf('Heron')])]) })
    const token = await handOut(packId, releaseId, id)
    await built(token)
    const begun = await ask(token, '/download')
    const bytes = Buffer.from(await begun.arrayBuffer())
    // one that has been there for weeks
    const { db } = server.parts.deps
    await db.execute(sql`update edition_build set created_at = now() - interval '20 days' where edition_id = ${id}`)
    await change(packId, id, { kit: kit([lesson(5, [idOf('Heron')]), lesson(5, [idOf('Sedge')])]) })
    await until(async () => names(await page(token)).join() === 'Rush')
    await built(token)
    const rest = await fetch(begun.url, {
      headers: { range: 'bytes=1000-', 'if-range': begun.headers.get('etag') ?? '' },
    })
    expect(rest.status).toBe(206)
    expect(Buffer.from(await rest.arrayBuffer()).equals(bytes.subarray(1000))).toBe(true)
    expect(names(await page(token))).toEqual(['Rush'])
  })

  it('says so before its first lesson, and after its last day', async () => {
    const { packId, releaseId } = await packOf(['Rush'])
    const first = lesson(5, [idOf('Rush')])
    const id = await edition(packId, { kit: kit([first]) })
    const token = await handOut(packId, releaseId, id)
    const shown = await page(token)
    expect([shown.files, shown.brushes, shown.course?.lessons.length]).toEqual(['nothing', [], 1])
    expect((await ask(token, '/download')).status).toBe(409)
    await change(packId, id, {
      kit: kit([lesson(-72, [idOf('Rush')])], {
        lastDay: new Date(Date.now() - 48 * HOUR_MS).toISOString().slice(0, 10),
      }),
    })
    const over = await ask(token)
    expect([over.status, await over.text()]).toEqual([410, expect.stringContaining('class is over')])
    // and where its links are listed they are out no more
    expect(await outOf(packId)).toBe(0)
    await change(packId, id, { kit: kit([lesson(-72, [idOf('Rush')])]) })
    expect(await outOf(packId)).toBe(1)
  })

  it('has what a lesson opens built an hour before', async () => {
    const { packId, releaseId } = await packOf(['Rush', 'Heron'])
    const id = await edition(packId, { kit: kit([lesson(0.5, [idOf('Heron')])]) })
    await handOut(packId, releaseId, id)
    type Builds = { builds: { brushes: number; state: string }[] }
    await until(async () => {
      const { builds } = await person.json<Builds>(`/api/packs/editions/${id}/builds`)
      return builds.length > 0 && builds.every(({ state }) => state === 'ready')
    }, 60_000)
    // when all is open that is the release itself, whose file is there
    const { builds } = await person.json<Builds>(`/api/packs/editions/${id}/builds`)
    expect(builds.map((build) => build.brushes)).toEqual([1])
    await change(packId, id, { without: [], kit: kit([lesson(0.5, [idOf('Heron')]), lesson(3, [idOf('Rush')])]) })
    await until(async () => (await person.json<Builds>(`/api/packs/editions/${id}/builds`)).builds.length === 2, 30_000)
  })

  it('can be looked at as its people will see it, at a time to come; nothing is fetched or counted by that', async () => {
    const { packId } = await packOf(['Rush', 'Heron'])
    const id = await edition(packId, { kit: kit([lesson(30, [idOf('Heron')])]) })
    const look = async (at: string | null) =>
      tokenIn((await person.post<{ link: string }>(`/api/packs/editions/${id}/look`, { at })).link)
    const [now, later] = [await look(null), await look(new Date(Date.now() + 40 * HOUR_MS).toISOString())]
    expect([names(await page(now)), names(await page(later))]).toEqual([['Rush'], ['Heron', 'Rush']])
    expect((await ask(later, `/strokes/${idOf('Heron')}`)).status).toBe(200)
    expect((await ask(now, `/strokes/${idOf('Heron')}`)).status).toBe(404)
    expect((await ask(later, '/download')).status).toBe(409)
    const changed = `${later.slice(0, -3)}AAA`
    expect((await ask(changed)).status).toBe(404)
    expect((await listed(packId)).editions[0]?.handOuts).toBe(0)
  })

  it('ends on the day that is said, or by hand for all of its links, and that is undone', async () => {
    const { packId, releaseId } = await packOf(['Rush', 'Sedge'])
    const id = await edition(packId, { without: [idOf('Sedge')] })
    const tokens = [await handOut(packId, releaseId, id), await handOut(packId, releaseId, id)]
    const { before } = await person.post<{ before: { id: string; endsAt: string | null }[] }>(
      `/api/packs/editions/${id}/end`,
    )
    expect(before.map(({ endsAt }) => endsAt)).toEqual([null, null])
    for (const token of tokens) expect((await ask(token)).status).toBe(410)
    await person.post(`/api/packs/${packId}/hand-outs/change`, { changes: before })
    for (const token of tokens) expect((await ask(token)).status).toBe(200)
  })
})
