import { type Person, type TestServer, until } from './test-server.ts'

/** Releases all of a person's sets as a pack and hands it out. @returns The download that the link gives. */
export async function releaseAndDownload(server: TestServer, person: Person): Promise<Uint8Array> {
  const { sets } = await person.json<{ sets: { id: string }[] }>('/api/sets')
  const pack = await person.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })
  await person.post(`/api/packs/${pack.id}/sets`, { setIds: sets.map((set) => set.id) }, 'PUT')
  const release = await person.post<{ id: string }>(`/api/packs/${pack.id}/releases`, { version: '1.0.0', notes: '' })
  await until(async () => {
    const { releases } = await person.json<{ releases: { state: string }[] }>(`/api/packs/${pack.id}`)
    return releases[0]?.state === 'ready'
  })
  const { link } = await person.post<{ link: string }>(`/api/packs/${pack.id}/hand-outs`, {
    releaseId: release.id,
    name: 'Ida',
  })
  const download = await fetch(`${server.url}/api/h/${link.split('/').at(-1)}/download`)
  return new Uint8Array(await download.arrayBuffer())
}
