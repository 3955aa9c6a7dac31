import { until } from '../testing/test-server.ts'
import { blotPng, zipOf } from '../testing/tips.ts'
import type { WholeServer } from '../testing/whole-server.ts'

const PATIENCE_MS = 240_000

/** Takes so many different tips into the library, all of one set. */
export async function takeTips(server: WholeServer, count: number): Promise<void> {
  const { id } = await server.post<{ id: string }>('/api/gathers')
  const tips = Object.fromEntries(Array.from({ length: count }, (_, n) => [`Shore/t${n}.png`, blotPng(n, 40)]))
  await server.request(`/api/gathers/${id}/files?path=tips.zip`, { method: 'PUT', body: new Uint8Array(zipOf(tips)) })
  await until(async () => {
    const { reading, files } = await server.json<{ reading: unknown; files: { read: number; total: number } }>(
      `/api/gathers/${id}`,
    )
    return !reading && files.read === files.total && files.total > 0
  }, PATIENCE_MS)
  await server.post(`/api/gathers/${id}/take`)
}
