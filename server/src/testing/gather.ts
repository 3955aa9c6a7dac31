import { type Person, until } from './test-server.ts'

export type Line = {
  id: string
  folder: string
  path: string
  name: string
  kind: string
  kindWord: string
  outcome: string
  reason: string
  width: number | null
  frames: number
  setName: string
  shrunk: boolean
  picture: string | null
  use: string
  duplicate: { of: string; how: string; name: string; same?: boolean; differs?: { kind: string }[] } | null
}
export type Summary = {
  state: string
  reading: object | null
  files: { total: number; read: number }
  arriving: { id: string; path: string; sizeBytes: number; receivedBytes: number }[]
  folders: { folder: string; lines: number; taken: number; pictures: number }[]
  tally: {
    take: number
    skip: number
    refuse: number
    grains: number
    loose: number
    same: number
    copies: number
    heavy: number
  }
}
export type Ledger = Summary & { lines: Line[] }

const PAGE_LINES = 200

/** A ledger with all its lines, page by page. */
export async function loadLedger(person: Person, id: string): Promise<Ledger> {
  const summary = await person.json<Summary>(`/api/gathers/${id}`)
  const lines: Line[] = []
  for (let from = 0; ; from += PAGE_LINES) {
    const page = await person.json<{ lines: Line[] }>(`/api/gathers/${id}/lines?from=${from}&limit=${PAGE_LINES}`)
    lines.push(...page.lines)
    if (page.lines.length < PAGE_LINES) return { ...summary, lines }
  }
}

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
    const { reading, files } = await person.json<Summary>(`/api/gathers/${id}`)
    return !reading && files.read === files.total && loadLedger(person, id)
  })

/** Gathers files and takes all of them in. */
export async function takeInFiles(person: Person, files: Record<string, Uint8Array>): Promise<void> {
  const { id } = await gatherFiles(person, files)
  await person.post(`/api/gathers/${id}/take`)
}
