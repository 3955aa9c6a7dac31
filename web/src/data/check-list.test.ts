// @vitest-environment jsdom
import { afterEach, expect, it, vi } from 'vitest'
import { mendAll } from './check-list.ts'

afterEach(() => vi.unstubAllGlobals())

it('says what was mended before it broke off, so that it can be undone', async () => {
  const ids = Array.from({ length: 25 }, (_, i) => `brush ${i}`)
  let asked = 0
  vi.stubGlobal('fetch', async (_address: unknown, { body }: { body: string }) => {
    if (++asked === 2) throw new TypeError('the network is gone')
    const mended = (JSON.parse(body) as { brushIds: string[] }).brushIds.map((id) => ({ id, from: 1, to: 2 }))
    return new Response(JSON.stringify({ mended, refused: [] }), { headers: { 'content-type': 'application/json' } })
  })
  const told: number[] = []
  const wish = { mend: 'takeMaker' as const, brushIds: ids }
  const { mended, failed } = await mendAll('pack', wish, {
    tell: (done) => void told.push(done),
    signal: new AbortController().signal,
  })
  expect(mended).toHaveLength(10)
  expect(failed).toBeInstanceOf(Error)
  expect([asked, told]).toEqual([2, [10]])
})
