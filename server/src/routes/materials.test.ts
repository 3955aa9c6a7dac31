import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Recipe } from '@satchel/core/brush/recipe'
import { drawGrain } from '@satchel/core/grain/rules'
import type { PixelSha } from '@satchel/core/hashes'
import { encodePng } from '@satchel/node/png'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { gatherFiles, settledLedger, takeInFiles } from '../testing/gather.ts'
import { releaseAndDownload } from '../testing/release.ts'
import { type Person, sentenceOf, startTestServer, type TestServer } from '../testing/test-server.ts'
import { blotPng, pixelName, ropeStrip, waveTile } from '../testing/tips.ts'

type Material = { id: string; kind: string; name: string; pixelSha: PixelSha; seamAcross: number; uses: number }
type Brush = {
  id: string
  name: string
  maker: string
  version: number
  recipe: Recipe
  licence: string
  tags: string[]
  grain: Material | null
  pictures: { pixelSha: string }[]
  copiedFrom: { name: string; maker: string } | null
  versions: { ordinal: number; label: string }[]
}

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
  await takeInFiles(person, {
    'Shore/blot.png': blotPng(1),
    'Shore/sand.png': encodePng(waveTile()),
    'Shore/rope.png': encodePng(ropeStrip()),
  })
})
afterAll(() => server.close())

const materials = async () => (await person.json<{ materials: Material[] }>('/api/materials')).materials
const brushNamed = async (name: string, who = person) => {
  const { brushes } = await who.json<{ brushes: { id: string }[] }>(`/api/brushes?q=${name}`)
  return who.json<Brush>(`/api/brushes/${brushes[0]?.id}`)
}
const save = (brush: Brush, change: (recipe: Recipe) => void) => {
  const recipe = structuredClone(brush.recipe)
  change(recipe)
  const { name, maker, licence, tags, version } = brush
  return person.post(`/api/brushes/${brush.id}`, { name, maker, licence, tags, recipe, from: version }, 'PUT')
}
const paintOnSand = async (name = 'blot') => {
  const sand = (await materials()).find((each) => each.kind === 'grain')
  const grain = {
    sha256: sand?.pixelSha ?? pixelName('0'),
    anchor: 'canvas',
    scalePct: 50,
    strength: 0.9,
    brightness: 0.1,
    contrast: 0.2,
    randomTurn: 'none',
  } as const
  await save(await brushNamed(name), (recipe) => (recipe.ground.grain = grain))
  return grain
}

describe('grains and strips', () => {
  it('are guessed in the ledger by shape and seam, taken in as such, and measured', async () => {
    const all = await materials()
    expect(all.map(({ kind, name, uses }) => [kind, name, uses])).toEqual([
      ['strip', 'rope', 1],
      ['grain', 'sand', 0],
    ])
    expect(all[1]?.seamAcross).toBeLessThan(1.5)
    const { count } = await person.json<{ count: number }>('/api/brushes/count')
    expect(count).toBe(2) // the blot, and a ribbon brush with the rope
    expect((await brushNamed('rope')).recipe.path.ribbon).toEqual({ lay: 'repeated', leadInPx: 0, leadOutPx: 0 })
  })

  it('are what the curator says instead; only single pictures can be', async () => {
    const { id, ledger } = await gatherFiles(person, { 'x/sand2.png': encodePng(waveTile(96)) })
    const ids = ledger.lines.map((line) => line.id)
    expect(ledger.lines[0]?.use).toBe('grain')
    await person.post(`/api/gathers/${id}/decide`, { of: { ids }, use: 'tip' })
    expect((await settledLedger(person, id)).lines[0]?.use).toBe('tip')
    expect(await person.post(`/api/gathers/${id}/take`)).toEqual({
      ...{ brushes: 1, sets: 1, grains: 0, strips: 0 },
      ...{ followed: 0, kept: 0, pockets: [] },
    })
    expect((await materials()).length).toBe(2)
  })

  it('that are there already are named, and not taken twice', async () => {
    const { id, ledger } = await gatherFiles(person, { 'again.png': encodePng(waveTile()) })
    expect(ledger.lines[0]).toMatchObject({ outcome: 'skip', duplicate: { of: 'library', how: 'exact', name: 'sand' } })
    await person.post(`/api/gathers/${id}/cancel`)
  })

  it('show which brushes use them, and paint on from the bin', async () => {
    const grain = await paintOnSand()
    const sand = (await materials()).find((each) => each.kind === 'grain')
    expect(sand?.uses).toBe(1)
    const { brushes } = await person.json<{ brushes: { name: string }[] }>(`/api/materials/${sand?.id}`)
    expect(brushes.map((brush) => brush.name)).toEqual(['blot'])
    await person.post(`/api/materials/${sand?.id}/bin`)
    await person.post('/api/brushes/empty-bin')
    expect((await materials()).map((each) => each.name)).toEqual(['rope'])
    const brush = await brushNamed('blot')
    expect(brush.grain?.pixelSha).toBe(grain.sha256)
    expect((await person.request(`/api/brushes/${brush.id}/stroke.png`)).status).toBe(200)
    await person.post(`/api/materials/${sand?.id}/bring-back`)
    await person.request(`/api/materials/${sand?.id}`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/json' },
      body: '{"name":"Wet sand"}',
    })
    expect((await materials()).map((each) => each.name)).toEqual(['rope', 'Wet sand'])
  })

  it('change the stroke: with grain, without it, in another version', async () => {
    const before = await brushNamed('blot')
    const stroke = async (query = '') =>
      Buffer.from(await (await person.request(`/api/brushes/${before.id}/stroke.png${query}`)).arrayBuffer())
    const plain = await stroke()
    await paintOnSand()
    expect((await stroke()).equals(plain)).toBe(false)
    expect((await stroke('?version=1')).equals(plain)).toBe(true)
    expect((await person.request(`/api/brushes/${before.id}/stroke.png?version=99`)).status).toBe(404)
  })

  it('travel with the pack to a colleague, nothing lost; the shell paints the same strokes from it', async () => {
    await paintOnSand()
    const bytes = await releaseAndDownload(server, person)

    const colleague = await server.owner()
    await takeInFiles(colleague, { 'shore.zip': bytes })
    for (const name of ['blot', 'rope']) {
      const [ours, theirs] = [await brushNamed(name), await brushNamed(name, colleague)]
      expect(theirs.recipe).toEqual(ours.recipe)
      expect(theirs.grain?.pixelSha).toBe(ours.grain?.pixelSha)
    }
    const names = (await colleague.json<{ materials: Material[] }>('/api/materials')).materials
    expect(names.map(({ kind, name, uses }) => [kind, name, uses])).toEqual([
      ['strip', 'rope', 1],
      ['grain', 'sand', 1],
    ])

    const folder = mkdtempSync(join(tmpdir(), 'stroke-'))
    writeFileSync(join(folder, 'shore.zip'), bytes)
    const shell = (out: string, ...more: string[]) =>
      execFileSync('./satchel', [
        'stroke',
        join(folder, 'shore.zip'),
        '--brush',
        'blot',
        '--out',
        join(folder, out),
        ...more,
      ])
    shell('a.png')
    shell('b.png')
    shell('c.png', '--seed', '4', '--ground', '#ffffff')
    const same = `import sys; from PIL import Image; a, b, c = (Image.open(sys.argv[1] + n) for n in ('/a.png', '/b.png', '/c.png')); print(a.size, a.tobytes() == b.tobytes(), a.tobytes() == c.tobytes())`
    expect(execFileSync('/usr/bin/python3', ['-c', same, folder], { encoding: 'utf8' }).trim()).toBe(
      '(1200, 800) True False',
    )
  }, 60_000)

  it('that a brush still names but nobody has hold a release back, with a sentence', async () => {
    const brush = await brushNamed('blot')
    await save(
      brush,
      (recipe) =>
        (recipe.ground.grain = {
          sha256: pixelName('f'),
          anchor: 'canvas',
          scalePct: 100,
          strength: 1,
          brightness: 0,
          contrast: 0,
          randomTurn: 'none',
        }),
    )
    expect((await brushNamed('blot')).grain).toBeNull()
    expect((await person.request(`/api/brushes/${brush.id}/stroke.png`)).status).toBe(200) // it paints without
    const { sets } = await person.json<{ sets: { id: string }[] }>('/api/sets')
    const pack = await person.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })
    await person.post(`/api/packs/${pack.id}/sets`, { setIds: sets.map((set) => set.id) }, 'PUT')
    const response = await person.request(`/api/packs/${pack.id}/releases`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '{"version":"1.0.0"}',
    })
    expect(await sentenceOf(response)).toBe(
      'The grain of "blot" is gone; choose another for it under Tune, then release.',
    )
  })
})

describe('a grain that was drawn or mended', () => {
  const add = (name: string, bytes: Uint8Array) =>
    person.request(`/api/materials?name=${name}`, { method: 'POST', body: new Uint8Array(bytes) })

  it('is kept with its own seam, and takes the place of another where that is used; each brush can go back', async () => {
    await paintOnSand()
    const before = await brushNamed('blot')
    const drawn = await add(
      'Dots',
      encodePng(drawGrain('dots', { width: 90, height: 90, pitchPx: 30, size: 0.5, angleDeg: 0 })),
    )
    expect(drawn.status).toBe(201)
    const { id: by } = (await drawn.json()) as { id: string }
    const dots = (await materials()).find((each) => each.id === by)
    expect(dots?.seamAcross).toBeLessThan(1.2)
    const old = (await materials()).find((each) => each.pixelSha === before.recipe.ground.grain?.sha256)
    expect(await person.post(`/api/materials/${old?.id}/replace`, { by })).toEqual({ changed: 1 })
    const after = await brushNamed('blot')
    expect(after.recipe.ground.grain).toEqual({ ...before.recipe.ground.grain, sha256: dots?.pixelSha })
    expect(after.version).toBe(before.version + 1)
    await person.post(`/api/brushes/${after.id}/version`, { ordinal: before.version })
    expect((await brushNamed('blot')).recipe).toEqual(before.recipe)
  })

  it('is refused where it is no picture', async () => {
    const refused = await add('Nothing', new Uint8Array([1, 2, 3]))
    expect(refused.status).toBe(422)
    expect(await sentenceOf(refused)).toContain('"Nothing" is no single picture')
  })
})

describe('copies and versions', () => {
  it('a copy has its own name, maker and history, remembers where it came from, and may take another tip', async () => {
    const rope = await brushNamed('rope')
    const blot = await brushNamed('blot')
    const { id } = await person.post<{ id: string }>(`/api/brushes/${blot.id}/copy`, {
      name: 'Blot, wet',
      maker: 'Maren',
      tipFrom: rope.id,
    })
    const copy = await person.json<Brush>(`/api/brushes/${id}`)
    expect(copy).toMatchObject({ name: 'Blot, wet', maker: 'Maren', version: 1, copiedFrom: { name: 'blot' } })
    expect(copy.pictures).toEqual(rope.pictures)
    expect(copy.recipe).toEqual(blot.recipe)
    const stranger = await server.owner()
    const response = await stranger.request(`/api/brushes/${blot.id}/copy`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '{"name":"Mine"}',
    })
    expect(response.status).toBe(404)
  })

  it('a version can be named and looked at, and gone back to', async () => {
    const first = await brushNamed('blot')
    await save(first, (recipe) => (recipe.path.spacingPct = 77))
    const second = await brushNamed('blot')
    await person.request(`/api/brushes/${first.id}/versions/1`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/json' },
      body: '{"label":"Before the storm"}',
    })
    const brush = await person.json<Brush>(`/api/brushes/${first.id}`)
    expect(brush.versions.map(({ ordinal, label }) => [ordinal, label])).toEqual([[2, ''], [1, 'Before the storm']]) // biome-ignore format: pairs
    expect((await person.json<{ recipe: Recipe }>(`/api/brushes/${first.id}/versions/1`)).recipe).toEqual(first.recipe)
    expect(second.recipe.path.spacingPct).toBe(77)
    await person.post(`/api/brushes/${first.id}/version`, { ordinal: 1 })
    expect((await brushNamed('blot')).recipe).toEqual(first.recipe)
  })
})
