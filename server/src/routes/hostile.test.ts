import { connect } from 'node:net'
import pMap from 'p-map'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { type EveryRoute, type Route, startWithAll } from '../testing/every-route.ts'
import type { Person, TestServer } from '../testing/test-server.ts'

/** Some thousand requests, of which some start work that is really done: on a busy machine that takes its time. */
const PATIENCE_MS = 600_000

/** What no sane client sends. */
const TEXTS = [
  '',
  ' ',
  'a\u0000b',
  '\ud800',
  '\u202e\u200b',
  '%',
  '../../x',
  '1e999',
  '-1',
  '1.5',
  '99999999999999999999',
  "' or 1=1 --",
  'x'.repeat(5000),
]
const VALUES: readonly unknown[] = [
  '',
  'a\u0000b',
  '\ud800',
  '\u202e\u200b',
  'x'.repeat(5000),
  null,
  true,
  -1,
  1.5,
  1e300,
  2 ** 53,
  [],
  {},
  [['a']],
  [null],
  ['a\u0000b'],
  { a: { b: 'c\u0000' } },
]
/** Those of them that may be taken for something else in an address. */
const IN_QUERY = ['', 'a\u0000b', '\ud800', '1e999', '-1', '99999999999999999999']
/** Names that routes read from an address, by what the routes end with. */
const QUERY: readonly [RegExp, readonly string[]][] = [
  [/\.png$/, ['size', 'version', 'side', 'reading', 'frame', 'stroke']],
  [/brushes(\/count|\/ids)?$/, ['q', 'tag', 'maker', 'setId', 'from', 'limit', 'sort', 'sizeFrom', 'sizeTo', 'bin', 'loose', 'reading', 'frames']],
  [/./, ['bin', 'path']],
] // biome-ignore format: a table
const namesOf = (path: string) => QUERY.find(([ends]) => ends.test(path))?.[1] ?? []

let server: TestServer
let owner: Person
let every: EveryRoute
beforeAll(async () => {
  ;({ server, owner, every } = await startWithAll(inject('databaseUrl')))
})
afterAll(() => server.close())

/** A lone surrogate cannot be written in an address; it is sent as the bytes that would stand for it. */
const encode = (text: string) => (text === '\ud800' ? '%ED%A0%80' : encodeURIComponent(text))
/** Routes whose success would end the things the others are asked for. */
const ENDS = /^(DELETE|POST \/api\/(gathers\/:id\/(cancel|take)|brushes\/empty-bin))/
const isAsked = ({ method, path }: Route) => path !== '/api/workspace/events' && !ENDS.test(`${method} ${path}`)

/** Answers that are a fault of the server, or that say nothing. */
async function faultOf(what: string, response: Response): Promise<string[]> {
  const text = await response.text()
  if (response.status >= 500) return [`${what} answered ${response.status}: ${text}`]
  if (response.status < 400) return []
  const { title } = JSON.parse(text) as { title: string }
  return title.length > 10 ? [] : [`${what} said nothing: ${text}`]
}

describe('what no sane client sends is answered with a sentence', () => {
  it('in the place of every part of an address', async () => {
    const faults: string[] = []
    for (const route of every.routes.filter(isAsked)) {
      const parts = route.path.split('/').filter((part) => part.startsWith(':'))
      for (const part of parts)
        for (const text of TEXTS.filter((each) => each.trim() !== '' && each.length < 5000)) {
          const path = every.fill(route.path.replace(part, '@')).replace('@', encode(text))
          const { method } = route
          const body = method === 'GET' ? null : JSON.stringify(every.bodyOf(route))
          const response = await owner.request(path, { method, headers: { 'content-type': 'application/json' }, body })
          faults.push(...(await faultOf(`${method} ${path}`, response)))
        }
    }
    expect(faults).toEqual([])
  })

  it('in every name that an address may hold', async () => {
    const paths = every.routes
      .filter((each) => each.method === 'GET' && isAsked(each))
      .flatMap(({ path }) =>
        namesOf(path).flatMap((name) => IN_QUERY.map((text) => `${every.fill(path)}?${name}=${encode(text)}`)),
      )
    const faults = await pMap(paths, async (path) => faultOf(path, await owner.request(path)), { concurrency: 8 })
    expect(faults.flat()).toEqual([])
  })

  it(
    'in every field of every body, and in place of the whole',
    async () => {
      const faults: string[] = []
      for (const route of every.routes.filter((each) => each.method !== 'GET' && isAsked(each))) {
        const whole = every.bodyOf(route)
        const bodies = VALUES.flatMap((value) => [
          value,
          ...Object.keys(whole).map((key) => ({ ...whole, [key]: value })),
        ])
        for (const body of [...bodies.map((each) => JSON.stringify(each)), '', '{', '\u0000', '"\\ud800"']) {
          const { method } = route
          const response = await owner.request(every.fill(route.path), {
            method,
            headers: { 'content-type': 'application/json' },
            body,
          })
          faults.push(...(await faultOf(`${method} ${route.path} ${body.slice(0, 200)}`, response)))
        }
      }
      expect(faults).toEqual([])
    },
    PATIENCE_MS,
  )

  it('in an address that is none', async () => {
    for (const target of [
      '/%',
      '/a%00.png',
      '/%ff',
      '/api/%',
      '/api/brushes/%',
      `/${'a'.repeat(9000)}`,
      '/assets/../../etc/passwd',
      '/api/h/%00/download',
    ])
      expect([target, await statusOf(target)]).not.toEqual([target, expect.stringMatching(/^(5|none)/)])
  })
})

/** The status of a request for an address as it stands, which no client library would send. */
function statusOf(target: string): Promise<string> {
  const { hostname, port } = new URL(server.url)
  return new Promise((done) => {
    const socket = connect(Number(port), hostname, () =>
      socket.write(`GET ${target} HTTP/1.1\r\nHost: ${hostname}\r\nConnection: close\r\n\r\n`),
    )
    let text = ''
    socket.on('data', (data) => {
      text += data
    })
    socket.on('close', () => done(/^HTTP\/1.1 (\d+)/.exec(text)?.[1] ?? 'none'))
    socket.on('error', () => done('none'))
  })
}
