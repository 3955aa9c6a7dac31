import type { Recipe } from '@satchel/core/brush/recipe'
import type { Mend, RuleName } from '@satchel/core/check-list/rules'
import { writeGih } from '@satchel/core/formats/gih/write'
import { createPixels, type Pixels } from '@satchel/core/raster/pixels'
import { encodePng } from '@satchel/node/png'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, sentenceOf, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blot, blotPng } from '../testing/tips.ts'

type Finding = {
  key: string
  rule: RuleName
  weight: string
  brush: string | null
  brushId?: string
  sentence: string
  reason: string | null
}
type Check = { measured: number; brushes: number; isAlikeKnown: boolean; unknownFits: number; findings: Finding[] }
type Mended = { mended: object[]; refused: { id: string; why: string }[] }

let server: TestServer
let person: Person
let packId = ''
const ids = new Map<string, string>()
const idOf = (name: string) => ids.get(name) ?? ''

const send = (path: string, body: object, method = 'POST') =>
  person.request(path, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
const check = () => person.json<Check>(`/api/packs/${packId}/check`)
const said = async (rule: RuleName) => (await check()).findings.filter((finding) => finding.rule === rule)
const namesOf = async (rule: RuleName) => (await said(rule)).map(({ brush }) => brush)
async function measure(): Promise<void> {
  await person.post(`/api/packs/${packId}/check`)
  await until(async () => {
    const { measured, brushes, isAlikeKnown, unknownFits } = await check()
    return measured === brushes && isAlikeKnown && unknownFits === 0
  })
}
async function change(name: string, to: { licence?: string; maker?: string; recipe?: (recipe: Recipe) => Recipe }) {
  type Brush = { name: string; maker: string; licence: string; tags: string[]; recipe: Recipe; version: number }
  const { recipe, version, ...facts } = await person.json<Brush>(`/api/brushes/${idOf(name)}`)
  const { maker, licence, tags } = { ...facts, ...to }
  const json = { name: facts.name, maker, licence, tags, recipe: to.recipe?.(recipe) ?? recipe, from: version }
  expect((await send(`/api/brushes/${idOf(name)}`, json, 'PUT')).status).toBe(200)
}
const mend = (kind: Mend, names: string[]) =>
  send(`/api/packs/${packId}/check/mend`, { mend: kind, brushIds: names.map(idOf) }).then(
    (response) => response.json() as Promise<Mended>,
  )
const undo = ({ mended }: Mended) => person.post<{ undone: number }>(`/api/packs/${packId}/check/undo`, { mended })

/** A tip in colours with a soft grey shadow under it. */
function shaded(): Pixels {
  const picture = createPixels(64, 64, 4)
  for (let y = 8; y < 56; y++)
    for (let x = 8; x < 56; x++) picture.data.set(y < 34 ? [190, 40, 50, 255] : [96, 96, 96, 110], (y * 64 + x) * 4)
  return picture
}
const framed = (frames: Pixels[]) =>
  writeGih({
    ...{ name: 'Tuft', spacingPct: 90, dimensions: [{ rank: frames.length, rule: 'random' }], extra: [] },
    frames: frames.map((pixels, i) => ({ version: 2 as const, name: `f${i}`, spacingPct: 90, ...pixels })),
  })
/** Sand that is lit from the right: no tile. */
function litSand(): Pixels {
  const side = 96
  const picture = createPixels(side, side, 1)
  const noise = (x: number, y: number) => Math.abs(Math.sin(x * 12.9898 + y * 78.233) * 43758.5453) % 1
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const near = [0, 1, 2].flatMap((dx) => [0, 1, 2].map((dy) => noise(x + dx, y + dy)))
      picture.data[y * side + x] = 40 + (x / side) * 90 + (near.reduce((sum, value) => sum + value, 0) / 9) * 110
    }
  return picture
}

beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  await takeInFiles(person, {
    'Reeds/one.png': blotPng(1),
    'Reeds/huge.png': blotPng(2, 2100),
    'Reeds/shade.png': encodePng(shaded()),
    'Reeds/tuft.gih': framed([blot(31), createPixels(48, 48, 1), blot(33), blot(35)]),
    'Apart/Gull quill.png': blotPng(5),
  })
  const { brushes } = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes')
  for (const { id, name } of brushes) ids.set(name, id)
  const { sets } = await person.json<{ sets: { id: string; name: string }[] }>('/api/sets')
  packId = (await person.post<{ id: string }>('/api/packs', { title: 'Shore', maker: 'Ida', licence: 'CC-BY-4.0' })).id
  await person.post(`/api/packs/${packId}/sets`, { setIds: [sets.find(({ name }) => name === 'Reeds')?.id] }, 'PUT')
  await send(`/api/packs/${packId}`, { help: 'Begin with Gull quill.', destinationIds: ['dunlin'] }, 'PATCH')
  const made = await person.request('/api/materials?name=sand', {
    method: 'POST',
    body: new Uint8Array(encodePng(litSand())),
  })
  const { id: grainId } = (await made.json()) as { id: string }
  const { pixelSha } = await person.json<{ pixelSha: string }>(`/api/materials/${grainId}`)
  await change('one', {
    recipe: (recipe) => {
      const usual = { anchor: 'canvas', scalePct: 100, strength: 1, brightness: 0, contrast: 0, randomTurn: 'none' }
      return { ...recipe, ground: { grain: { sha256: pixelSha, ...usual } } } as unknown as Recipe
    },
  })
})
afterAll(() => server.close())

describe('a check list', () => {
  it('tells at once what it knows without a look at pixels, and how much it has not looked at', async () => {
    const { measured, brushes, findings, isAlikeKnown, unknownFits } = await check()
    expect({ measured, brushes, isAlikeKnown, unknownFits }).toEqual({
      measured: 0,
      brushes: 4,
      isAlikeKnown: false,
      unknownFits: 4,
    })
    expect(findings.map(({ rule }) => rule)).toEqual(
      expect.arrayContaining(['helpNames', 'noCover', 'licenceMissing', 'seam']),
    )
    expect(findings.every(({ rule }) => rule !== 'heavy')).toBe(true)
  })

  it('measures the rest in a job, once: what is known stays known', async () => {
    await measure()
    expect(await namesOf('heavy')).toEqual(['huge'])
    expect(await namesOf('framesBlank')).toEqual(['Tuft'])
    expect(await namesOf('greyShadow')).toEqual(['shade'])
    expect(await namesOf('seam')).toEqual(['one'])
    expect((await said('helpNames')).map(({ sentence }) => sentence)).toEqual([
      'The help text names the brush "Gull quill", which is not in the pack.',
    ])
    const key = async () => (await check()).findings.map((finding) => finding.key)
    const keys = await key()
    await measure()
    expect(await key()).toEqual(keys)
  })

  it('looks again at a brush that was changed, and at no other', async () => {
    await change('shade', { recipe: (recipe) => ({ ...recipe, colour: { ...recipe.colour, opacity: 0.01 } }) })
    expect((await check()).measured).toBe(3)
    await measure()
    expect(await said('nothingShows')).toMatchObject([{ brush: 'shade', weight: 'stops' }])
  })
})

describe('what stops a release', () => {
  it('is mended, or let pass with a reason that is frozen into it', async () => {
    const release = (version: string) => send(`/api/packs/${packId}/releases`, { version, notes: '' })
    const stopped = await release('1.0.0')
    expect([stopped.status, await sentenceOf(stopped)]).toEqual([
      422,
      expect.stringContaining('The check list stops this release. shade: Its stroke is hardly seen'),
    ])
    const [finding] = await said('nothingShows')
    const pass = (reason: string | null) =>
      send(`/api/packs/${packId}/check/pass`, { findings: [finding?.key], reason }, 'PUT')
    expect((await pass(' ')).status).toBe(422)
    expect((await pass('It is for glazes, laid many times.')).status).toBe(200)
    expect((await said('nothingShows'))[0]?.reason).toBe('It is for glazes, laid many times.')
    expect((await pass(null)).status).toBe(200)
    expect((await release('1.0.0')).status).toBe(422)
    await pass('It is for glazes, laid many times.')
    expect((await release('1.0.0')).status).toBe(201)
    await pass(null)
    type Pack = { releases: { letPass: { sentence: string; reason: string }[] }[] }
    const { releases } = await person.json<Pack>(`/api/packs/${packId}`)
    expect(releases[0]?.letPass).toMatchObject([
      { sentence: expect.stringContaining('shade: Its stroke'), reason: 'It is for glazes, laid many times.' },
    ])
  })

  it('is said of a licence that forbids it, and of a pack without one', async () => {
    await change('one', { licence: 'CC-BY-NC-4.0' })
    expect(await said('licenceForbids')).toMatchObject([{ brush: 'one', weight: 'stops' }])
    await send(`/api/packs/${packId}`, { licence: '' }, 'PATCH')
    expect((await check()).findings[0]).toMatchObject({ rule: 'nothingShows' })
    expect(await said('noLicence')).toHaveLength(1)
    await send(`/api/packs/${packId}`, { licence: 'CC-BY-NC-4.0' }, 'PATCH')
    expect(await said('licenceForbids')).toEqual([])
  })
})

describe('a mend', () => {
  const MENDED: [Mend, RuleName, string][] = [
    ['smaller', 'heavy', 'huge'],
    ['dropFrames', 'framesBlank', 'Tuft'],
    ['blacken', 'greyShadow', 'shade'],
    ['closeSeam', 'seam', 'one'],
    ['takeMaker', 'noMaker', 'huge'],
    ['takeLicence', 'licenceMissing', 'huge'],
  ]
  it.each(MENDED)('%s takes its finding away, and can be undone', async (kind, rule, name) => {
    if (kind === 'takeMaker') await change('huge', { maker: '', licence: '' })
    await measure()
    expect(await namesOf(rule)).toContain(name)
    const done = await mend(kind, [name])
    expect(done.refused).toEqual([])
    await measure()
    expect(await namesOf(rule)).not.toContain(name)
    expect(await undo(done)).toEqual({ undone: 1 })
    await measure()
    expect(await namesOf(rule)).toContain(name)
  })

  it('numbers a name that is there twice, and notes that one has looked', async () => {
    const { id } = await person.post<{ id: string }>(`/api/brushes/${idOf('one')}/copy`, { name: 'ONE', maker: '' })
    ids.set('ONE', id)
    await person.post(`/api/packs/${packId}/single`, { brushIds: [id] }, 'PUT')
    // the set comes after it
    expect(await said('sameName')).toMatchObject([{ brush: 'one' }])
    expect((await mend('numberName', ['one'])).refused).toEqual([])
    expect(await said('sameName')).toEqual([])
    expect(await namesOf('changed')).toContain('one 2')
    const looked = await mend('lookedAt', ['one'])
    expect(await namesOf('changed')).not.toContain('one 2')
    await undo(looked)
    expect(await namesOf('changed')).toContain('one 2')
  })

  it('that cannot be done so says why, and does the others; what was changed since is not undone', async () => {
    const gone = '00000000-0000-4000-8000-000000000009'
    const response = await send(`/api/packs/${packId}/check/mend`, { mend: 'closeSeam', brushIds: [gone, idOf('one')] })
    const done = (await response.json()) as Mended
    expect(done.refused).toEqual([{ id: gone, why: 'It is not there any more.' }])
    expect(done.mended).toHaveLength(1)
    await change('one', { maker: 'Somebody' })
    expect(await undo(done)).toEqual({ undone: 0 })
    const strip = (await mend('closeSeam', ['huge'])).refused
    expect(strip[0]?.why).toContain('joined by hand')
  })

  it('of another workspace is none', async () => {
    const other = await server.owner()
    expect((await other.request(`/api/packs/${packId}/check`)).status).toBe(404)
    const theirs = await other.post<{ id: string }>('/api/packs', { title: 'Theirs', licence: 'CC0-1.0' })
    const response = await other.request(`/api/packs/${theirs.id}/check/mend`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ mend: 'takeMaker', brushIds: [idOf('one')] }),
    })
    expect(((await response.json()) as Mended).refused).toHaveLength(1)
  })
})
