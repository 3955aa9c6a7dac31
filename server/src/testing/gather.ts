import { type Person, until } from './test-server.ts'

export type Line = {
  id: string
  folder: string
  path: string
  name: string
  kind: string
  outcome: string
  reason: string
  width: number | null
  frames: number
  setName: string
  shrunk: boolean
  use: string
  duplicate: { of: string; how: string; name: string } | null
}
export type Ledger = { state: string; reading: object | null; files: { total: number; read: number }; lines: Line[] }

/** Uploads files at once and waits until all of them are read. */
export async function gatherFiles(
  person: Person,
  files: Record<string, Uint8Array>,
): Promise<{ id: string; ledger: Ledger }> {
  const { id } = await person.post<{ id: string }>('/api/gathers')
  await Promise.all(Object.entries(files).map(([path, bytes]) => person.upload(id, path, bytes)))
  return { id, ledger: await settledLedger(person, id) }
}

export const settledLedger = (person: Person, id: string): Promise<Ledger> =>
  until(async () => {
    const ledger = await person.json<Ledger>(`/api/gathers/${id}`)
    return !ledger.reading && ledger.files.read === ledger.files.total && ledger
  })

/** Gathers files and takes all of them in. */
export async function takeInFiles(person: Person, files: Record<string, Uint8Array>): Promise<void> {
  const { id } = await gatherFiles(person, files)
  await person.post(`/api/gathers/${id}/take`)
}
