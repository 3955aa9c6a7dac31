import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { forgetOldParcels, insertParcel } from '../db/parcels.ts'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Parcel = { id: string; fileName: string | null; mediaType: string | null; lost: string | null }
let server: TestServer
let person: Person
let setId = ''
let brushId = ''
let packId = ''
const folder = mkdtempSync(join(tmpdir(), 'parcels-'))

beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  await takeInFiles(person, { 'Reeds/one.png': blotPng(1, 120), 'Reeds/two.png': blotPng(2, 90) })
  const { sets } = await person.json<{ sets: { id: string; name: string }[] }>('/api/sets')
  setId = sets.find(({ name }) => name === 'Reeds')?.id ?? ''
  const { brushes } = await person.json<{ brushes: { id: string }[] }>(`/api/brushes?setId=${setId}&sort=set`)
  brushId = brushes[0]?.id ?? ''
  packId = (await person.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })).id
  await person.post(`/api/packs/${packId}/sets`, { setIds: [setId] }, 'PUT')
})
afterAll(() => server.close())

const find = async (id: string) =>
  (await person.json<{ parcels: Parcel[] }>('/api/parcels')).parcels.find((parcel) => parcel.id === id)

/** Has a file made. @returns Its name, its kind, and where it lies. */
async function fetchFile(wanted: object): Promise<{ name: string; type: string; path: string; id: string }> {
  const { id } = await person.post<{ id: string }>('/api/parcels', { wanted })
  await until(async () => {
    const parcel = await find(id)
    if (parcel?.lost) throw new Error(parcel.lost)
    return parcel?.fileName !== null
  }, 60_000)
  const response = await person.request(`/api/parcels/${id}/file`)
  const path = join(folder, id)
  writeFileSync(path, new Uint8Array(await response.arrayBuffer()))
  const name = /filename="?([^";]+)"?/.exec(response.headers.get('content-disposition') ?? '')?.[1] ?? ''
  return { id, name, type: response.headers.get('content-type') ?? '', path }
}
const listed = (path: string) => execFileSync('unzip', ['-Z1', path], { encoding: 'utf8' }).trim().split('\n')

describe('what can be had as a file', () => {
  it('says before it is made what it will hold, so that one brush is not taken for all', async () => {
    const look = (wanted: object) => person.post<object>('/api/parcels/look', { wanted })
    expect(await look({ kind: 'brush', brushId })).toMatchObject({ title: 'The brush "one"', brushes: 1, files: 2 })
    expect(await look({ kind: 'set', setId })).toMatchObject({ title: 'The set "Reeds"', brushes: 2, files: 4 })
    expect(await look({ kind: 'packSheet', packId, paper: 'a4' })).toMatchObject({
      title: 'The sheet of "Shore"',
      aboutBytes: null,
    })
    expect((await person.json<{ parcels: Parcel[] }>('/api/parcels')).parcels).toEqual([])
  })

  it('is one brush, with its open files and its pack, and no other', async () => {
    const { name, type, path } = await fetchFile({ kind: 'brush', brushId })
    expect([name, type]).toEqual(['one.zip', 'application/zip'])
    expect(listed(path)).toEqual(
      expect.arrayContaining(['one.png', 'one.gbr', 'one.satchel.zip', 'README.txt', 'SHA256SUMS', 'SHEET.pdf']),
    )
    expect(listed(path).filter((file) => file.includes('two'))).toEqual([])
  })

  it('is one set, which another library takes in', async () => {
    const { path } = await fetchFile({ kind: 'set', setId })
    expect(listed(path)).toEqual(expect.arrayContaining(['Reeds/one.png', 'Reeds/two.gbr']))
    expect(execFileSync(join(process.cwd(), 'satchel'), ['check', path], { encoding: 'utf8' })).toContain('all sound')
  })

  it.each([
    ['a4', 'A4'],
    ['letter', 'Letter'],
  ])('is a sheet of a pack on %s', async (paper, called) => {
    const { name, type, path } = await fetchFile({ kind: 'packSheet', packId, paper })
    expect([name, type]).toEqual([`Shore ${called}.pdf`, 'application/pdf'])
    expect(execFileSync('pdftotext', [path, '-'], { encoding: 'utf8' })).toMatch(
      /Shore[\s\S]*Reeds[\s\S]*one[\s\S]*two/,
    )
  })

  it('is a set on paper, or as a picture', async () => {
    const pdf = await fetchFile({ kind: 'setSheet', setId, paper: 'a4' })
    expect(execFileSync('pdfinfo', [pdf.path], { encoding: 'utf8' })).toMatch(/Title: +Reeds/)
    const png = await fetchFile({ kind: 'setPicture', setId })
    expect([png.name, png.type]).toEqual(['Reeds.png', 'image/png'])
    expect(execFileSync('file', ['-b', png.path], { encoding: 'utf8' })).toMatch(/^PNG image data, 1600 x/)
  })

  it('goes on where a download stopped', async () => {
    const { id, path } = await fetchFile({ kind: 'brush', brushId })
    const whole = execFileSync('cat', [path])
    const rest = await person.request(`/api/parcels/${id}/file`, { headers: { range: 'bytes=100-' } })
    expect(rest.status).toBe(206)
    expect(Buffer.from(await rest.arrayBuffer()).equals(whole.subarray(100))).toBe(true)
  })
})

describe('what cannot be had', () => {
  it('is nobody else’s, nor what is gone, nor an empty set', async () => {
    const other = await server.owner()
    const { id } = await fetchFile({ kind: 'brush', brushId })
    for (const path of [`/api/parcels/${id}/file`]) expect((await other.request(path)).status).toBe(404)
    const asks = async (who: Person, wanted: object) => {
      const response = await who.request('/api/parcels/look', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ wanted }),
      })
      return [response.status, ((await response.json()) as { title: string }).title]
    }
    for (const wanted of [
      { kind: 'brush', brushId },
      { kind: 'set', setId },
      { kind: 'packSheet', packId, paper: 'a4' },
    ])
      expect((await asks(other, wanted))[0]).toBe(404)
    const { id: empty } = await person.post<{ id: string }>('/api/sets', { name: 'Empty' })
    expect(await asks(person, { kind: 'set', setId: empty })).toEqual([
      422,
      'This set holds no brush yet; choose a brush, or a set that has some.',
    ])
    expect((await asks(person, { kind: 'everything' }))[0]).toBe(422)
  })

  it('is what was forgotten, with its file', async () => {
    const { id } = await fetchFile({ kind: 'brush', brushId })
    expect((await person.request(`/api/parcels/${id}`, { method: 'DELETE' })).status).toBe(200)
    for (const method of ['DELETE', 'GET'])
      expect((await person.request(`/api/parcels/${id}${method === 'GET' ? '/file' : ''}`, { method })).status).toBe(
        404,
      )
  })

  it('keeps no more than twenty, and none for longer than two days', async () => {
    const { deps } = server.parts
    const { id } = await fetchFile({ kind: 'brush', brushId })
    const { workspaceId } = person
    for (let n = 0; n < 19; n++)
      await insertParcel(deps.db, { workspaceId, wanted: { kind: 'brush', brushId }, title: `Parcel ${n}` })
    const last = await fetchFile({ kind: 'brush', brushId })
    const { parcels } = await person.json<{ parcels: Parcel[] }>('/api/parcels')
    expect(parcels).toHaveLength(20)
    expect(parcels.some((parcel) => parcel.id === id)).toBe(false)
    // those that nobody fetched go with their files
    const zips = () =>
      deps.db.execute(sql`select from blob where media_type in ('application/zip', 'application/pdf', 'image/png')
      and workspace_id = ${workspaceId} and not exists (select from tip_frame f where f.blob_sha = blob.sha256)`)
    expect((await zips()).rows.length).toBeGreaterThan(0)
    await deps.db.execute(sql`update parcel set created_at = now() - interval '49 hours' where id <> ${last.id}`)
    await forgetOldParcels(deps.db, workspaceId, new Date(Date.now() - 48 * 3_600_000))
    expect((await person.json<{ parcels: Parcel[] }>('/api/parcels')).parcels.map((parcel) => parcel.id)).toEqual([
      last.id,
    ])
    await person.request(`/api/parcels/${last.id}`, { method: 'DELETE' })
    expect((await zips()).rows).toEqual([])
  })
})
