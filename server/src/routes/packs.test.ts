import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { writeGih } from '@satchel/core/formats/gih/write'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it, vi } from 'vitest'
import { giveDownloadBack, keepDownload, takeDownload } from '../db/deliveries.ts'
import { hashToken } from '../hand-out/token.ts'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blot, blotGbr, blotPng } from '../testing/tips.ts'

type Pack = {
  brushes: number
  releases: { id: string; version: string; state: string; zipBytes: number }[]
  handOuts: { id: string; downloads: number }[]
}
let server: TestServer
let person: Person
let packId = ''
let releaseId = ''

const animated = () => {
  const frames = [31, 32, 33].map((seed) => ({ version: 2 as const, name: 'Tuft', spacingPct: 90, ...blot(seed) }))
  return writeGih({ name: 'Tuft', spacingPct: 90, dimensions: [{ rank: 3, rule: 'random' }], frames, extra: [] })
}

const people = async () => (await person.json<Pick<Pack, 'handOuts'>>(`/api/packs/${packId}/people`)).handOuts
const pack = () => person.json<Pack>(`/api/packs/${packId}`)
const ready = (id: string) =>
  until(async () => (await pack()).releases.find((release) => release.id === id && release.state === 'ready'))
async function handOut(more: object = {}): Promise<{ token: string; id: string }> {
  const { link, id } = await person.post<{ link: string; id: string }>(`/api/packs/${packId}/hand-outs`, {
    releaseId,
    name: 'Evening class',
    ...more,
  })
  return { token: link.split('/').at(-1) ?? '', id }
}
const fetchPage = (token: string) => fetch(`${server.url}/api/h/${token}`)
const fetchZip = (token: string, init: RequestInit = {}) => fetch(`${server.url}/api/h/${token}/download`, init)

beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  await takeInFiles(person, {
    'Reeds/one.png': blotPng(1),
    'Reeds/two.gbr': blotGbr(2, 'Two'),
    'Tufts/tuft.gih': animated(),
    'Apart/x.png': blotPng(9),
  })
  const { sets } = await person.json<{ sets: { id: string; name: string }[] }>('/api/sets')
  const of = (name: string) => sets.find((set) => set.name === name)?.id
  packId = (
    await person.post<{ id: string }>('/api/packs', { title: 'Marsh: First', maker: 'Ida', licence: 'CC-BY-4.0' })
  ).id
  await person.post(`/api/packs/${packId}/sets`, { setIds: [of('Tufts'), of('Reeds')] }, 'PUT')
  releaseId = (await person.post<{ id: string }>(`/api/packs/${packId}/releases`, { version: '1.0.0', notes: 'First' }))
    .id
  await ready(releaseId)
})
afterAll(() => server.close())

describe('a release', () => {
  it('is downloaded as files that the outside readers accept: unzip, sha256sum, python3-pil', async () => {
    const { token } = await handOut()
    const response = await fetchZip(token)
    expect(response.headers.get('content-disposition')).toContain('filename="Marsh- First 1.0.0.zip"')
    const folder = mkdtempSync(join(tmpdir(), 'download-'))
    writeFileSync(join(folder, 'd.zip'), new Uint8Array(await response.arrayBuffer()))
    expect(execFileSync('unzip', ['-t', 'd.zip'], { cwd: folder, encoding: 'utf8' })).toContain('No errors detected')
    execFileSync('unzip', ['-q', 'd.zip'], { cwd: folder })
    expect(readdirSync(folder).sort()).toEqual([
      'LICENSE.txt',
      'Marsh- First.satchel.zip',
      'README.txt',
      'RELEASED.SHA256SUMS',
      'RELEASED.SHA256SUMS.sig',
      'RELEASED.SIGNER.pem',
      'Reeds',
      'SHA256SUMS',
      'SHA256SUMS.sig',
      'SHEET.pdf',
      'SIGNER.pem',
      'Tufts',
      'd.zip',
    ])
    expect(execFileSync('sha256sum', ['-c', 'SHA256SUMS'], { cwd: folder, encoding: 'utf8' })).not.toContain('FAILED')
    expect(readFileSync(join(folder, 'LICENSE.txt'), 'utf8')).toContain('Creative Commons Attribution 4.0')
    expect(readFileSync(join(folder, 'README.txt'), 'utf8')).toContain('3 brushes in 2 sets')
    const script = `
import sys
from PIL import Image
g = Image.open(sys.argv[1] + '/Reeds/one.gbr'); p = Image.open(sys.argv[1] + '/Reeds/one.png'); a = Image.open(sys.argv[1] + '/Tufts/Tuft.png')
print(g.size, g.mode, p.mode, a.n_frames, bytes(255 - v for v in g.tobytes()) == p.tobytes())`
    expect(execFileSync('/usr/bin/python3', ['-c', script, folder], { encoding: 'utf8' }).trim()).toBe(
      '(48, 48) L L 3 True',
    )
    expect(execFileSync('./satchel', ['check', join(folder, 'd.zip')], { encoding: 'utf8' })).toContain('all sound')
    const inner = mkdtempSync(join(tmpdir(), 'pack-'))
    execFileSync('unzip', ['-q', join(folder, 'Marsh- First.satchel.zip')], { cwd: inner })
    expect(execFileSync('sha256sum', ['-c', 'SHA256SUMS'], { cwd: inner, encoding: 'utf8' })).not.toContain('FAILED')
  })

  it('comes back as the same sets, order, recipes and pixels when a colleague takes the pack in', async () => {
    const { token } = await handOut()
    const download = new Uint8Array(await (await fetchZip(token)).arrayBuffer())
    const colleague = await server.owner()
    // the whole download: the open files beside the pack are not taken a second time
    await takeInFiles(colleague, { 'download.zip': download })
    expect(await colleague.json('/api/brushes/count')).toEqual({ count: 3 })
    type Whole = { name: string; maker: string; licence: string; recipe: object; pictures: { pixelSha: string }[] }
    const whole = async (who: Person, setNames: string[]) => {
      const { sets } = await who.json<{ sets: { id: string; name: string }[] }>('/api/sets')
      const told: [string, Whole[]][] = []
      for (const name of setNames) {
        const id = sets.find((set) => set.name === name)?.id
        const { brushes } = await who.json<{ brushes: { id: string }[] }>(`/api/brushes?setId=${id}&sort=set`)
        const all = await Promise.all(brushes.map((brush) => who.json<Whole>(`/api/brushes/${brush.id}`)))
        told.push([
          name,
          all.map(({ name: brushName, recipe, pictures }) => ({
            name: brushName,
            recipe,
            pictures: pictures.map(({ pixelSha }) => ({ pixelSha })),
          })) as Whole[],
        ])
      }
      return told
    }
    const theirs = await whole(colleague, ['Tufts', 'Reeds'])
    expect(theirs).toEqual(await whole(person, ['Tufts', 'Reeds']))
    const { sets } = await colleague.json<{ sets: { name: string }[] }>('/api/sets')
    expect(sets.map((set) => set.name)).toEqual(['Tufts', 'Reeds'])
  })

  it('never changes: a brush renamed and a set emptied later do not reach it', async () => {
    const { token } = await handOut()
    const before = await (await fetchPage(token)).json()
    const { ids } = await person.json<{ ids: string[] }>('/api/brushes/ids?q=two')
    await person.post('/api/brushes/bin', { ids })
    expect(await (await fetchPage(token)).json()).toEqual(before)
    expect((await pack()).brushes).toBe(2)
    await person.post('/api/brushes/bring-back', { ids })
  })

  it('has a semantic version above the last (semver.org 2.0.0, item 11)', async () => {
    const release = async (version: string): Promise<string> => {
      const response = await person.request(`/api/packs/${packId}/releases`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ version }),
      })
      return response.ok ? 'ok' : await sentenceOf(response)
    }
    expect(await release('1.0')).toBe('"1.0" is no semantic version; write it like 1.2.0.')
    expect(await release('1.0.0-alpha.1')).toBe(
      '1.0.0-alpha.1 is not above 1.0.0, the latest release; choose a higher version.',
    )
    expect(await release('1.0.0')).toContain('not above 1.0.0')
    const { id: empty } = await person.post<{ id: string }>('/api/packs', { title: 'Nothing' })
    const none = await person.request(`/api/packs/${empty}/releases`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '{"version":"1.0.0"}',
    })
    expect(await sentenceOf(none)).toBe('This pack holds no brush yet; choose a brush, or a set that has some.')
  })
})

describe('a pack', () => {
  it('takes a cover of its own workspace only', async () => {
    const cover = (id: string) =>
      person.request(`/api/packs/${packId}`, {
        method: 'PATCH',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ coverBrushId: id }),
      })
    const { ids } = await person.json<{ ids: string[] }>('/api/brushes/ids')
    expect((await cover(ids[0] ?? '')).status).toBe(200)
    const stranger = await server.owner()
    await takeInFiles(stranger, { 'S/a.png': blotPng(77) })
    const theirs = (await stranger.json<{ ids: string[] }>('/api/brushes/ids')).ids[0] ?? ''
    for (const id of [theirs, '00000000-0000-4000-8000-000000000000']) {
      const response = await cover(id)
      expect(response.status).toBe(404)
      expect(await sentenceOf(response)).toBe('This brush is not here any more; go back and choose another.')
    }
  })
})

describe('a hand-out', () => {
  it('shows the pack and its strokes without an account, and nothing beyond it', async () => {
    const { token } = await handOut()
    const page = (await (await fetchPage(token)).json()) as { sets: { name: string }[]; brushes: { id: string }[] }
    expect(page).toMatchObject({
      title: 'Marsh: First',
      forWhom: 'Evening class',
      version: '1.0.0',
      downloadsLeft: null,
    })
    expect(page.sets.map((set) => set.name)).toEqual(['Tufts', 'Reeds'])
    const stroke = await fetch(`${server.url}/api/h/${token}/strokes/${page.brushes[0]?.id}`)
    expect(stroke.headers.get('content-type')).toBe('image/png')
    const { ids } = await person.json<{ ids: string[] }>('/api/brushes/ids?q=x')
    expect((await fetch(`${server.url}/api/h/${token}/strokes/${ids[0]}`)).status).toBe(404)
  })

  it('is streamed with ETag and ranges, and resumes', async () => {
    const { token, id } = await handOut()
    const whole = await fetchZip(token)
    const bytes = new Uint8Array(await whole.arrayBuffer())
    const etag = whole.headers.get('etag') ?? ''
    expect(Number(whole.headers.get('content-length'))).toBe(bytes.length)
    const goOn = (init: RequestInit) => fetch(whole.url, init) // where the link has led to
    expect((await goOn({ headers: { 'if-none-match': etag } })).status).toBe(304)
    const rest = await goOn({ headers: { range: 'bytes=1000-', 'if-range': etag } })
    expect(rest.status).toBe(206)
    expect(rest.headers.get('content-range')).toBe(`bytes 1000-${bytes.length - 1}/${bytes.length}`)
    expect(new Uint8Array(await rest.arrayBuffer())).toEqual(bytes.subarray(1000))
    expect((await goOn({ headers: { range: `bytes=${bytes.length}-` } })).status).toBe(416)
    expect((await fetchZip(token, { method: 'HEAD' })).headers.get('accept-ranges')).toBe('bytes')
    const counted = (await people()).find((each) => each.id === id)?.downloads
    expect(counted).toBe(1) // what is still fresh, resuming and looking ahead count nothing
  })

  it.each([
    [{}],
    [{ range: 'bytes=1-0' }],
    [{ range: 'bytes=1-2,0-99999999' }],
    [{ range: 'bytes=1x' }],
    [{ range: 'bytes=1-' }],
    [{ range: 'bytes=5-', 'if-range': '"other"' }],
    [{ 'if-none-match': 'same' }],
  ])('gives nothing of a used-up link, whatever is asked of it: %o', async (headers) => {
    const { token } = await handOut({ downloadLimit: 1 })
    const first = await fetchZip(token)
    await first.arrayBuffer()
    const same = first.headers.get('etag') ?? ''
    const asked = Object.fromEntries(Object.entries(headers).map(([k, value]) => [k, value === 'same' ? same : value]))
    for (const method of ['GET', 'HEAD'])
      expect([method, (await fetchZip(token, { method, headers: asked })).status]).toEqual([method, 410])
    expect((await fetch(first.url, { headers: { range: 'bytes=5-9' } })).status).toBe(206)
  })

  it('lets a download be gone on with for an hour, by its own address alone', async () => {
    const { token, id } = await handOut({ downloadLimit: 1 })
    const { url } = await fetchZip(token)
    expect((await fetch(url.replace(/[^/]+$/, 'x'.repeat(32)))).status).toBe(410)
    const { token: other } = await handOut()
    expect((await fetch(url.replace(token, other))).status).toBe(410)
    await server.parts.deps.db.execute(
      sql`update delivery set at = now() - interval '61 minutes' where hand_out_id = ${id}`,
    )
    expect((await fetch(url)).status).toBe(410)
  })

  it.each([
    ['a wrong link', async (): Promise<string> => 'no-such-token', 404, 'This link leads nowhere'],
    [
      'an ended one',
      async (): Promise<string> => {
        const { token, id } = await handOut({ endsAt: new Date(Date.now() + 60_000).toISOString() })
        await server.parts.deps.db.execute(
          sql`update hand_out set ends_at = now() - interval '1 second' where id = ${id}`,
        )
        return token
      },
      410,
      'This hand-out has ended',
    ],
    [
      'a withdrawn one',
      async (): Promise<string> => {
        const { token, id } = await handOut()
        await person.post(`/api/packs/hand-outs/${id}/withdraw`)
        return token
      },
      410,
      'This hand-out has been withdrawn',
    ],
    [
      'a used-up one',
      async (): Promise<string> => {
        const { token } = await handOut({ downloadLimit: 1 })
        expect((await fetchZip(token)).status).toBe(200)
        return token
      },
      410,
      'All downloads of this hand-out have been used',
    ],
    [
      'a replaced link',
      async (): Promise<string> => {
        const { token, id } = await handOut()
        await person.post(`/api/packs/hand-outs/${id}/new-link`)
        return token
      },
      404,
      'This link leads nowhere',
    ],
  ] as const)('says plainly that %s is dead, and reveals nothing', async (_name, make, status, sentence) => {
    const token = await make()
    for (const response of [await fetchPage(token), await fetchZip(token)]) {
      expect(response.status).toBe(status)
      const body = await response.text()
      expect(JSON.parse(body).title).toContain(sentence)
      expect(body).not.toContain('Marsh')
    }
  })

  it('does not count a download that finds no room on the disk', async () => {
    const { token, id } = await handOut({ downloadLimit: 1 })
    const full = Object.assign(new Error('no space left on device'), { code: 'ENOSPC' })
    const failing = vi.spyOn(server.parts.deps.blobs, 'path').mockRejectedValueOnce(full)
    const answer = await fetchZip(token)
    failing.mockRestore()
    expect(answer.status).toBe(507)
    expect(await sentenceOf(answer)).toContain('no room left on the disk')
    expect((await people()).find((each) => each.id === id)?.downloads).toBe(0)
    expect((await fetchZip(token)).status).toBe(200)
  })

  it('gives no more downloads than its limit, even all at once', async () => {
    const { token } = await handOut({ downloadLimit: 3 })
    const all = await Promise.all(Array.from({ length: 8 }, () => fetchZip(token)))
    expect(all.filter((response) => response.status === 200).length).toBe(3)
    await Promise.all(all.map((response) => response.arrayBuffer()))
  })

  /** Begins a download and lets go of it in the middle. */
  const breakOff = async (token: string) => {
    const cut = new AbortController()
    const begun = await fetchZip(token, { signal: cut.signal })
    await begun.body?.getReader().read()
    cut.abort()
    return begun.url
  }
  const countOf = async (id: string) => (await people()).find((each) => each.id === id)?.downloads

  it('counts a download when it was sent, not each time it breaks off', async () => {
    const { blobs } = server.parts.deps
    const { token, id } = await handOut({ downloadLimit: 1 })
    // a zip that no connection swallows whole before it is let go of
    const large = join(mkdtempSync(join(tmpdir(), 'large-')), 'x.zip')
    writeFileSync(large, new Uint8Array(64 * 1024 * 1024))
    const held = vi.spyOn(blobs, 'path').mockResolvedValue(large)
    await server.parts.deps.db.execute(sql`update release set zip_bytes = ${64 * 1024 * 1024}, contents_sha = null`)
    try {
      for (let n = 0; n < 3; n++) {
        await breakOff(token)
        await until(async () => (await countOf(id)) === 0)
      }
      const url = await breakOff(token)
      await until(async () => (await countOf(id)) === 0)
      // gone on with, it is sent to its end, and counts then
      const rest = await fetch(url, { headers: { range: 'bytes=1000-' } })
      expect(rest.status).toBe(206)
      expect((await rest.arrayBuffer()).byteLength).toBe(64 * 1024 * 1024 - 1000)
      await until(async () => (await countOf(id)) === 1)
      expect((await fetchZip(token)).status).toBe(410)
      expect((await fetch(url, { headers: { range: 'bytes=5-9' } })).status).toBe(206)
      expect(await countOf(id)).toBe(1)
    } finally {
      held.mockRestore()
      const { rows } = await server.parts.deps.db.execute(
        sql`update release set zip_bytes = blob.size_bytes from blob where blob.sha256 = release.zip_sha returning 1`,
      )
      expect(rows.length).toBeGreaterThan(0)
      rmSync(dirname(large), { recursive: true })
    }
  })

  it('gives a place back that was granted an hour ago and never used', async () => {
    const { token, id } = await handOut({ downloadLimit: 1 })
    expect((await fetchZip(token, { redirect: 'manual' })).status).toBe(302)
    expect((await fetchZip(token, { redirect: 'manual' })).status).toBe(410)
    await server.parts.deps.db.execute(
      sql`update delivery set at = now() - interval '61 minutes' where hand_out_id = ${id}`,
    )
    expect((await fetchZip(token)).status).toBe(200)
  })

  it('counts one that was sent on a second connection after the first broke off', async () => {
    const { db } = server.parts.deps
    const { id } = await handOut({ downloadLimit: 1 })
    const { rows } = await db.execute<{ workspace_id: string; release_id: string }>(
      sql`select workspace_id, release_id from hand_out where id = ${id}`,
    )
    const its = { workspaceId: rows[0]?.workspace_id ?? '', id }
    const releaseId = rows[0]?.release_id ?? ''
    expect(await takeDownload(db, its, { grantHash: 'both', releaseId })).toBe(true)
    await giveDownloadBack(db, its, 'both')
    expect(await countOf(id)).toBe(0)
    await keepDownload(db, its, 'both')
    await keepDownload(db, its, 'both')
    expect(await countOf(id)).toBe(1)
    expect(await takeDownload(db, its, { grantHash: 'another', releaseId })).toBe(false)
  })

  it('is whole whatever becomes of the file that lies in the cache', async () => {
    const { blobs } = server.parts.deps
    const { token } = await handOut()
    const wanted = new Uint8Array(await (await fetchZip(token)).arrayBuffer())
    const { rows } = await server.parts.deps.db.execute(
      sql`select zip_sha, workspace_id from release where id = (select release_id from hand_out where token_hash = ${hashToken(token)})`,
    )
    const [row] = rows as { zip_sha: never; workspace_id: string }[]
    if (!row) throw new Error('no such release')
    const path = await blobs.path(row.workspace_id, row.zip_sha)
    for (const harm of [
      () => writeFileSync(path, new Uint8Array(0)),
      () => writeFileSync(path, wanted.subarray(0, 1000)),
      () => writeFileSync(path, new Uint8Array(wanted.length)),
      () => rmSync(path),
    ]) {
      harm()
      const answer = await fetchZip(token)
      expect(new Uint8Array(await answer.arrayBuffer())).toEqual(wanted)
    }
  })
})
