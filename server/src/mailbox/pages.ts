import { Hono } from 'hono'
import { html, raw } from 'hono/html'
import type { LetterBox } from './letter-box.ts'

/** Letters of one page. */
const SHOWN = 100

const LOOK = `
  body { margin: 0; background: #dfe6ea; color: #17242b; font: 15px/1.5 ui-monospace, monospace }
  main { max-width: 56rem; margin: 0 auto; padding: 2rem 1.25rem }
  h1 { font-size: 1.25rem; border-left: 0.5rem solid #2c5a72; padding-left: 0.75rem }
  ol { list-style: none; padding: 0; margin: 0 }
  li { border-bottom: 1px dashed #8aa0ab; padding: 0.6rem 0 }
  a { color: #1c4f6b }
  dt { float: left; clear: left; width: 6rem; color: #4a5f6a }
  dd { margin: 0 0 0 6rem; overflow-wrap: anywhere }
  pre, iframe { background: #fff; border: 1px solid #8aa0ab; padding: 1rem; white-space: pre-wrap; overflow-wrap: anywhere }
  iframe { width: 100%; height: 26rem; box-sizing: border-box; padding: 0 }
  @media (prefers-color-scheme: dark) {
    body { background: #1a2429; color: #dfe6ea } a { color: #9cc9e0 } dt { color: #9db0ba } pre { background: #11191d }
  }`

/**
 * What arrived, to be read: a page of all letters, and one of each.
 * @param isOurs Whether it was asked by its own name: another one leads a browser here under somebody else's rights.
 */
export function letterPages(box: LetterBox, isOurs: (host: string | undefined) => boolean) {
  const app = new Hono()
  app.use('*', async (c, next) => {
    if (!isOurs(c.req.header('host'))) return c.text('The letter box has another address.', 421)
    return next()
  })
  app.use('*', async (c, next) => {
    await next()
    // what a letter brings runs nothing and fetches nothing
    c.header(
      'content-security-policy',
      "default-src 'none'; style-src 'unsafe-inline'; frame-src 'self'; frame-ancestors 'self'",
    )
    c.header('x-content-type-options', 'nosniff')
    c.header('cache-control', 'no-store')
  })
  app.get('/', async (c) => {
    const ids = box.ids()
    const letters = await Promise.all(ids.slice(0, SHOWN).map((id) => box.read(id)))
    const lines = letters.map((letter) =>
      letter
        ? html`<li>
            <a href="/letters/${letter.id}">${letter.email.subject || 'no subject'}</a><br />
            to ${letter.to}, ${letter.at.toISOString().slice(0, 16).replace('T', ' ')} UTC
          </li>`
        : html`<li>A letter that cannot be read.</li>`,
    )
    const count = ids.length === 1 ? '1 letter' : `${ids.length} letters`
    return c.html(
      page(
        'Letter box of this machine',
        html`<p>${count} came in${ids.length > SHOWN ? `; the newest ${SHOWN} are shown` : ''}. Nothing here goes any further.</p>
          <ol>
            ${lines}
          </ol>`,
      ),
    )
  })
  app.get('/letters/:id', async (c) => {
    const letter = await box.read(c.req.param('id'))
    if (!letter) return c.html(page('Not here', html`<p>This letter is gone. <a href="/">All letters</a></p>`), 404)
    const { email, to, at, id } = letter
    const facts: [string, string][] = [
      ['From', `${email.from?.name ?? ''} ${email.from?.address ?? ''}`.trim()],
      ['To', to],
      ['Came', at.toISOString()],
      ['Stop', email.headers.find(({ key }) => key === 'list-unsubscribe')?.value ?? 'not said'],
    ]
    return c.html(
      page(
        email.subject || 'no subject',
        html`<dl>
            ${facts.map(
              ([name, value]) => html`<dt>${name}</dt>
                <dd>${value}</dd>`,
            )}
          </dl>
          <h2>As text</h2>
          <pre>${withLinks(email.text ?? 'none')}</pre>
          ${
            email.html
              ? html`<h2>As a page</h2>
                <iframe sandbox="" title="The letter as a page" src="/letters/${id}/page"></iframe>`
              : ''
          }
          <p><a href="/">All letters</a></p>`,
      ),
    )
  })
  app.get('/letters/:id/page', async (c) => {
    const letter = await box.read(c.req.param('id'))
    return c.html(letter?.email.html ?? '')
  })
  return app
}

const ADDRESS = /https?:\/\/[^\s<>"]{1,1000}/g
/** A text whose addresses can be pressed. */
function withLinks(text: string) {
  const pieces: unknown[] = []
  let at = 0
  for (const found of text.matchAll(ADDRESS)) {
    pieces.push(text.slice(at, found.index), html`<a href="${found[0]}" rel="noreferrer">${found[0]}</a>`)
    at = found.index + found[0].length
  }
  return [...pieces, text.slice(at)].map((piece) => (typeof piece === 'string' ? html`${piece}` : piece)) as ReturnType<
    typeof html
  >[]
}

const page = (title: string, content: ReturnType<typeof html>) => html`<!doctype html>
  <html lang="en">
    <head>
      <meta charset="utf-8" />
      <meta name="viewport" content="width=device-width" />
      <title>${title}</title>
      <style>
        ${raw(LOOK)}
      </style>
    </head>
    <body>
      <main>
        <h1>${title}</h1>
        ${content}
      </main>
    </body>
  </html>`
