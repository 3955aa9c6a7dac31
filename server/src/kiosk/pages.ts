import { type Context, Hono } from 'hono'
import { html, raw } from 'hono/html'
import * as v from 'valibot'
import type { Till } from './till.ts'

const LOOK = `
  body { margin: 0; background: #fbe9c6; color: #2b1a10; font: 17px/1.5 Georgia, serif }
  header { background: repeating-linear-gradient(90deg, #b5392b 0 2.5rem, #fff6e2 2.5rem 5rem); height: 2.5rem; border-radius: 0 0 1rem 1rem }
  main { max-width: 46rem; margin: 0 auto; padding: 1.5rem 1.25rem 3rem }
  h1 { font-size: 2rem; margin: 0.5rem 0 1rem }
  .goods { display: grid; gap: 1rem; grid-template-columns: repeat(auto-fill, minmax(14rem, 1fr)); padding: 0; list-style: none }
  .goods li, form.card { background: #fffaf0; border: 2px solid #2b1a10; border-radius: 0.5rem; padding: 1rem }
  label { display: block; margin: 0.5rem 0 }
  input { font: inherit; width: 100%; box-sizing: border-box; padding: 0.35rem 0.5rem; border: 1px solid #2b1a10; background: #fff }
  button, .press { font: inherit; background: #b5392b; color: #fff; border: 0; border-radius: 2rem; padding: 0.4rem 1.2rem; text-decoration: none; cursor: pointer; display: inline-block }
  button.plain { background: none; color: #8c2a1f; text-decoration: underline; padding: 0.2rem 0.4rem }
  table { border-collapse: collapse; width: 100%; font-size: 0.9rem } td, th { text-align: left; padding: 0.3rem 0.5rem; border-bottom: 1px solid #c9ab7c; vertical-align: top; overflow-wrap: anywhere }
  a { color: #8c2a1f } nav { font-size: 0.9rem } form.inline { display: inline }
  button:focus-visible, a:focus-visible, input:focus-visible { outline: 3px solid #1c4f6b; outline-offset: 2px }`

const short = (most: number) => v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(most))
const Buying = v.object({ product: short(200), name: short(120), email: v.pipe(short(254), v.email()) })
const Goods = v.object({ code: v.pipe(short(60), v.regex(/^[\w.-]+$/)), title: short(120), price: short(20) })
const Named = v.object({ id: short(200) })
const Setting = v.object({
  name: short(120),
  address: v.pipe(short(500), v.url()),
  secret: v.pipe(short(200), v.regex(/^whsec_[A-Za-z0-9+/=]+$/)),
})

/**
 * The shop as buyers see it, and its back room for who keeps it.
 * @param isOurs Whether it was asked by its own name.
 */
export function kioskPages(till: Till, isOurs: (host: string | undefined) => boolean) {
  const app = new Hono()
  app.use('*', async (c, next) => {
    if (!isOurs(c.req.header('host'))) return c.text('The kiosk has another address.', 421)
    // a form of another site sells nothing and gives nothing back
    const origin = c.req.header('origin')
    if (c.req.method !== 'GET' && origin !== undefined && origin !== new URL(c.req.url).origin)
      return c.text('This came from another site.', 403)
    await next()
    c.header(
      'content-security-policy',
      "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; frame-ancestors 'none'",
    )
    c.header('x-content-type-options', 'nosniff')
    c.header('referrer-policy', 'same-origin')
  })
  const read = async <Schema extends v.GenericSchema>(c: { req: { parseBody(): Promise<object> } }, schema: Schema) => {
    const said = v.safeParse(schema, await c.req.parseBody())
    return said.success ? said.output : undefined
  }
  const wrong = (what: string) =>
    page(till, 'That did not work', html`<p>${what}</p><p><a href="/">Back to the kiosk</a></p>`)

  app.get('/', (c) =>
    c.html(
      page(
        till,
        till.state.name,
        html`${till.state.products.length === 0 ? html`<p>Nothing is for sale yet.</p>` : ''}
          <ul class="goods">
            ${till.state.products.map(
              ({ code, title, price }) =>
                html`<li>
                  <h2>${title}</h2>
                  <p>${price}</p>
                  <a class="press" href="/buy/${code}">Buy</a>
                </li>`,
            )}
          </ul>
          <nav><a href="/back-room">Back room</a></nav>`,
      ),
    ),
  )
  app.get('/buy/:code', (c) => {
    const product = till.state.products.find(({ code }) => code === c.req.param('code'))
    if (!product) return c.html(wrong('This is not sold here any more.'), 404)
    return c.html(
      page(
        till,
        product.title,
        html`<form class="card" method="post" action="/buy">
          <p>${product.price}. Nothing is paid here for real.</p>
          <input type="hidden" name="product" value="${product.code}" />
          <label>Your name <input name="name" required maxlength="120" /></label>
          <label>Where it is sent <input name="email" type="email" required maxlength="254" /></label>
          <button>Pay ${product.price}</button>
        </form>`,
      ),
    )
  })
  app.post('/buy', async (c) => {
    const wish = await read(c, Buying)
    const order = wish && till.sell(wish.product, wish.name, wish.email)
    if (!order) return c.html(wrong('A name and a mail address are needed, and something that is sold here.'), 422)
    return c.html(
      page(
        till,
        'Thank you',
        html`<p>Order ${order.id}. A letter with your link goes to ${order.email}.</p><p><a href="/">Back to the kiosk</a></p>`,
      ),
    )
  })
  app.get('/back-room', (c) => c.html(page(till, 'Back room', backRoom(till))))
  const act =
    <Schema extends v.GenericSchema>(schema: Schema, what: string, deed: (said: v.InferOutput<Schema>) => void) =>
    async (c: Context) => {
      const said = await read(c, schema)
      if (said === undefined) return c.html(wrong(what), 422)
      deed(said)
      return c.redirect('/back-room', 303)
    }
  app.post(
    '/refund',
    act(Named, 'Which order?', ({ id }) => till.refund(id)),
  )
  app.post(
    '/again',
    act(Named, 'Which message?', ({ id }) => till.again(id)),
  )
  app.post(
    '/goods',
    act(Goods, 'A code of letters, digits, dots and dashes, a title and a price are needed.', (goods) =>
      till.addProduct(goods),
    ),
  )
  app.post(
    '/goods/drop',
    act(Named, 'Which product?', ({ id }) => till.dropProduct(id)),
  )
  app.post(
    '/setting',
    act(Setting, 'An address and a secret that begins with whsec_ are needed.', ({ name, address, secret }) =>
      till.set({ name, tells: { address, secret } }),
    ),
  )
  return app
}

const button = (action: string, id: string, words: string) =>
  html`<form class="inline" method="post" action="${action}">
    <input type="hidden" name="id" value="${id}" /><button class="plain">${words}</button>
  </form>`

function backRoom({ state }: Till) {
  const { orders, events, products, tells, name } = state
  return html`<nav><a href="/">The kiosk</a></nav>
    <h2>Orders</h2>
    <table>
      <tr><th>Order</th><th>What</th><th>Who</th><th></th></tr>
      ${orders.slice(0, 100).map(
        (order) =>
          html`<tr>
            <td>${order.id}</td>
            <td>${order.product}</td>
            <td>${order.name}, ${order.email}</td>
            <td>${order.refundedAt === null ? button('/refund', order.id, 'Give the money back') : 'money back'}</td>
          </tr>`,
      )}
    </table>
    <h2>Goods</h2>
    <table>
      ${products.map(
        ({ code, title, price }) =>
          html`<tr><td>${code}</td><td>${title}</td><td>${price}</td><td>${button('/goods/drop', code, 'Sell it no more')}</td></tr>`,
      )}
    </table>
    <form class="card" method="post" action="/goods">
      <label>Code <input name="code" required /></label>
      <label>Title <input name="title" required /></label>
      <label>Price <input name="price" required /></label>
      <button>Put on the shelf</button>
    </form>
    <h2>Told of sales</h2>
    <table>
      ${events.slice(0, 100).map(
        (event) =>
          html`<tr>
            <td>${(JSON.parse(event.body) as { type: string }).type}<br /><small>${event.id}</small></td>
            <td>${event.isTaken ? 'taken' : event.nextAt === null ? 'given up' : 'waits'}, ${event.tries} tries<br /><small>${event.said}</small></td>
            <td>${button('/again', event.id, 'Tell it again')}</td>
          </tr>`,
      )}
    </table>
    <h2>Who is told</h2>
    <form class="card" method="post" action="/setting">
      <label>Name over the door <input name="name" value="${name}" required /></label>
      <label>Address <input name="address" value="${tells?.address ?? ''}" required /></label>
      <label>Secret <input name="secret" value="${tells?.secret ?? ''}" required autocomplete="off" /></label>
      <button>Keep</button>
    </form>`
}

const page = (till: Till, title: string, content: ReturnType<typeof html>) => html`<!doctype html>
  <html lang="en">
    <head>
      <meta charset="utf-8" />
      <meta name="viewport" content="width=device-width" />
      <title>${title} · ${till.state.name}</title>
      <style>
        ${raw(LOOK)}
      </style>
    </head>
    <body>
      <header></header>
      <main>
        <h1>${title}</h1>
        ${content}
      </main>
    </body>
  </html>`
