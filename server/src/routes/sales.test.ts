import { execFileSync } from 'node:child_process'
import { createHmac, randomUUID } from 'node:crypto'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { serve } from '@hono/node-server'
import { wholePlan } from '@satchel/core/editions/plan'
import type { SaleEvent } from '@satchel/core/shop/sales'
import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { mail, purchase } from '../db/schema/all.ts'
import { kioskPages } from '../kiosk/pages.ts'
import { Till } from '../kiosk/till.ts'
import { LetterBox } from '../mailbox/letter-box.ts'
import { readSale } from '../shops/sales-address.ts'
import { settlePurchases } from '../shops/settle.ts'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Shops = {
  shops: { id: string; name: string; address: string; products: { id: string; code: string; title: string }[] }[]
  purchases: { id: string; orderName: string; buyerName: string; handOutId: string | null; refundedAt: string | null; isWithdrawn: boolean; isInBin: boolean; packId: string | null }[]
} // biome-ignore format: as the page is told

let server: TestServer
let person: Person
let box: LetterBox
let packId = ''
let shop = { id: '', address: '', secret: '' }

const listed = () => person.json<Shops>('/api/shops')
const ofOrder = async (order: string) => (await listed()).purchases.find(({ orderName }) => orderName === order)
async function releaseOf(version: string): Promise<string> {
  const { id } = await person.post<{ id: string }>(`/api/packs/${packId}/releases`, {
    version,
    notes: `What ${version} brings.`,
  })
  await until(async () => {
    const { releases } = await person.json<{ releases: { id: string; state: string }[] }>(`/api/packs/${packId}`)
    return releases.find((each) => each.id === id)?.state === 'ready'
  }, 120_000)
  return id
}
const paid = (order: string, more: { product?: string; email?: string; timestamp?: string } = {}): SaleEvent => ({
  type: 'purchase.paid',
  timestamp: more.timestamp ?? '2026-11-03T10:00:00Z',
  data: {
    order,
    product: more.product ?? 'shore',
    buyer: { name: `Buyer of ${order}`, email: more.email ?? `${order}@buyers.example` },
  },
})
const refunded = (order: string): SaleEvent => ({
  type: 'purchase.refunded',
  timestamp: '2026-11-04T10:00:00Z',
  data: { order },
})

/** Signed by hand as the specification says, not by the package that checks it. */
function sign(secret: string, id: string, seconds: number, body: string): string {
  const key = Buffer.from(secret.replace('whsec_', ''), 'base64')
  return `v1,${createHmac('sha256', key).update(`${id}.${seconds}.${body}`).digest('base64')}`
}
type Telling = { secret?: string; id?: string; atMs?: number; body?: string; signature?: string; to?: string }
async function tell(
  event: object,
  { secret = shop.secret, id = `msg_${randomUUID()}`, atMs = Date.now(), ...more }: Telling = {},
) {
  const body = more.body ?? JSON.stringify(event)
  const seconds = Math.floor(atMs / 1000)
  return fetch(more.to ?? shop.address, {
    method: 'POST',
    headers: {
      'content-type': 'application/json',
      'webhook-id': id,
      'webhook-timestamp': String(seconds),
      'webhook-signature': more.signature ?? sign(secret, id, seconds, JSON.stringify(event)),
    },
    body,
  })
}
const lettersTo = async (address: string) =>
  (await Promise.all(box.ids().map((id) => box.read(id)))).filter((letter) => letter?.to === address)
const mailsOf = (handOutId: string | null | undefined) =>
  server.parts.deps.db
    .select()
    .from(mail)
    .where(eq(mail.handOutId, handOutId ?? ''))

beforeAll(async () => {
  box = new LetterBox(mkdtempSync(join(tmpdir(), 'letters-')))
  const smtp = `smtp://127.0.0.1:${await box.listen()}`
  const limits = { linkRequestsPerMinute: 10_000 }
  server = await startTestServer(inject('databaseUrl'), {
    limits,
    mailing: { smtp, from: 'Studio <hello@tidewrack.example>' },
  })
  person = await server.owner()
  await takeInFiles(person, { 'Reeds/one.png': blotPng(1) })
  const { sets } = await person.json<{ sets: { id: string; starter: boolean }[] }>('/api/sets')
  packId = (await person.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })).id
  await person.post(`/api/packs/${packId}/sets`, { setIds: sets.map(({ id }) => id) }, 'PUT')
  shop = await person.post('/api/shops', { name: 'Corner Kiosk' })
}, 180_000)
afterAll(async () => {
  await server.close()
  await box.close()
})

it('is signed as the libraries of Standard Webhooks have it in their example', () => {
  const secret = 'whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw'
  const [id, seconds, body] = ['msg_p5jXN8AQM9LWM0D4loKWxJek', 1614265330, '{"test": 2432232314}']
  // the signature of that example from memory, and worked out by OpenSSL beside
  const wanted = 'v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE='
  const hex = Buffer.from(secret.slice(6), 'base64').toString('hex')
  const byOpenssl = execFileSync(
    'openssl',
    ['dgst', '-sha256', '-mac', 'HMAC', '-macopt', `hexkey:${hex}`, '-binary'],
    {
      input: `${id}.${seconds}.${body}`,
    },
  )
  expect(sign(secret, id, seconds, body)).toBe(`v1,${byOpenssl.toString('base64')}`)
  expect(sign(secret, id, seconds, body)).toBe(wanted)
})

describe('a purchase', () => {
  it('waits until it is said what the product is and there is a release; then its buyer has it, and a letter', async () => {
    expect((await tell(paid('k-1'))).status).toBe(200)
    expect(await ofOrder('k-1')).toMatchObject({ handOutId: null, packId: null, buyerName: 'Buyer of k-1' })
    await person.post(`/api/shops/${shop.id}/products`, { code: 'shore', packId }, 'PUT')
    expect(await ofOrder('k-1')).toMatchObject({ handOutId: null, packId })
    await releaseOf('1.0.0')
    await settlePurchases(server.parts.deps)
    const { handOutId } = (await ofOrder('k-1')) ?? {}
    expect(handOutId).not.toBeNull()
    const { handOuts } = await person.json<{
      handOuts: { id: string; name: string; email: string; follows: boolean; bought: object | null }[]
    }>(`/api/packs/${packId}/people`)
    expect(handOuts.find(({ id }) => id === handOutId)).toMatchObject({
      ...{ name: 'Buyer of k-1', email: 'k-1@buyers.example', follows: true },
      bought: { order: 'k-1', shop: 'Corner Kiosk', refundedAt: null },
    })
    await until(async () => (await lettersTo('k-1@buyers.example')).length === 1, 60_000)
    const [letter] = await lettersTo('k-1@buyers.example')
    const link = /http:\/\/\S+\/h\/(\S+)/.exec(letter?.email.text ?? '')
    expect((await fetch(`${server.url}/api/h/${link?.[1]}`)).status).toBe(200)
  })

  it('told twice, at once and much later, gives once and writes once', async () => {
    const event = paid('k-2')
    await Promise.all(Array.from({ length: 8 }, () => tell(event)))
    await Promise.all(Array.from({ length: 4 }, () => settlePurchases(server.parts.deps)))
    await tell(event)
    const found = (await listed()).purchases.filter(({ orderName }) => orderName === 'k-2')
    expect(found).toHaveLength(1)
    const { rows } = await server.parts.deps.db.execute(sql`select id from hand_out where name = 'Buyer of k-2'`)
    expect(rows).toHaveLength(1)
    expect(await mailsOf(found[0]?.handOutId)).toHaveLength(1)
  })

  it('that is refunded is taken back, once: a curator may give it again', async () => {
    await tell(paid('k-3'))
    const { handOutId } = (await ofOrder('k-3')) ?? {}
    expect(handOutId).not.toBeNull()
    await tell(refunded('k-3'))
    expect(await ofOrder('k-3')).toMatchObject({ handOutId, isWithdrawn: true })
    await person.post(`/api/packs/hand-outs/${handOutId}/give-again`, {})
    await tell(refunded('k-3'))
    await tell(paid('k-3'))
    await settlePurchases(server.parts.deps)
    expect(await ofOrder('k-3')).toMatchObject({ isWithdrawn: false })
  })

  it('that is heard of after its refund gives nothing', async () => {
    await tell(refunded('k-4'))
    await tell(paid('k-4'))
    await settlePurchases(server.parts.deps)
    expect(await ofOrder('k-4')).toMatchObject({ handOutId: null, buyerName: 'Buyer of k-4' })
    expect(await lettersTo('k-4@buyers.example')).toEqual([])
  })

  it('without an address that is one is given all the same, and nobody is written to', async () => {
    await tell(paid('k-5', { email: 'not an address' }))
    const { handOutId } = (await ofOrder('k-5')) ?? {}
    expect(handOutId).not.toBeNull()
    expect(await mailsOf(handOutId)).toEqual([])
  })

  it('goes on where a server was lost between giving and writing', async () => {
    await tell(paid('k-6'))
    const { db } = server.parts.deps
    const { handOutId } = (await ofOrder('k-6')) ?? {}
    // as it stands where the server ended right after it gave
    await db.execute(sql`delete from mail where hand_out_id = ${handOutId}`)
    await db.update(purchase).set({ toldOf: null }).where(eq(purchase.orderName, 'k-6'))
    await settlePurchases(server.parts.deps)
    await settlePurchases(server.parts.deps)
    expect(await mailsOf(handOutId)).toMatchObject([{ kind: 'link' }])
    // and where it ended right after it wrote
    await db.update(purchase).set({ toldOf: null }).where(eq(purchase.orderName, 'k-6'))
    await settlePurchases(server.parts.deps)
    expect(await mailsOf(handOutId)).toHaveLength(1)
  })
})

it('buyers are told of each newer release, once; of an older one that a recall leaves, and after a refund, not', async () => {
  const second = await releaseOf('1.1.0')
  await settlePurchases(server.parts.deps)
  await settlePurchases(server.parts.deps)
  const kinds = async (order: string) =>
    (await mailsOf((await ofOrder(order))?.handOutId)).map(({ kind }) => kind).sort()
  expect(await kinds('k-1')).toEqual(['link', 'newer'])
  expect(await kinds('k-2')).toEqual(['link', 'newer'])
  await tell(refunded('k-2'))
  await person.post(`/api/packs/${packId}/releases/${second}/recall`, { reason: 'A tip was wrong.' })
  await settlePurchases(server.parts.deps)
  expect(await kinds('k-1')).toEqual(['link', 'newer'])
  await releaseOf('1.2.0')
  await settlePurchases(server.parts.deps)
  expect(await kinds('k-1')).toEqual(['link', 'newer', 'newer'])
  expect(await kinds('k-2')).toEqual(['link', 'newer'])
}, 180_000)

it('of a pack that is in the bin, or an edition that is, waits until it is brought back', async () => {
  const plan = wholePlan()
  const { id } = await person.post<{ id: string }>(`/api/packs/${packId}/editions`, { name: 'For buyers', plan })
  await person.post(`/api/shops/${shop.id}/products`, { code: 'cut', packId, editionId: id }, 'PUT')
  await person.request(`/api/packs/editions/${id}`, { method: 'DELETE' })
  await tell(paid('k-8', { product: 'cut' }))
  expect(await ofOrder('k-8')).toMatchObject({ handOutId: null, isInBin: true })
  await person.post(`/api/packs/editions/${id}/bring-back`, {})
  await settlePurchases(server.parts.deps)
  const { handOutId, isInBin } = (await ofOrder('k-8')) ?? {}
  expect([handOutId !== null, isInBin]).toEqual([true, false])
})

describe('what is told', () => {
  const count = async () => (await listed()).purchases.length
  it('by another secret, at another time, or changed on its way is not taken', async () => {
    const before = await count()
    const event = paid('forged')
    const secret = `whsec_${Buffer.alloc(32).toString('base64')}`
    for (const telling of [
      { secret },
      { atMs: Date.now() - 10 * 60_000 },
      { atMs: Date.now() + 10 * 60_000 },
      { body: JSON.stringify(paid('forged', { product: 'other' })) },
      { signature: '' },
      { signature: 'v1,' },
      { signature: `v1a,${'A'.repeat(44)}` },
      { signature: 'v1,'.repeat(5000) },
    ] satisfies Telling[])
      expect((await tell(event, telling)).status, JSON.stringify(telling).slice(0, 80)).toBe(401)
    const bare = await fetch(shop.address, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(event),
    })
    expect(bare.status).toBe(401)
    expect(await count()).toBe(before)
  })

  it('is taken where one of several signatures is right, as after a change of secrets', async () => {
    const [id, seconds] = ['msg_two', Math.floor(Date.now() / 1000)]
    const event = paid('k-7')
    const right = sign(shop.secret, id, seconds, JSON.stringify(event))
    const answer = await tell(event, { id, atMs: seconds * 1000, signature: `v1,${'A'.repeat(43)}= ${right}` })
    expect(answer.status).toBe(200)
    expect((await ofOrder('k-7'))?.handOutId).not.toBeNull()
  })

  it('and means nothing here is passed over; what is no sale is refused with a sentence', async () => {
    const before = await count()
    expect(await (await tell({ type: 'purchase.shipped', timestamp: 'x', data: {} })).json()).toEqual({ taken: false })
    for (const broken of [
      {},
      [],
      { type: 'purchase.paid' },
      { ...paid('x'), timestamp: 'now' },
      { ...refunded('x'), data: { order: 'x'.repeat(300) } },
      'text',
      3,
      null,
    ]) {
      const answer = await tell(broken as object)
      expect(answer.status, JSON.stringify(broken).slice(0, 60)).toBe(422)
      expect(((await answer.json()) as { title: string }).title).toContain('no sale')
    }
    expect(await count()).toBe(before)
  })

  it('to no shop, to one that was let go of, or far too much of it is answered so', async () => {
    const other = await person.post<{ id: string; address: string; secret: string }>('/api/shops', { name: 'Another' })
    await person.post(`/api/shops/${other.id}/closed`, { isClosed: true }, 'PUT')
    expect((await tell(paid('x'), { to: other.address, secret: other.secret })).status).toBe(410)
    expect((await tell(paid('x'), { to: shop.address.replace(shop.id, randomUUID()) })).status).toBe(404)
    expect((await tell(paid('x'), { to: shop.address.replace(shop.id, 'x') })).status).toBe(422)
    expect((await tell({ ...paid('x'), more: 'x'.repeat(9_000_000) })).status).toBe(413)
    expect(() => readSale('whsec_', '{}', {})).toThrow()
  })
})

describe('a shop', () => {
  it('is told its secret again by who may write here, and by nobody else', async () => {
    expect(await person.post(`/api/shops/${shop.id}/secret`, {})).toEqual({ secret: shop.secret })
    const stranger = await server.owner()
    expect((await stranger.request(`/api/shops/${shop.id}/secret`, { method: 'POST' })).status).toBe(404)
    const { rows } = await server.parts.deps.db.execute(sql`select * from shop`)
    expect(JSON.stringify(rows)).not.toContain(shop.secret.slice(6, 30))
  })
})

describe('the kiosk that comes with the product', () => {
  it('sells, tells until it is heard, and gives the money back, over what it knows of us alone: an address and a secret', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'kiosk-'))
    const till = new Till(folder, { products: [{ code: 'shore', title: 'Shore', price: '12' }] })
    let host = ''
    const pages = serve(
      { fetch: kioskPages(till, (said) => said === host).fetch, hostname: '127.0.0.1', port: 0 },
      ({ port }) => {
        host = `127.0.0.1:${port}`
      },
    )
    const form = (path: string, said: Record<string, string>, headers = {}) =>
      fetch(`http://${host}${path}`, { method: 'POST', body: new URLSearchParams(said), headers, redirect: 'manual' })
    try {
      await until(async () => host !== '')
      // nobody listens at first: it is told later
      const dead = { name: 'Kiosk', address: 'http://127.0.0.1:9/nobody', secret: shop.secret }
      expect((await form('/setting', dead)).status).toBe(303)
      const bought = await form('/buy', { product: 'shore', name: 'Wren <b>Tidewater', email: 'wren@buyers.example' })
      expect(await bought.text()).toContain('A letter with your link goes to wren@buyers.example')
      await until(async () => (till.state.events[0]?.tries ?? 0) > 0)
      expect(till.state.events[0]?.isTaken).toBe(false)
      await form('/setting', { name: 'Kiosk', address: shop.address, secret: shop.secret })
      await until(async () => till.state.events[0]?.isTaken === true, 30_000)
      const order = till.state.orders[0]?.id ?? ''
      expect((await ofOrder(order))?.buyerName).toBe('Wren <b>Tidewater')
      await form('/again', { id: till.state.events[0]?.id ?? '' })
      await form('/refund', { id: order })
      await until(async () => (await ofOrder(order))?.isWithdrawn === true)
      const room = await (await fetch(`http://${host}/back-room`)).text()
      expect(room).toContain('Wren &lt;b&gt;Tidewater')
      expect(room).toContain('money back')
      // the book is there for whoever opens it next; one that cannot be read is left as it is
      const torn = mkdtempSync(join(tmpdir(), 'kiosk-'))
      writeFileSync(join(torn, 'shop.json'), '{"name":')
      expect(() => new Till(torn)).toThrow('cannot be read')
      expect(readFileSync(join(torn, 'shop.json'), 'utf8')).toBe('{"name":')
      expect(new Till(folder).state.orders).toMatchObject([{ id: order }])
      // and a form of another site sells nothing
      expect((await form('/refund', { id: order }, { origin: 'http://elsewhere.example' })).status).toBe(403)
      expect((await form('/buy', { product: 'shore', name: '', email: 'x' })).status).toBe(422)
    } finally {
      till.close()
      pages.close()
    }
  }, 60_000)
})
