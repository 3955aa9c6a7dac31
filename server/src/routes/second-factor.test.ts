import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { base32 } from '@better-auth/utils/base32'
import { createOTP } from '@better-auth/utils/otp'
import { symmetricEncrypt } from 'better-auth/crypto'
import { sql } from 'drizzle-orm'
import { afterAll, afterEach, beforeAll, describe, expect, inject, it, vi } from 'vitest'
import { LetterBox } from '../mailbox/letter-box.ts'
import { type Person, sentenceOf, signIn, startTestServer, type TestServer, until } from '../testing/test-server.ts'

const PASSWORD = 'marsh-samphire-9'
const SECRET = 'a-secret-for-tests-only-0123456789abcdef'
let server: TestServer
let box: LetterBox
beforeAll(async () => {
  box = new LetterBox(mkdtempSync(join(tmpdir(), 'letters-')), () => server.url)
  const smtp = `smtp://127.0.0.1:${await box.listen()}`
  const from = 'Tidewrack Studio <hello@tidewrack.example>'
  server = await startTestServer(inject('databaseUrl'), {
    mailing: { smtp, from },
    limits: { failuresPerAccount: 4 },
  })
})
afterEach(() => void vi.useRealTimers())
afterAll(async () => {
  await server.close()
  await box.close()
})

/** A browser that keeps its cookies, as they are set and taken away. */
function browser() {
  const jar = new Map<string, string>()
  const ask = async (path: string, body?: unknown) => {
    const cookie = [...jar].map(([name, value]) => `${name}=${value}`).join('; ')
    const response = await fetch(`${server.url}${path}`, {
      method: body === undefined ? 'GET' : 'POST',
      headers: { origin: server.url, cookie, 'content-type': 'application/json' },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    })
    for (const set of response.headers.getSetCookie()) {
      const [, name = '', value = ''] = /^([^=]+)=([^;]*)/.exec(set) ?? []
      if (value === '' || /max-age=0/i.test(set)) jar.delete(name)
      else jar.set(name, value)
    }
    return response
  }
  return {
    ask,
    signIn: (email: string, password = PASSWORD) => ask('/api/auth/sign-in/email', { email, password }),
    code: (code: string) => ask('/api/auth/sign-in/code', { code }),
    isIn: async () => (await ask('/api/sets')).status === 200,
  }
}
type Browser = ReturnType<typeof browser>

const secretOf = (uri: string) => new TextDecoder().decode(base32.decode(new URL(uri).searchParams.get('secret') ?? ''))
/** The clock goes on by half minutes: each code is another one. */
function clock() {
  let now = Date.now()
  vi.useFakeTimers({ toFake: ['Date'], now })
  return () => {
    now += 30_000
    vi.setSystemTime(now)
  }
}

/** Turns the second factor on in a browser. */
async function turnOn(at: Browser) {
  const begun = await at.ask('/api/session/second/begin', { password: PASSWORD })
  expect(begun.status).toBe(200)
  const { uri, codes } = (await begun.json()) as { uri: string; codes: string[] }
  const codeNow = () => createOTP(secretOf(uri)).totp()
  expect((await at.ask('/api/session/second/confirm', { code: await codeNow() })).status).toBe(200)
  return { uri, codes, codeNow }
}

// RFC 6238, appendix B: the SHA-1 row of its table, for the secret "12345678901234567890". Its codes have eight digits; ours are the
// last six of them (RFC 4226, 5.3: the same number modulo a smaller power of ten).
const VECTORS: readonly [seconds: number, code: string][] = [
  [59, '94287082'],
  [1111111109, '07081804'],
  [1111111111, '14050471'],
  [1234567890, '89005924'],
  [2000000000, '69279037'],
  [20000000000, '65353130'],
]

describe('codes of an app', () => {
  it.each(VECTORS)('are those of RFC 6238 at %d s', async (seconds, code) => {
    const email = `vector${seconds}@test.example`
    await server.owner(email)
    const { db } = server.parts.deps
    const { rows } = await db.execute<{ id: string }>(sql`select id from "user" where email = ${email}`)
    const id = rows[0]?.id ?? ''
    const secret = await symmetricEncrypt({ key: SECRET, data: `base32:${base32.encode('12345678901234567890')}` })
    const codes = await symmetricEncrypt({ key: SECRET, data: '[]' })
    await db.execute(
      sql`insert into two_factor (id, secret, backup_codes, user_id) values (${id}, ${secret}, ${codes}, ${id})`,
    )
    await db.execute(sql`update "user" set two_factor_enabled = true where id = ${id}`)
    vi.useFakeTimers({ toFake: ['Date'], now: seconds * 1000 })
    const at = browser()
    expect(await (await at.signIn(email)).json()).toEqual({ ok: true, code: true })
    expect(await at.isIn()).toBe(false)
    const wrong = code.slice(2).replace(/.$/, (digit) => String((Number(digit) + 1) % 10))
    expect((await at.code(wrong)).status).toBe(401)
    expect((await at.code(code.slice(2))).status).toBe(200)
    expect(await at.isIn()).toBe(true)
  })
})

describe('the second factor', () => {
  it('is on once a code has shown that the app knows it, is asked for after the password, and each code is good once', async () => {
    const owner = await server.owner('ann@test.example')
    const later = clock()
    const at = browser()
    await at.signIn('ann@test.example')
    const { uri, codes, codeNow } = await turnOn(at)
    expect(uri).toContain('otpauth://totp/Gentle%20Satchel:ann%40test.example')
    expect(codes).toHaveLength(10)
    expect(await (await at.ask('/api/session')).json()).toMatchObject({ second: true, workspaceId: owner.workspaceId })
    // nothing of it lies there to be read
    const { rows } = await server.parts.deps.db.execute(sql`select * from two_factor`)
    for (const text of [secretOf(uri), ...codes]) expect(JSON.stringify(rows)).not.toContain(text)

    later()
    const other = browser()
    expect(await (await other.signIn('ann@test.example')).json()).toEqual({ ok: true, code: true })
    expect(await other.isIn()).toBe(false)
    const code = await codeNow()
    expect(await (await other.code(code)).json()).toEqual({ ok: true })
    expect(await other.isIn()).toBe(true)
    // whoever has seen it over a shoulder is not let in by it
    const thief = browser()
    await thief.signIn('ann@test.example')
    const again = await thief.code(code)
    expect([again.status, await sentenceOf(again)]).toEqual([401, expect.stringContaining('used already')])
    expect(await thief.isIn()).toBe(false)
    // a code without the password is nothing
    later()
    expect((await browser().code(await codeNow())).status).toBe(401)
  })

  it('a recovery code lets in once, and new ones end the old ones', async () => {
    await server.owner('bo@test.example')
    clock()
    const at = browser()
    await at.signIn('bo@test.example')
    const { codes } = await turnOn(at)
    const use = async (code: string) => {
      const other = browser()
      await other.signIn('bo@test.example')
      return (await other.code(code)).status
    }
    expect(await use(codes[0] ?? '')).toBe(200)
    expect(await use(codes[0] ?? '')).toBe(401)
    const made = await at.ask('/api/session/second/codes', { password: PASSWORD })
    const fresh = ((await made.json()) as { codes: string[] }).codes
    expect(await use(codes[1] ?? '')).toBe(401)
    expect(await use(fresh[1] ?? '')).toBe(200)
  })

  it('is turned off with the password, and then the password is enough; guessing it there is held up', async () => {
    await server.owner('cy@test.example')
    clock()
    const at = browser()
    await at.signIn('cy@test.example')
    await turnOn(at)
    const twice = await at.ask('/api/session/second/begin', { password: PASSWORD })
    expect(twice.status).toBe(409)
    for (let n = 0; n < 4; n++)
      expect((await at.ask('/api/session/second/end', { password: `guess ${n}` })).status).toBe(n < 4 ? 422 : 429)
    expect((await at.ask('/api/session/second/end', { password: PASSWORD })).status).toBe(429)
    const other = browser()
    await other.signIn('cy@test.example')
    expect(await other.isIn()).toBe(false)
  })

  it('guessing codes is held up, for the account and whatever browser it is from', async () => {
    await server.owner('di@test.example')
    const later = clock()
    const at = browser()
    await at.signIn('di@test.example')
    const { codeNow } = await turnOn(at)
    later()
    const tries: number[] = []
    for (let n = 0; n < 14; n++) {
      const thief = browser()
      await thief.signIn('di@test.example')
      tries.push((await thief.code(String(n).padStart(6, '0'))).status)
    }
    expect(tries.filter((status) => status === 200)).toEqual([])
    expect(tries.at(-1)).toBe(429)
    const late = browser()
    await late.signIn('di@test.example')
    expect((await late.code(await codeNow())).status).toBe(429)
  })

  it('does not begin without the password, nor for who is not signed in', async () => {
    await server.owner('ed@test.example')
    const at = browser()
    expect((await at.ask('/api/session/second/begin', { password: PASSWORD })).status).toBe(401)
    await at.signIn('ed@test.example')
    expect((await at.ask('/api/session/second/begin', { password: 'not it at all' })).status).toBe(422)
    expect((await at.ask('/api/session/second/confirm', { code: '123456' })).status).toBe(422)
    expect(await (await at.ask('/api/session')).json()).toMatchObject({ second: false })
  })
})

describe('a password by mail', () => {
  const lettersTo = async (address: string) =>
    (await Promise.all(box.ids().map((id) => box.read(id)))).filter((letter) => letter?.to === address)
  /** A link that came to an address. @param had One that came before. */
  const linkTo = (address: string, had = '') =>
    until(async () => {
      const text = JSON.stringify(await lettersTo(address))
      const tokens = [...text.matchAll(new RegExp(`${server.url}/reset/([\\w-]+)`, 'g'))].map(([, token]) => token)
      return tokens.find((token) => token !== had)
    })

  it('comes by a link that is good once; all sign-ins end', async () => {
    const owner: Person = await server.owner('fay@test.example')
    expect((await owner.request('/api/sets')).status).toBe(200)
    const at = browser()
    expect(await (await at.ask('/api/session/forgotten', { email: 'Fay@test.example' })).json()).toEqual({ ok: true })
    const token = await linkTo('fay@test.example')
    const next = 'barges-tallow-nine'
    expect((await at.ask('/api/session/reset', { token, next: 'password123' })).status).toBe(422)
    expect((await at.ask('/api/session/reset', { token, next })).status).toBe(200)
    const again = await at.ask('/api/session/reset', { token, next: 'another-tallow-four' })
    expect([again.status, await sentenceOf(again)]).toEqual([404, expect.stringContaining('used already')])
    expect((await owner.request('/api/sets')).status).toBe(401)
    await expect(signIn(server.url, 'fay@test.example', PASSWORD)).rejects.toThrow('401')
    await signIn(server.url, 'fay@test.example', next)
    // a copy of the database opens no account
    await at.ask('/api/session/forgotten', { email: 'fay@test.example' })
    const second = await linkTo('fay@test.example', token)
    const { rows } = await server.parts.deps.db.execute(sql`select * from verification`)
    expect(JSON.stringify(rows)).not.toContain(second)
  })

  it('says the same of an address that nobody has, and fills nobody’s mailbox', async () => {
    await server.owner('gus@test.example')
    const at = browser()
    const ask = async (email: string) => {
      const answer = await at.ask('/api/session/forgotten', { email })
      return [answer.status, await answer.text()]
    }
    const known = await ask('gus@test.example')
    expect(await ask('nobody@test.example')).toEqual(known)
    for (let n = 0; n < 4; n++) await ask('gus@test.example')
    await linkTo('gus@test.example')
    expect((await lettersTo('gus@test.example')).length).toBeLessThanOrEqual(3)
    expect(await lettersTo('nobody@test.example')).toEqual([])
    const answers = await Promise.all(Array.from({ length: 12 }, (_, n) => ask(`many${n}@test.example`)))
    expect(answers.some(([status]) => status === 429)).toBe(true)
  })

  it('is not offered where no mails are sent', async () => {
    const other = await startTestServer(inject('databaseUrl'))
    try {
      await other.owner('hal@test.example')
      const headers = { origin: other.url, 'content-type': 'application/json' }
      const body = JSON.stringify({ email: 'hal@test.example' })
      const answer = await fetch(`${other.url}/api/session/forgotten`, { method: 'POST', headers, body })
      expect([answer.status, await sentenceOf(answer)]).toEqual([409, expect.stringContaining('sends no mails')])
      expect(await (await fetch(`${other.url}/api/session`)).json()).toMatchObject({ sendsMails: false })
    } finally {
      await other.close()
    }
  })
})
