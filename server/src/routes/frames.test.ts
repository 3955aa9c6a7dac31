import type { Recipe } from '@satchel/core/brush/recipe'
import { writeGih } from '@satchel/core/formats/gih/write'
import type { Pixels } from '@satchel/core/raster/pixels'
import sharp from 'sharp'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer } from '../testing/test-server.ts'

type Brush = { id: string; version: number; recipe: Recipe; pictures: { pixelSha: string; width: number }[] }
type Frames = {
  frames: { pixelSha: string }[]
  standings: { size: { isOutside: boolean } }[]
  sentences: string[]
  shadows: boolean[]
  alike: string[]
  leftOut: { version: number; place: number; pixelSha: string }[]
}

/** A disc, light paints, as open brushes have it. */
const disc = (side: number, radius: number): Pixels => ({
  width: side,
  height: side,
  channels: 1,
  data: Uint8Array.from({ length: side * side }, (_, i) =>
    Math.hypot((i % side) - side / 2, Math.floor(i / side) - side / 2) < radius ? 220 : 0,
  ),
})
const gih = () =>
  writeGih({
    name: 'Pebbles',
    spacingPct: 100,
    dimensions: [{ rank: 4, rule: 'random' }],
    extra: [['glow', '3']],
    frames: [disc(64, 28), disc(64, 29), disc(64, 14), disc(64, 30)].map((pixels, i) => ({
      version: 2 as const,
      name: `pebble ${i}`,
      spacingPct: 100,
      ...pixels,
    })),
  })

let server: TestServer
let person: Person
let brush: Brush
const load = () => person.json<Brush>(`/api/brushes/${brush.id}`)
const frames = async () => ({
  ...(await person.json<Frames>(`/api/brushes/${brush.id}/frames`)),
  ...(await person.post<Frames>(`/api/brushes/${brush.id}/frames/compare`)),
})
const change = (body: object) => person.post<{ version: number }>(`/api/brushes/${brush.id}/frames`, body)
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
  await takeInFiles(person, { 'pebbles.gih': gih() })
  const { brushes } = await person.json<{ brushes: { id: string }[] }>('/api/brushes')
  brush = await person.json<Brush>(`/api/brushes/${brushes[0]?.id}`)
})
afterAll(() => server.close())

describe('frames', () => {
  it('are told by what makes them stand out', async () => {
    const { standings, sentences, shadows, alike } = await frames()
    expect(standings.map(({ size }) => size.isOutside)).toEqual([false, false, true, false])
    expect(sentences[0]).toMatch(/^frame 3 is 5\d % smaller$/)
    expect(shadows).toEqual([false, false, false, false])
    expect(alike).toEqual(['frames 1, 2, 3 and 4 look the same in a stroke'])
  })

  it('change places, are copied and left out; their count follows, and undo brings all back', async () => {
    const { version } = await change({ from: 1, order: [3, 0, 0] })
    const after = await load()
    const names = brush.pictures.map(({ pixelSha }) => pixelSha)
    expect(after.pictures.map(({ pixelSha }) => pixelSha)).toEqual([names[3], names[0], names[0]])
    expect(after.recipe.path.nextFrame).toEqual([{ rule: 'random', frames: 3 }])
    expect(after.version).toBe(version)
    // what its file said besides stays with it
    const { rows } = await server.parts.deps.pool.query(
      'select t.file_keys from tip t join brush b on b.tip_id = t.id where b.id = $1',
      [brush.id],
    )
    expect(rows).toEqual([{ file_keys: [['glow', '3']] }])
    await person.post(`/api/brushes/${brush.id}/version`, { ordinal: 1 })
    expect((await load()).pictures).toEqual(brush.pictures)
  })

  it('are evened out', async () => {
    await change({ from: 1, order: [0, 1, 2, 3], even: { size: true, align: 'centres', tone: true } })
    expect((await frames()).sentences).toEqual([])
    expect(new Set((await load()).pictures.map(({ width }) => width)).size).toBe(1)
  })

  it('are changed on the version that was looked at, or not at all', async () => {
    await change({ from: 1, order: [0, 1] })
    const late = await person.request(`/api/brushes/${brush.id}/frames`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ from: 1, order: [0, 1, 2] }),
    })
    expect(late.status).toBe(409)
    const missing = await person.request(`/api/brushes/${brush.id}/frames`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ from: 2, order: [7] }),
    })
    expect(await sentenceOf(missing)).toContain('has 2 frames')
  })

  it('that were left out are shown, and can be put back where they belong', async () => {
    const before = (await load()).pictures.map(({ pixelSha }) => pixelSha)
    expect((await frames()).leftOut).toEqual([])
    const { version } = await change({ from: 1, order: [0, 2] })
    const { leftOut } = await frames()
    expect(leftOut.map((each) => [each.version, each.place, each.pixelSha])).toEqual([
      [1, 1, before[1]],
      [1, 3, before[3]],
    ])
    await change({ from: version, order: [0, { version: 1, place: 1 }, 1, { version: 1, place: 3 }] })
    expect((await load()).pictures.map(({ pixelSha }) => pixelSha)).toEqual(before)
    expect((await frames()).leftOut).toEqual([])
    const refused = await person.request(`/api/brushes/${brush.id}/frames`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ from: 3, order: [{ version: 99, place: 0 }] }),
    })
    expect(refused.status).toBe(422)
  })

  it('are scaled one by one', async () => {
    await change({ from: 1, order: [0, 1, 2, 3], edits: [{ at: 2, edit: { scale: 2, hueDeg: 0, strength: 1 } }] })
    const after = await frames()
    expect(after.standings.map(({ size }) => size.isOutside)).toEqual([false, false, false, false])
    const names = (await load()).pictures
    expect(names.map(({ width }) => width)).toEqual(brush.pictures.map(({ width }) => width))
  })

  it('are replaced by any picture, which is read as the others are', async () => {
    const put = (bytes: Uint8Array, from: number, name = 'scan.jpg') =>
      person.request(`/api/brushes/${brush.id}/frames/3?from=${from}&name=${name}`, {
        method: 'PUT',
        body: new Uint8Array(bytes),
      })
    const scan = await sharp({ create: { width: 140, height: 120, channels: 3, background: '#e6e2d8' } })
      .composite([
        { input: Buffer.from('<svg width="140" height="120"><circle cx="70" cy="60" r="29" fill="#222"/></svg>') },
      ])
      .jpeg({ quality: 92 })
      .toBuffer()
    expect((await put(scan, 1)).status).toBe(200)
    const { standings, sentences } = await frames()
    expect(standings[2]?.size.isOutside, sentences.join()).toBe(false)
    expect((await load()).pictures).toHaveLength(4)
    const bad = await put(new TextEncoder().encode('no picture'), 2, 'notes.txt')
    expect([bad.status, await sentenceOf(bad)]).toEqual([422, expect.stringMatching(/^"notes.txt": It is no picture/)])
    expect((await put(scan, 1)).status).toBe(409)
  })

  it('that are too large together, or would become so, are refused in a sentence, and nothing changes', async () => {
    const blank = await sharp({ create: { width: 4000, height: 4000, channels: 3, background: '#fff' } })
      .composite([
        {
          input: Buffer.from(
            '<svg width="4000" height="4000"><rect x="100" y="100" width="3800" height="3800"/></svg>',
          ),
        },
      ])
      .toColourspace('b-w')
      .png()
      .toBuffer()
    await takeInFiles(person, { 'wall.png': new Uint8Array(blank) })
    const { brushes } = await person.json<{ brushes: { id: string }[] }>('/api/brushes?q=wall')
    const ask = (body: object) =>
      person.request(`/api/brushes/${brushes[0]?.id}/frames`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ from: 1, ...body }),
      })
    const many = await ask({ order: Array(256).fill(0) })
    expect([many.status, await sentenceOf(many)]).toEqual([422, expect.stringMatching(/^These 256 frames have more/)])
    const large = await ask({ order: [0], edits: [{ at: 0, edit: { scale: 4, hueDeg: 0, strength: 1 } }] })
    expect([large.status, await sentenceOf(large)]).toEqual([
      422,
      expect.stringMatching(/cannot be changed so: Too large/),
    ])
    expect((await person.json<Brush>(`/api/brushes/${brushes[0]?.id}`)).version).toBe(1)
  })
})
