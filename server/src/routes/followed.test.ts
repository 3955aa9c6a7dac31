import { createHash, randomUUID } from 'node:crypto'
import { defaultRecipe } from '@satchel/core/brush/recipe'
import { encodePng } from '@satchel/node/png'
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { gatherFiles, settledLedger } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blot, blotPng, onSheet, zipOf } from '../testing/tips.ts'

type Counts = { changed: number; fresh: number; found: number; renamed: number; gone: number; refused: number }
type Following = { wanted: string[]; reading: number; today: Counts }
type Folder = {
  id: string
  name: string
  files: number
  brushes: number
  days: (Counts & { day: string; actId: string | null; undoneAt: string | null })[]
  gone: { path: string; brush: string }[]
  refused: { path: string; reason: string }[]
  asked: { fileId: string; path: string; brush: string; picture: string | null }[]
}
type Brush = { id: string; name: string; version: number; tags: string[]; pictures: { pixelSha: string }[]; recipe: { path: { spacingPct: number } } } // biome-ignore format: a record

let server: TestServer
let person: Person
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
})
beforeEach(async () => {
  person = await server.owner()
})
afterAll(() => server.close())

const shaOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex')
type Files = Record<string, Uint8Array>
const asSeen = (files: Files) =>
  Object.entries(files).map(([path, bytes]) => ({ path, sha256: shaOf(bytes), sizeBytes: bytes.length }))
const sendFile = (id: string, path: string, bytes: Uint8Array, sha256 = shaOf(bytes)) =>
  person.request(`/api/followed/${id}/files?path=${encodeURIComponent(path)}&sha256=${sha256}`, { method: 'PUT', body: new Uint8Array(bytes) }) // biome-ignore format: one request

const follow = async (name = 'Sketchbook', place = shaOf(new TextEncoder().encode(name))) =>
  (await person.post<{ id: string }>('/api/followed', { name, by: 'program', zone: 'Europe/Oslo', place })).id
const look = (id: string, files: Files) => person.post<Following>(`/api/followed/${id}/look`, { files: asSeen(files) })

/** Tells how a folder is, sends what is wanted, and waits until that is read. */
async function tell(id: string, files: Files): Promise<Counts> {
  const { wanted } = await look(id, files)
  for (const path of wanted) expect((await sendFile(id, path, files[path] as Uint8Array)).status).toBe(201)
  return until(async () => {
    const { wanted, reading, today } = await person.json<Following>(`/api/followed/${id}`)
    return wanted.length === 0 && reading === 0 && today
  })
}
const folderOf = async (id: string): Promise<Folder> => {
  const { folders } = await person.json<{ folders: Folder[] }>('/api/followed')
  return folders.find((each) => each.id === id) as Folder
}
const ledger = async () => {
  const { id } = await person.json<{ id: string | null }>('/api/gathers/current')
  return id ? { id, ...(await settledLedger(person, id)) } : undefined
}
const takeAll = async () => {
  const open = await ledger()
  await person.post(`/api/gathers/${open?.id}/take`)
}
const brushes = async (): Promise<Map<string, Brush>> => {
  const { brushes } = await person.json<{ brushes: { id: string; name: string }[] }>('/api/brushes')
  const all = await Promise.all(brushes.map(({ id }) => person.json<Brush>(`/api/brushes/${id}`)))
  return new Map(all.map((brush) => [brush.name, brush]))
}
/** A folder of two files whose brushes are in the library, tuned and tagged. */
async function followed() {
  const id = await follow()
  const files: Files = { 'ash.png': blotPng(1), 'sky/oak.png': blotPng(2) }
  expect(await tell(id, files)).toMatchObject({ fresh: 2, changed: 0 })
  await takeAll()
  const ash = (await brushes()).get('ash') as Brush
  const recipe = { ...defaultRecipe(), path: { ...defaultRecipe().path, spacingPct: 37 } }
  await person.post(`/api/brushes/${ash.id}`, { name: 'Ash', maker: '', licence: '', tags: ['leafy'], recipe, from: 1 }, 'PUT') // biome-ignore format: one request
  return { id, files }
}

describe('a followed folder', () => {
  it('gives a changed file’s brush its pixels and keeps all else; a new one waits in the ledger, in its folder', async () => {
    const { id, files } = await followed()
    const before = (await brushes()).get('Ash') as Brush
    const counts = await tell(id, { ...files, 'ash.png': blotPng(11), 'sky/elm.png': blotPng(3) })
    expect(counts).toMatchObject({ changed: 1, fresh: 3, gone: 0 })
    const after = (await brushes()).get('Ash') as Brush
    expect(after.version).toBe(before.version + 1)
    expect(after.pictures).not.toEqual(before.pictures)
    expect([after.tags, after.recipe.path.spacingPct]).toEqual([['leafy'], 37])
    const open = await ledger()
    expect(open?.lines.map(({ name, folder, setName, outcome }) => [name, folder, setName, outcome])).toEqual([
      ['elm', 'Sketchbook/sky', 'sky', 'take'],
    ])
    // and again: what is as it was brings nothing
    expect(await tell(id, { ...files, 'ash.png': blotPng(11), 'sky/elm.png': blotPng(3) })).toEqual(counts)
    expect((await brushes()).get('Ash')?.version).toBe(after.version)
  })

  it('takes all of a day back as one step, and not what somebody has changed since', async () => {
    const { id, files } = await followed()
    const was = await brushes()
    await tell(id, { ...files, 'ash.png': blotPng(11) })
    await tell(id, { 'ash.png': blotPng(12), 'sky/oak.png': blotPng(13) })
    const [day] = (await folderOf(id)).days
    expect(day).toMatchObject({ changed: 3, undoneAt: null })
    expect(await person.post(`/api/acts/${day?.actId}/undo`)).toMatchObject({ stayed: 0 })
    const back = await brushes()
    for (const name of ['Ash', 'oak'])
      expect([back.get(name)?.version, back.get(name)?.pictures]).toEqual([
        was.get(name)?.version,
        was.get(name)?.pictures,
      ])
    expect((await folderOf(id)).days[0]?.undoneAt).not.toBeNull()
    // what comes after that is another step
    await tell(id, { 'ash.png': blotPng(14), 'sky/oak.png': blotPng(13) })
    const ash = (await brushes()).get('Ash') as Brush
    await person.post(`/api/brushes/${ash.id}`, { name: 'Ash', maker: 'Ida', licence: '', tags: [], recipe: ash.recipe, from: ash.version }, 'PUT') // biome-ignore format: one request
    const [next] = (await folderOf(id)).days
    expect(next?.actId).not.toBe(day?.actId)
    expect(await person.post(`/api/acts/${next?.actId}/undo`)).toMatchObject({ stayed: 1 })
    expect((await brushes()).get('Ash')?.version).toBe(ash.version + 1)
  })

  it('knows files by what they hold, where names change', async () => {
    const { id } = await followed()
    const counts = await tell(id, { 'clouds/high.png': blotPng(1), 'oak.png': blotPng(2) })
    expect(counts).toMatchObject({ renamed: 2, gone: 0, changed: 0, fresh: 2 })
    expect(await tell(id, { 'clouds/high.png': blotPng(21), 'oak.png': blotPng(2) })).toMatchObject({ changed: 1 })
    expect((await brushes()).get('Ash')?.version).toBe(3)
  })

  it('is sure of a file that moved and was painted on, and asks where it cannot be', async () => {
    const { id, files } = await followed()
    const small = encodePng(onSheet(blot(1), 9))
    // more paper around it, in another folder under its name
    expect(await tell(id, { 'new/ash.png': small, 'sky/oak.png': files['sky/oak.png'] as Uint8Array })).toMatchObject({
      changed: 1,
      renamed: 1,
      fresh: 2,
    })
    const { data, ...size } = blot(2)
    // its mirror image: a painter sees that
    const turned = data.map((_, i) => data[i - (i % 48) + 47 - (i % 48)] ?? 0)
    const other = { 'new/ash.png': small, 'birch.png': encodePng({ ...size, data: turned }) }
    expect(await tell(id, other)).toMatchObject({ gone: 1, fresh: 3 })
    const [asked] = (await folderOf(id)).asked
    expect(asked).toMatchObject({ path: 'birch.png', brush: 'oak' })
    expect(asked?.picture).toMatch(/^[0-9a-f]{64}$/)
    const answer = { fileId: asked?.fileId, isSame: true }
    expect(await person.post(`/api/followed/${id}/answer`, answer)).toEqual({ changed: 1 })
    expect((await brushes()).get('oak')?.version).toBe(2)
    expect((await ledger())?.lines).toEqual([])
    expect((await folderOf(id)).asked).toEqual([])
    expect((await person.request(`/api/followed/${id}/answer`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(answer) })).status).toBe(409) // biome-ignore format: one request
    expect(await tell(id, { ...other, 'birch.png': blotPng(31) })).toMatchObject({
      changed: 3,
      gone: 0,
      fresh: 2,
      renamed: 2,
    })
    expect((await brushes()).get('oak')?.version).toBe(3)
  })

  it('tells what is gone, and forgets nothing of it', async () => {
    const { id, files } = await followed()
    expect(await tell(id, { 'ash.png': files['ash.png'] as Uint8Array })).toMatchObject({ gone: 1 })
    expect((await folderOf(id)).gone).toMatchObject([{ path: 'sky/oak.png', brush: 'oak' }])
    expect(await tell(id, { ...files, 'sky/oak.png': blotPng(22) })).toMatchObject({ changed: 1, gone: 0 })
    expect([(await folderOf(id)).gone, (await brushes()).get('oak')?.version]).toEqual([[], 2])
  })

  it('finds brushes that the library has already', async () => {
    const { id: first } = await gatherFiles(person, { 'ash.png': blotPng(1), 'fir.png': blotPng(7) })
    await person.post(`/api/gathers/${first}/take`)
    const id = await follow()
    expect(await tell(id, { 'ash.png': blotPng(1), 'b.png': blotPng(7), 'new.png': blotPng(3) })).toMatchObject({ found: 2, fresh: 1 }) // biome-ignore format: one line
    expect(await tell(id, { 'ash.png': blotPng(1), 'b.png': blotPng(8), 'new.png': blotPng(3) })).toMatchObject({ changed: 1 }) // biome-ignore format: one line
    expect((await brushes()).get('fir')?.version).toBe(2)
  })

  it('keeps a brush whose file cannot be read, and says why', async () => {
    const { id, files } = await followed()
    const broken = blotPng(9).slice(0, 200)
    expect(await tell(id, { ...files, 'ash.png': broken, 'notes.txt': new TextEncoder().encode('x') })).toMatchObject({
      refused: 1,
      changed: 0,
      fresh: 2,
    })
    const { refused } = await folderOf(id)
    expect(refused.map(({ path }) => path)).toEqual(['ash.png'])
    expect(refused[0]?.reason).not.toBe('')
    expect((await brushes()).get('Ash')?.version).toBe(2)
    await tell(id, { ...files, 'ash.png': blotPng(11) })
    expect((await folderOf(id)).refused).toEqual([])
  })

  it('follows each brush of an archive, and puts what changed while it waited in the place of what it was', async () => {
    const id = await follow()
    const before = { 'all.zip': zipOf({ 'a.png': blotPng(1), 'in/b.png': blotPng(2) }) }
    await tell(id, before)
    const open = await ledger()
    const line = open?.lines.find(({ name }) => name === 'b')
    await person.post(`/api/gathers/${open?.id}/decide`, { of: { ids: [line?.id] }, setName: 'Chosen', name: 'Bee' })
    const replaced = await tell(id, { 'all.zip': zipOf({ 'a.png': blotPng(1), 'in/b.png': blotPng(4) }) })
    expect(replaced).toMatchObject({ fresh: 2 })
    const lines = (await ledger())?.lines ?? []
    expect(lines.map(({ name, setName }) => [name, setName]).sort()).toEqual([
      ['Bee', 'Chosen'],
      ['a', 'all'],
    ])
    await takeAll()
    await tell(id, { 'all.zip': zipOf({ 'a.png': blotPng(5), 'in/b.png': blotPng(4), 'in/c.png': blotPng(6) }) })
    const now = await brushes()
    expect([now.get('a')?.version, now.get('Bee')?.version, now.get('c')]).toEqual([2, 1, undefined])
    expect((await ledger())?.lines.map(({ name }) => name)).toEqual(['c'])
  })

  it('does not ask again for what was passed over, or dropped', async () => {
    const id = await follow()
    const files = { 'a.png': blotPng(1), 'b.png': blotPng(2) }
    await tell(id, files)
    await person.post(`/api/gathers/${(await ledger())?.id}/cancel`)
    expect((await look(id, files)).wanted).toEqual([])
    expect((await look(id, { ...files, 'b.png': blotPng(3) })).wanted).toEqual(['b.png'])
  })

  it('leaves brushes alone that lie in the bin, and new ones of a ledger that is taken back', async () => {
    const { id, files } = await followed()
    const ash = (await brushes()).get('Ash') as Brush
    await person.post('/api/brushes/bin', { ids: [ash.id] })
    expect(await tell(id, { ...files, 'ash.png': blotPng(11) })).toMatchObject({ changed: 0, fresh: 2 })
    await person.post('/api/brushes/bring-back', { ids: [ash.id] })
    expect(await tell(id, { ...files, 'ash.png': blotPng(12) })).toMatchObject({ changed: 1 })
  })

  it('refuses bytes that are not what was said, or not wanted', async () => {
    const id = await follow()
    const files = { 'a.png': blotPng(1) }
    await look(id, files)
    expect((await sendFile(id, 'a.png', blotPng(2), shaOf(blotPng(1)))).status).toBe(409)
    expect((await sendFile(id, 'b.png', blotPng(1))).status).toBe(409)
    expect((await sendFile(randomUUID(), 'a.png', blotPng(1))).status).toBe(409)
    expect((await person.request(`/api/followed/${randomUUID()}`)).status).toBe(404)
    expect((await look(id, files)).wanted).toEqual(['a.png'])
    const bad = [{ path: '../a.png', sha256: shaOf(blotPng(1)), sizeBytes: 1 }, { path: 'a', sha256: 'A'.repeat(64), sizeBytes: 1 }, { path: '/a', sha256: null, sizeBytes: -1 }] // biome-ignore format: a list
    for (const file of bad)
      expect((await person.request(`/api/followed/${id}/look`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ files: [file] }) })).status).toBe(422) // biome-ignore format: one request
  })

  it('is the same one when it is followed again, and its brushes stay when it ends', async () => {
    const { id, files } = await followed()
    expect(await follow()).toBe(id)
    // one of the same name that lies elsewhere is another one
    const other = await follow('Sketchbook', 'f'.repeat(64))
    expect(other).not.toBe(id)
    expect((await look(other, {})).today.gone).toBe(0)
    expect((await person.request(`/api/followed/${other}`, { method: 'DELETE' })).status).toBe(200)
    await look(id, { ...files, 'c.png': blotPng(3) })
    await sendFile(id, 'c.png', blotPng(3))
    expect((await person.request(`/api/followed/${id}`, { method: 'DELETE' })).status).toBe(200)
    expect((await person.json<{ folders: Folder[] }>('/api/followed')).folders).toEqual([])
    expect((await brushes()).size).toBe(2)
    expect((await person.request(`/api/followed/${id}/look`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{"files":[]}' })).status).toBe(404) // biome-ignore format: one request
  })
})
