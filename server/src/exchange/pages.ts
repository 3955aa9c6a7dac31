import { keyOfKept } from '@satchel/core/alike/alike-print'
import {
  EXCHANGE_PATH,
  type ExchangeCard,
  ItemId,
  MARK_MAX_CHARS,
  Withdrawal,
  withdrawalText,
} from '@satchel/core/exchange/protocol'
import { toUtf8 } from '@satchel/core/formats/text'
import { checkSignature } from '@satchel/node/signature'
import { type Context, Hono } from 'hono'
import { bodyLimit } from 'hono/body-limit'
import { html, raw } from 'hono/html'
import * as v from 'valibot'
import { TaskGivenUp } from '../errors.ts'
import type { ShedItem } from './item.ts'
import { findItems, findLikeMark, toFeed, toItemPage } from './listing.ts'
import { NotTaken, type Shed } from './shed.ts'

/** What a release may be here. */
const PACK_MAX_BYTES = 64 * 1024 ** 2
const JSON_MAX_BYTES = 16 * 1024
/** How old a withdrawal may be when it comes: one that was seen once takes nothing away later. */
const WITHDRAWAL_MS = 10 * 60_000

const Query = v.object({
  q: v.optional(v.pipe(v.string(), v.maxLength(200)), ''),
  maker: v.optional(v.pipe(v.string(), v.maxLength(200)), ''),
  at: v.optional(v.pipe(v.string(), v.regex(/^\d{1,6}$/), v.transform(Number)), '0'),
  mark: v.optional(v.pipe(v.string(), v.regex(/^[A-Za-z0-9_-]*$/), v.maxLength(MARK_MAX_CHARS)), ''),
})
/** What goes with a release beside the pack: said in the address, since the body is the pack. */
const About = v.object({
  about: v.optional(v.pipe(v.string(), v.maxLength(2_000)), ''),
  notes: v.optional(v.pipe(v.string(), v.maxLength(2_000)), ''),
  tags: v.optional(
    v.pipe(
      v.string(),
      v.maxLength(1_000),
      v.transform((tags) => tags.split(',').map((tag) => tag.trim()).filter(Boolean)),
      v.maxLength(30),
    ),
    '',
  ), // biome-ignore format: a pipe
})

const LOOK = `
  body { margin: 0; background: #12343b; color: #e9f1ec; font: 16px/1.55 "Trebuchet MS", Verdana, sans-serif }
  header, main { max-width: 62rem; margin: 0 auto; padding: 1rem 1.5rem }
  header { display: flex; flex-wrap: wrap; gap: 1rem; align-items: baseline; border-bottom: 6px double #e1b382 }
  header a { color: #e1b382; font-size: 1.6rem; text-decoration: none; letter-spacing: 0.08em }
  form { display: flex; gap: 0.5rem } input { font: inherit; padding: 0.3rem 0.6rem; background: #2d545e; color: inherit; border: 1px solid #e1b382 }
  button { font: inherit; padding: 0.3rem 0.9rem; background: #e1b382; color: #12343b; border: 0; cursor: pointer }
  ul.stall { list-style: none; padding: 0; columns: 3 17rem; column-gap: 1rem }
  ul.stall li { break-inside: avoid; margin: 0 0 1rem; background: #2d545e; border-left: 6px solid #e1b382; padding: 0.75rem 1rem }
  img { max-width: 100%; height: auto; display: block; background: #fff; margin: 0.3rem 0 }
  h1, h2 { font-weight: normal; margin: 0.6rem 0 } a { color: #f0cf9f } small { color: #c3d6cf }
  a:focus-visible, button:focus-visible, input:focus-visible { outline: 3px solid #fff }
  table { border-collapse: collapse } td { padding: 0.2rem 1rem 0.2rem 0; vertical-align: top }`

/**
 * The exchange: its listings for programs, and its pages for people.
 * @param isOurs Whether it was asked by its own name.
 */
export function exchangePages(shed: Shed, isOurs: (host: string | undefined) => boolean) {
  const app = new Hono()
  app.use('*', async (c, next) => {
    if (!isOurs(c.req.header('host'))) return c.json({ title: 'The exchange has another address.' }, 421)
    await next()
    c.header(
      'content-security-policy',
      "default-src 'none'; img-src 'self'; style-src 'unsafe-inline'; form-action 'self'; frame-ancestors 'none'",
    )
    c.header('x-content-type-options', 'nosniff')
  })
  app.onError((error, c) => {
    if (error instanceof NotTaken) return c.json({ title: error.message }, error.status)
    // nothing of what strangers send is read for ever
    if (error instanceof TaskGivenUp) return c.json({ title: error.message }, 422)
    console.error(error)
    return c.json({ title: 'The exchange failed at this; try again.' }, 500)
  })
  const said = (c: Context) => {
    const query = v.safeParse(Query, c.req.query())
    if (!query.success) throw new NotTaken(422, 'This is no question that the exchange knows.')
    return { ...query.output, address: new URLSearchParams(new URL(c.req.url).search) }
  }
  const known = (id: string): ShedItem => {
    const item = v.is(ItemId, id) ? shed.find(id) : undefined
    if (!item) throw new NotTaken(404, 'There is no such item at the exchange.')
    if (item.withdrawnAt) throw new NotTaken(410, `"${item.title}" was taken away by its maker.`)
    return item
  }

  const card: ExchangeCard = {
    ...{ exchange: 1, title: shed.name, description: 'Makers share releases with strangers here.' },
    ...{ feed: '/feed.json', like: '/like.json', items: '/items' },
  }
  app.get(EXCHANGE_PATH, (c) => c.json(card))
  app.get('/feed.json', (c) => {
    const { q, maker, at, address } = said(c)
    return c.json(toFeed(shed, findItems(shed, { q, maker }), at, address, '/feed.json'))
  })
  app.get('/like.json', (c) => {
    const { mark, at, address } = said(c)
    const bytes = new Uint8Array(Buffer.from(mark, 'base64url'))
    if (keyOfKept(bytes).length === 0) throw new NotTaken(422, 'This is no mark.')
    const items = findLikeMark(shed, bytes)
    return c.json(toFeed(shed, items, at, address, '/like.json'))
  })
  app.get('/items/:file{[A-Za-z0-9-]+\\.json}', (c) =>
    c.json(toItemPage(known(c.req.param('file').replace(/\.json$/, '')))),
  )
  app.get('/items/:id/:file{.+\\.satchel\\.zip}', (c) => {
    const { title, releases } = known(c.req.param('id'))
    const version = c.req.param('file').replace(/\.satchel\.zip$/, '')
    const release = releases.find((each) => each.version === version)
    if (!release) throw new NotTaken(404, `There is no release ${version.slice(0, 40)} of "${title}".`)
    return c.body(new Uint8Array(shed.readPack(release.sha256)), 200, { 'content-type': 'application/zip' })
  })
  app.get('/pictures/:name{(stroke-)?[0-9a-f]{64}\\.png}', (c) => {
    const png = shed.readPicture(c.req.param('name'))
    return png
      ? c.body(new Uint8Array(png), 200, { 'content-type': 'image/png' })
      : c.json({ title: 'There is no such picture.' }, 404)
  })
  app.put(
    '/items',
    bodyLimit({
      maxSize: PACK_MAX_BYTES,
      onError: (c) => c.json({ title: `A release is ${PACK_MAX_BYTES / 1024 ** 2} MiB at most here.` }, 413),
    }),
    async (c) => {
      const about = v.safeParse(About, c.req.query())
      if (!about.success) throw new NotTaken(422, 'What is said about it is too long.')
      const item = await shed.publish(new Uint8Array(await c.req.arrayBuffer()), about.output)
      return c.json({ id: item.id, version: item.releases[0]?.version, page: `/item/${item.id}` }, 201)
    },
  )
  app.post('/items/:id/withdraw', bodyLimit({ maxSize: JSON_MAX_BYTES }), async (c) => {
    const item = known(c.req.param('id'))
    const wish = v.safeParse(Withdrawal, await c.req.json().catch(() => undefined))
    if (!wish.success) throw new NotTaken(422, 'A moment and a signature are needed to take something away.')
    const { at, signature } = wish.output
    const isNow = Math.abs(Date.now() - Date.parse(at)) < WITHDRAWAL_MS
    const checked = checkSignature(
      item.pem,
      toUtf8(withdrawalText(item.id, at)),
      new Uint8Array(Buffer.from(signature, 'base64url')),
    )
    if (!isNow || !checked?.isValid || checked.fingerprint !== item.signer)
      throw new NotTaken(403, 'Only who published it takes it away, by a signature of this moment.')
    shed.withdraw(item.id, at)
    return c.json({ id: item.id })
  })

  app.get('/', (c) => {
    const { q, maker } = said(c)
    return c.html(page(shed, q, html`<ul class="stall">${findItems(shed, { q, maker }).map(stall)}</ul>`))
  })
  app.get('/item/:id', (c) => c.html(page(shed, '', itemPage(known(c.req.param('id'))))))
  return app
}

const stall = ({ id, title, maker, licence, about, brushes }: ShedItem) =>
  html`<li>
    <h2><a href="/item/${id}">${title}</a></h2>
    <small>${maker}</small>
    ${brushes.slice(0, 2).map(({ stroke }) => html`<img src="/pictures/${stroke}.png" alt="" width="480" height="150" />`)}
    <p>${about}</p>
    <small>${brushes.length} brushes, ${licence}</small>
  </li>`

const itemPage = ({ title, maker, licence, about, releases, brushes }: ShedItem) =>
  html`<h1>${title}</h1>
    <p>by ${maker}, ${licence}</p>
    <p>${about}</p>
    <table>
      ${releases.map(({ version, date, notes }) => html`<tr><td>${version}</td><td>${date.slice(0, 10)}</td><td>${notes}</td></tr>`)}
    </table>
    <ul class="stall">
      ${brushes.map(({ brush, stroke }) => html`<li>${brush.name}<img src="/pictures/${stroke}.png" alt="" width="480" height="150" /></li>`)}
    </ul>`

const page = (shed: Shed, q: string, content: ReturnType<typeof html>) =>
  html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width" />
        <title>${shed.name}</title>
        <style>
          ${raw(LOOK)}
        </style>
      </head>
      <body>
        <header>
          <a href="/">${shed.name}</a>
          <form action="/"><input name="q" value="${q}" aria-label="Words" maxlength="200" /><button>Look for it</button></form>
        </header>
        <main>${content}</main>
      </body>
    </html>`
