import { randomUUID } from 'node:crypto'
import { mkdtempSync } from 'node:fs'
import { createServer, type Server, type Socket } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { wholePlan } from '@satchel/core/editions/plan'
import { MAIL_KINDS } from '@satchel/core/mail/template'
import { eq, sql } from 'drizzle-orm'
import { afterAll, afterEach, beforeAll, describe, expect, inject, it } from 'vitest'
import { mail } from '../db/schema/all.ts'
import { returnAddress } from '../mail/return-address.ts'
import { ended, toFrom, WAITS_MINUTES } from '../mail/send-mails.ts'
import { SmtpSender } from '../mail/smtp-sender.ts'
import { LetterBox } from '../mailbox/letter-box.ts'
import { letterPages } from '../mailbox/pages.ts'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type HandOut = {
  id: string
  name: string
  recipientId: string
  noMail: boolean
  mail: { state: string; said: string; kind: string } | null
}

let server: TestServer
let person: Person
let box: LetterBox
let smtp = ''
let packId = ''
let releaseId = ''

const send = (path: string, body: object) =>
  person.request(path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
const people = async () => (await person.json<{ handOuts: HandOut[] }>(`/api/packs/${packId}/people`)).handOuts
const ofId = async (id: string) => (await people()).find((each) => each.id === id)
async function give(emails: string[], more: object = {}): Promise<string[]> {
  const some = emails.map((email, n) => ({ name: `Person ${n} of ${email}`, email, note: '' }))
  const wish = { releaseId, batchId: randomUUID(), people: some, ...more }
  const { ids } = await person.post<{ ids: string[] }>(`/api/packs/${packId}/hand-outs/many`, wish)
  return ids
}
const RETURNS = 'bounces@tidewrack.example'

type Told = { written: number; left: { name: string; why: string }[] }
const write = (ids: string[], more: object = {}) =>
  person.post<Told>(`/api/packs/${packId}/mails`, {
    kind: 'link',
    ...MAIL_KINDS.link,
    ids,
    actId: randomUUID(),
    ...more,
  })
const settled = (ids: string[], state: string) =>
  until(async () => {
    const all = await people()
    return ids.every((id) => all.find((each) => each.id === id)?.mail?.state === state)
  }, 60_000)
const letters = async () => Promise.all(box.ids().map((id) => box.read(id)))
const lettersTo = async (address: string) => (await letters()).filter((letter) => letter?.to === address)

beforeAll(async () => {
  box = new LetterBox(mkdtempSync(join(tmpdir(), 'letters-')), () => `${server.url}/api/bounces`)
  smtp = `smtp://127.0.0.1:${await box.listen()}`
  const from = 'Tidewrack Studio <hello@tidewrack.example>'
  server = await startTestServer(inject('databaseUrl'), { mailing: { smtp, from, returns: RETURNS } })
  person = await server.owner()
  await takeInFiles(person, { 'Reeds/one.png': blotPng(1) })
  const { sets } = await person.json<{ sets: { id: string; name: string }[] }>('/api/sets')
  const facts = { title: 'Shore & Tide', licence: 'CC0-1.0' }
  packId = (await person.post<{ id: string }>('/api/packs', facts)).id
  await person.post(`/api/packs/${packId}/sets`, { setIds: [sets.find(({ name }) => name === 'Reeds')?.id] }, 'PUT')
  const release = { version: '1.0.0', notes: 'First.' }
  releaseId = (await person.post<{ id: string }>(`/api/packs/${packId}/releases`, release)).id
})
afterAll(async () => {
  await server.close()
  await box.close()
})

describe('mails to people who have a pack', () => {
  it('bring each their own link, as text and as a page, and can be stopped', async () => {
    const ids = await give(['ida@x.example', 'bø@fjord.example', ''])
    const told = await write(ids)
    expect(told).toEqual({ written: 2, left: [{ name: 'Person 2 of', why: 'has no mail address' }] })
    await settled(ids.slice(0, 2), 'sent')
    const { links } = await person.post<{ links: { name: string; link: string }[] }>('/api/packs/hand-outs/links', {
      ids,
    })
    const [letter] = await lettersTo('ida@x.example')
    const link = links.find(({ name }) => name.endsWith('ida@x.example'))?.link ?? 'none'
    expect(letter?.email.subject).toBe('Shore & Tide: your link')
    expect(letter?.email.from).toMatchObject({ address: 'hello@tidewrack.example', name: 'Tidewrack Studio' })
    expect(letter?.email.text).toContain(link)
    expect(letter?.email.html).toContain(`<a href="${link}">`)
    expect(letter?.email.text).not.toContain('undefined')
    const header = (key: string) => letter?.email.headers.find((each) => each.key === key)?.value
    expect(header('list-unsubscribe-post')).toBe('List-Unsubscribe=One-Click')
    expect(header('auto-submitted')).toBe('auto-generated')
    // the reader’s mail program presses it, without any page of ours
    const stop = /<(.*)>/.exec(header('list-unsubscribe') ?? '')?.[1] ?? ''
    expect((await fetch(stop)).status).toBe(200)
    expect((await ofId(ids[0] ?? ''))?.noMail).toBe(false)
    const body = 'List-Unsubscribe=One-Click'
    const form = { 'content-type': 'application/x-www-form-urlencoded' }
    expect((await fetch(stop, { method: 'POST', headers: form, body })).status).toBe(200)
    const again = await write(ids)
    expect(again.written).toBe(1)
    expect(again.left).toContainEqual({ name: 'Person 0 of ida@x.example', why: 'wants no more mails' })
    expect((await ofId(ids[0] ?? ''))?.noMail).toBe(true)
    await person.post(`/api/packs/hand-outs/people/${(await ofId(ids[0] ?? ''))?.recipientId}/mails-again`)
    expect((await ofId(ids[0] ?? ''))?.noMail).toBe(false)
    expect((await fetch(`${stop.slice(0, -4)}AAAA`, { method: 'POST' })).status).toBe(404)
  })

  it('of one act go to nobody twice, however often that is sent', async () => {
    const ids = await give(Array.from({ length: 12 }, (_, n) => `once${n}@x.example`))
    const actId = randomUUID()
    const told = await Promise.all([write(ids, { actId }), write(ids, { actId }), write(ids, { actId })])
    expect(told.reduce((sum, { written }) => sum + written, 0)).toBe(12)
    await settled(ids, 'sent')
    for (let n = 0; n < 12; n++) expect(await lettersTo(`once${n}@x.example`)).toHaveLength(1)
  })

  it('that come back a while later are told by the report that comes with them', async () => {
    const [late = '', sent = ''] = await give(['moved@late.example', 'there@x.example'])
    await write([late, sent])
    await settled([late], 'refused')
    expect((await ofId(late))?.mail?.said).toBe('It came back: 5.1.1, 550 There is nobody of this name any more')
    await settled([sent], 'sent')
    const { db, links } = server.parts.deps
    const [row] = await db.select({ id: mail.id }).from(mail).where(eq(mail.handOutId, sent))
    const address = returnAddress({ links }, RETURNS, row?.id ?? '')
    expect(address.slice(0, address.indexOf('@')).length).toBeLessThanOrEqual(64)
    const bring = async (to: string, body: string | Uint8Array) => {
      const answer = await fetch(`${server.url}/api/bounces?${new URLSearchParams({ to })}`, {
        method: 'POST',
        body: new Uint8Array(Buffer.from(body)),
      })
      return [answer.status, ((await answer.json()) as { taken?: boolean }).taken]
    }
    const report = (fields: string) =>
      `Content-Type: multipart/report; boundary="x"\r\n\r\n--x\r\nContent-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; x.example\r\n\r\n${fields}\r\n--x--\r\n`
    // somebody's own answer says nothing of the mail, nor does what is no letter at all
    expect(await bring(address, 'Subject: On holiday\r\n\r\nUntil Monday.')).toEqual([200, false])
    expect(await bring(address, new Uint8Array(4096).fill(200))).toEqual([200, false])
    expect((await ofId(sent))?.mail?.state).toBe('sent')
    expect(await bring(address, report('Action: delayed\r\nStatus: 4.4.1'))).toEqual([200, true])
    expect((await ofId(sent))?.mail).toMatchObject({ state: 'sent', said: 'It is late: 4.4.1' })
    // mail servers may write addresses in another case
    const failed = report('Action: failed\r\nStatus: 5.2.2\r\nDiagnostic-Code: smtp; 552 full')
    expect(await bring(address.toUpperCase(), failed)).toEqual([200, true])
    expect((await ofId(sent))?.mail).toMatchObject({ state: 'refused', said: 'It came back: 5.2.2, 552 full' })
    // a second time, and what comes after that, changes nothing
    expect(await bring(address, report('Action: delivered'))).toEqual([200, false])
    expect((await ofId(sent))?.mail?.state).toBe('refused')
    // who was not sent a mail cannot bring one back
    const at = address.indexOf('@')
    const other = `${address.slice(0, at - 1)}${address[at - 1] === '0' ? '1' : '0'}${address.slice(at)}`
    for (const to of [other, RETURNS, 'bounces+@tidewrack.example', '', `bounces+${'0'.repeat(52)}@x.example`])
      expect((await bring(to, failed))[0], to).toBe(404)
    expect((await bring(address, new Uint8Array(600 * 1024)))[0]).toBe(413)
  })

  it('that come back are told, those that are put off come later', async () => {
    const [gone = '', busy = ''] = await give(['nobody@gone.example', 'later@busy.example'])
    await write([gone, busy])
    await settled([gone], 'refused')
    expect((await ofId(gone))?.mail?.said).toContain('No such mailbox')
    await settled([busy], 'waiting')
    await until(async () => ((await ofId(busy))?.mail?.said ?? '').includes('Try again later'))
    // a minute later, by the clock of the database
    const { db } = server.parts.deps
    await db.update(mail).set({ nextAt: sql`now()` }).where(eq(mail.handOutId, busy))
    await settled([busy], 'sent')
    expect(await lettersTo('later@busy.example')).toHaveLength(1)
  })

  it('that were on their way when a server was lost are not sent again, and that is said', async () => {
    const [lost = '', next = ''] = await give(['lost@x.example', 'next@x.example'])
    await write([lost])
    await settled([lost], 'sent')
    const { db } = server.parts.deps
    await db.update(mail).set({ state: 'sending', sentAt: null }).where(eq(mail.handOutId, lost))
    await write([next])
    await settled([next], 'sent')
    await settled([lost], 'unsure')
    expect(await lettersTo('lost@x.example')).toHaveLength(1)
    expect((await ofId(lost))?.mail?.said).toContain('The server ended')
  })

  it('say the day a link ends as who writes counts days, and go to nobody whose class is over', async () => {
    const [id = ''] = await give(['ends@x.example'], { endsAt: '2199-05-05T03:59:59Z' })
    await write([id], { zone: 'America/New_York' })
    await settled([id], 'sent')
    expect((await lettersTo('ends@x.example'))[0]?.email.text).toContain('It works until 4 May 2199.')
    const plan = { ...wholePlan(), kit: { zone: 'UTC', lessons: [], lastDay: '2020-01-01' } }
    const { id: editionId } = await person.post<{ id: string }>(`/api/packs/${packId}/editions`, { name: 'Old', plan })
    const told = await write(await give(['over@x.example'], { editionId }))
    expect(told).toMatchObject({ written: 0, left: [{ why: 'has a link that has ended' }] })
  })

  it('can be called off while they wait', async () => {
    const [id = ''] = await give(['soon@busy.example'])
    await write([id])
    await until(async () => ((await ofId(id))?.mail?.said ?? '').includes('later'))
    expect(await person.post('/api/packs/hand-outs/mails/call-off', { ids: [id] })).toEqual({ calledOff: 1 })
    expect((await ofId(id))?.mail?.state).toBe('called off')
    expect(await lettersTo('soon@busy.example')).toEqual([])
  })

  it('have words of one’s own, that are kept where that is asked for, and refused where they say nothing', async () => {
    const [id = ''] = await give(['words@x.example'])
    const own = { subject: 'For {name}', body: 'Look: {link}' }
    await write([id], { ...own, keep: true })
    await settled([id], 'sent')
    expect((await lettersTo('words@x.example'))[0]?.email.subject).toBe('For Person 0 of words@x.example')
    type Templates = { templates: { kind: string; subject: string }[]; from: string }
    const { templates, from } = await person.json<Templates>('/api/packs/mails/templates')
    expect(templates.map(({ kind, subject }) => [kind, subject])).toEqual([
      ['link', 'For {name}'],
      ['newer', '{title} {version} is there'],
    ])
    expect(from).toContain('hello@tidewrack.example')
    for (const wrong of [{ body: 'no link' }, { subject: '' }, { body: '{link} {secret}' }, { kind: 'other' }]) {
      const wish = { kind: 'link', ...own, ids: [id], actId: randomUUID(), ...wrong }
      expect((await send(`/api/packs/${packId}/mails`, wish)).status, JSON.stringify(wrong)).toBe(422)
    }
  })

  it('cannot be written where the server has nobody to give them to', async () => {
    const silent = await startTestServer(inject('databaseUrl'))
    const owner = await silent.owner()
    const { id } = await owner.post<{ id: string }>('/api/packs', { title: 'Shore' })
    const wish = { kind: 'link', ...MAIL_KINDS.link, ids: [randomUUID()], actId: randomUUID() }
    const headers = { 'content-type': 'application/json' }
    const answer = await owner.request(`/api/packs/${id}/mails`, {
      method: 'POST',
      headers,
      body: JSON.stringify(wish),
    })
    expect([answer.status, await answer.text()]).toEqual([409, expect.stringContaining('SATCHEL_SMTP')])
    await silent.close()
  })
})

describe('a mail server', () => {
  let other: Server | undefined
  const sockets = new Set<Socket>()
  afterEach(() => {
    for (const socket of sockets) socket.destroy()
    other?.close()
  })
  /** A server that talks as it is told: what it answers to each line. */
  async function talks(
    answer: (line: string, socket: Socket) => void,
    greeting = '220 there\r\n',
  ): Promise<SmtpSender> {
    const made = createServer((socket) => {
      sockets.add(socket)
      socket.on('error', () => undefined)
      if (greeting !== '') socket.write(greeting)
      let text = ''
      socket.on('data', (bytes) => {
        text += bytes.toString('latin1')
        for (let end = text.indexOf('\r\n'); end >= 0; end = text.indexOf('\r\n')) {
          const line = text.slice(0, end)
          text = text.slice(end + 2)
          answer(line, socket)
        }
      })
    })
    other = made
    await new Promise<void>((done) => made.listen(0, '127.0.0.1', done))
    const address = made.address()
    return new SmtpSender(`smtp://127.0.0.1:${typeof address === 'object' ? address?.port : 0}`)
  }
  const usual = (line: string, socket: Socket) => {
    if (/^(EHLO|MAIL|RCPT|RSET)/.test(line)) socket.write('250 fine\r\n')
    if (line === 'DATA') socket.write('354 go on\r\n')
  }
  const envelope = { from: 'a@x.example', to: 'b@x.example' }
  const message = Buffer.from('Subject: x\r\n\r\nHello\r\n')
  const never = new AbortController().signal

  it('that is not there, or says that it cannot, is tried again later', async () => {
    const nobody = new SmtpSender('smtp://127.0.0.1:1')
    expect((await nobody.send(envelope, message, never)).state).toBe('waiting')
    const busy = await talks((line, socket) => socket.write(line.startsWith('MAIL') ? '421 busy\r\n' : '250 fine\r\n'))
    expect((await busy.send(envelope, message, never)).state).toBe('waiting')
  })

  it('that is lost before it had all of a mail has not taken it; one that is lost after that may have', async () => {
    const before = await talks((line, socket) => (line === 'DATA' ? socket.destroy() : usual(line, socket)))
    expect((await before.send(envelope, message, never)).state).toBe('waiting')
    other?.close()
    const after = await talks((line, socket) => (line === '.' ? socket.destroy() : usual(line, socket)))
    expect(await after.send(envelope, message, never)).toMatchObject({ state: 'unsure' })
  })

  it('that says nothing any more is left within two seconds by who is to stop', async () => {
    const silent = await talks(usual)
    const stop = new AbortController()
    const sent = silent.send(envelope, message, stop.signal)
    await new Promise((done) => setTimeout(done, 300))
    const from = Date.now()
    stop.abort()
    expect((await sent).state).toBe('unsure')
    expect(Date.now() - from).toBeLessThan(2500)
    const mute = await talks(() => undefined, '')
    const now = new AbortController()
    const begun = mute.send(envelope, message, now.signal)
    now.abort()
    expect((await begun).state).toBe('waiting')
  })

  it('is asked again after longer and longer, and not for ever', () => {
    const at = (tries: number) => ended({ tries }, { state: 'waiting', said: 'busy' })
    const waits = WAITS_MINUTES.map((_, i) => Math.round(((at(i + 1).nextAt?.getTime() ?? 0) - Date.now()) / 60_000))
    expect(waits).toEqual([...WAITS_MINUTES])
    expect(at(WAITS_MINUTES.length + 1)).toMatchObject({ state: 'refused', said: 'Given up after 8 tries: busy' })
  })

  it('is told who sends, by name and address', () => {
    expect(toFrom('Tidewrack <a@x.example>')).toEqual({ name: 'Tidewrack', address: 'a@x.example' })
    expect(toFrom(' a@x.example ')).toEqual({ name: 'a@x.example', address: 'a@x.example' })
    expect(toFrom('<a@x.example>')).toEqual({ name: 'a@x.example', address: 'a@x.example' })
  })
})

describe('the stand-in mailbox', () => {
  it('shows what arrived, and lets nothing of a letter run', async () => {
    const pages = letterPages(box, (host) => host === 'here')
    const ask = (path: string, host = 'here') => pages.request(path, { headers: { host } })
    const sender = new SmtpSender(smtp)
    const html = '<h1>Hi</h1><script>alert(1)</script><img src="http://x.example/p.png">'
    const letter = `Subject: =?utf-8?q?Sm=C3=B8r?= <b>\r\nContent-Type: text/html\r\n\r\n${html}\r\n`
    await sender.send({ from: 'a@x.example', to: 'b@x.example' }, Buffer.from(letter), new AbortController().signal)
    sender.close()
    const [id] = box.ids()
    const list = await (await ask('/')).text()
    expect(list).toContain('Smør &lt;b&gt;')
    const one = await ask(`/letters/${id}`)
    expect(await one.text()).toContain('sandbox=""')
    expect(one.headers.get('content-security-policy')).toContain("default-src 'none'")
    expect((await ask('/', 'elsewhere.example')).status).toBe(421)
    expect((await ask('/letters/..%2f..%2fsecret')).status).toBe(404)
  })
})
