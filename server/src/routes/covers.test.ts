import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { CoverPlan } from '@satchel/core/cover/cover'
import { takeMark } from '@satchel/core/pack/issued/mark-kinds'
import { sql } from 'drizzle-orm'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

let server: TestServer
let person: Person
let packId = ''
let plan: CoverPlan
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  await takeInFiles(person, { 'Reeds/one.png': blotPng(1, 120), 'Reeds/two.png': blotPng(2, 90) })
  const { sets } = await person.json<{ sets: { id: string; name: string }[] }>('/api/sets')
  const setId = sets.find(({ name }) => name === 'Reeds')?.id ?? ''
  const { brushes } = await person.json<{ brushes: { id: string }[] }>(`/api/brushes?setId=${setId}&sort=set`)
  packId = (await person.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })).id
  await person.post(`/api/packs/${packId}/sets`, { setIds: [setId] }, 'PUT')
  plan = {
    ...{ ground: '#204060', title: 'Shore', titleColour: '#ffffff', titlePlace: 'above' },
    strokes: [{ brushId: brushes[0]?.id ?? '', colour: '#ff8000', top: 1, height: 0.4 }],
  }
})
afterAll(() => server.close())

const send = (path: string, body: object, method = 'PUT') =>
  person.request(path, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
const sendPicture = (bytes: Uint8Array, crop = 'left=0&top=0&width=1&height=1') =>
  person.request(`/api/packs/${packId}/cover/picture?${crop}`, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: new Uint8Array(bytes),
  })
const pixels = async (response: Response) => {
  expect([response.status, response.headers.get('content-type')]).toEqual([200, 'image/png'])
  return sharp(Buffer.from(await response.arrayBuffer()))
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true })
}
type Picture = Awaited<ReturnType<typeof pixels>>
const near = ({ data, info }: Picture, y0: number, y1: number, [r, g, b]: [number, number, number]) => {
  let found = 0
  for (let y = Math.round(y0 * info.height); y < Math.round(y1 * info.height); y++)
    for (let x = 0; x < info.width; x++) {
      const i = (y * info.width + x) * 3
      if (Math.abs((data[i] ?? 0) - r) + Math.abs((data[i + 1] ?? 0) - g) + Math.abs((data[i + 2] ?? 0) - b) < 30)
        found++
    }
  return found
}
const coverSha = async () => (await person.json<{ coverSha: string | null }>(`/api/packs/${packId}`)).coverSha

describe('a cover that is composed', () => {
  it('is looked at before it is kept: title, stroke and ground in their colours, where they were put', async () => {
    const look = await pixels(await send(`/api/packs/${packId}/cover/look`, { cover: plan }, 'POST'))
    expect([look.info.width, look.info.height]).toEqual([1600, 900])
    expect(near(look, 0, 0.3, [255, 255, 255])).toBeGreaterThan(3000)
    expect(near(look, 0.5, 1, [255, 255, 255])).toBe(0)
    // blots are 120 px wide: in a band of 360 px they are painted as large as that
    expect(near(look, 0.6, 1, [255, 128, 0])).toBeGreaterThan(20_000)
    expect(near(look, 0, 0.5, [255, 128, 0])).toBe(0)
    expect(near(look, 0, 1, [32, 64, 96])).toBeGreaterThan(1_000_000)
    expect(await coverSha()).toBeNull()
    const below = await pixels(
      await send(`/api/packs/${packId}/cover/look`, { cover: { ...plan, titlePlace: 'below', strokes: [] } }, 'POST'),
    )
    // the same letters, on other parts of pixels
    const letters = near(look, 0, 0.3, [255, 255, 255])
    expect(Math.abs(near(below, 0.7, 1, [255, 255, 255]) - letters)).toBeLessThan(letters / 50)
  })

  it('is kept as it was shown, goes into the download, its sheet and the person’s page, and stays in that release', async () => {
    const shown = Buffer.from(
      await (await send(`/api/packs/${packId}/cover/look`, { cover: plan }, 'POST')).arrayBuffer(),
    )
    expect((await send(`/api/packs/${packId}/cover`, { cover: plan })).status).toBe(200)
    const kept = Buffer.from(await (await person.request(`/api/packs/${packId}/cover.png`)).arrayBuffer())
    expect(kept.equals(shown)).toBe(true)
    const { id } = await person.post<{ id: string }>(`/api/packs/${packId}/releases`, { version: '1.0.0', notes: '' })
    await until(async () => {
      const { releases } = await person.json<{ releases: { state: string }[] }>(`/api/packs/${packId}`)
      return releases[0]?.state === 'ready'
    }, 60_000)
    // another cover, and none: the release has its own
    expect((await send(`/api/packs/${packId}/cover`, { cover: { ...plan, title: '' } })).status).toBe(200)
    expect((await person.request(`/api/packs/${packId}/cover`, { method: 'DELETE' })).status).toBe(200)
    const { link } = await person.post<{ link: string }>(`/api/packs/${packId}/hand-outs`, {
      releaseId: id,
      name: 'Tom',
    })
    const page = `${server.url}/api/h/${link.split('/').at(-1)}`
    expect(((await (await fetch(page)).json()) as { hasCover: boolean }).hasCover).toBe(true)
    expect(Buffer.from(await (await fetch(`${page}/cover.png`)).arrayBuffer()).equals(shown)).toBe(true)
    const folder = mkdtempSync(join(tmpdir(), 'cover-'))
    writeFileSync(join(folder, 'd.zip'), Buffer.from(await (await fetch(`${page}/download`)).arrayBuffer()))
    execFileSync('unzip', ['-q', 'd.zip'], { cwd: folder })
    // but for whose copy it is
    const cover = takeMark('COVER.png', readFileSync(join(folder, 'COVER.png')))
    expect(shown.equals(cover?.bytes ?? new Uint8Array(0))).toBe(true)
    const [first] = execFileSync('pdfimages', ['-list', join(folder, 'SHEET.pdf')], { encoding: 'utf8' })
      .split('\n')
      .slice(2)
    expect(first).toMatch(/^ +1 .* 1600 +900 /)
    // what no release has is gone
    const { rows } = await server.parts.deps.db.execute(sql`select from blob where media_type = 'image/png'
      and sha256 in (select cover_sha from release)`)
    expect(rows).toHaveLength(1)
    expect(await coverSha()).toBeNull()
  }, 90_000)

  it('of a brush that is gone, or another’s, or with numbers that make no sense, is refused', async () => {
    const strange = '11111111-2222-4333-8444-555555555555'
    const [stroke] = plan.strokes
    const tries: [object, number][] = [
      [{ ...plan, strokes: [{ ...stroke, brushId: strange }] }, 404],
      [{ ...plan, ground: 'red' }, 422],
      [{ ...plan, strokes: [{ ...stroke, height: 1e9 }] }, 422],
      [{ ...plan, strokes: Array.from({ length: 7 }, () => stroke) }, 422],
      [{ ...plan, title: 'x'.repeat(121) }, 422],
    ]
    for (const [cover, status] of tries)
      expect((await send(`/api/packs/${packId}/cover`, { cover })).status).toBe(status)
    const other = await server.owner()
    for (const path of ['cover.png', 'cover'])
      expect((await other.request(`/api/packs/${packId}/${path}`)).status).toBe(404)
  })
})

describe('a picture as cover', () => {
  const half = () =>
    sharp({ create: { width: 800, height: 900, channels: 3, background: '#00ff00' } })
      .composite([
        { input: { create: { width: 400, height: 900, channels: 3, background: '#ff0000' } }, left: 400, top: 0 },
      ])
      .jpeg()
      .toBuffer()

  it('is the part that was chosen, at the size of every cover, upright, and nothing else of the picture', async () => {
    expect((await sendPicture(await half(), 'left=0.5&top=0&width=0.5&height=0.25')).status).toBe(200)
    const cover = await person.request(`/api/packs/${packId}/cover.png`)
    const got = await pixels(cover)
    expect([got.info.width, got.info.height]).toEqual([1600, 900])
    expect(near(got, 0, 1, [255, 0, 0])).toBeGreaterThan(1_400_000)
    const turned = await sharp(await half())
      .withMetadata({ orientation: 3 })
      .toBuffer()
    expect((await sendPicture(turned, 'left=0.5&top=0&width=0.5&height=0.25')).status).toBe(200)
    expect(
      near(await pixels(await person.request(`/api/packs/${packId}/cover.png`)), 0, 1, [0, 255, 0]),
    ).toBeGreaterThan(1_400_000)
  })

  it('of a hundred megapixels is refused with a sentence, and the one before stays', async () => {
    const before = await coverSha()
    const bomb = await sharp({
      create: { width: 12_000, height: 9_000, channels: 3, background: '#888' },
      limitInputPixels: false,
    })
      .png()
      .toBuffer()
    const response = await sendPicture(bomb)
    expect(response.status).toBe(422)
    expect(((await response.json()) as { title: string }).title).toMatch(/108,000,000.*Choose another picture\./)
    for (const wrong of [
      Buffer.from('no picture'),
      Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>'),
      Buffer.alloc(0),
      (await half()).subarray(0, 900),
    ])
      expect((await sendPicture(wrong)).status).toBe(422)
    for (const crop of ['left=-1&top=0&width=1&height=1', 'left=0&top=0&width=x&height=1', 'left=0'])
      expect((await sendPicture(await half(), crop)).status).toBe(422)
    expect(await coverSha()).toBe(before)
  })
})
