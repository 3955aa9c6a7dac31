import { Hono } from 'hono'
import { html } from 'hono/html'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { setNoMail } from '../db/mails.ts'
import { Problem } from '../errors.ts'
import { readStopToken } from '../mail/write-mails.ts'
import { valid } from './validate.ts'

const Token = v.object({ token: v.pipe(v.string(), v.minLength(1), v.maxLength(600)) })
const Uuid = v.pipe(v.string(), v.uuid())

/** Where a mail's reader says that no more shall come: a page to press a button, and what mail programs press by themselves. */
export const stopMailRoutes = (deps: AppDeps) => {
  const whose = (token: string) => {
    const found = readStopToken(deps, token)
    if (!found || !v.is(Uuid, found.recipientId))
      throw new Problem(404, 'This address leads nowhere. Check that it was copied whole.')
    return found
  }
  return (
    new Hono()
      .use('/:token', async (c, next) => {
        await deps.limits.takeLink(c.req.param('token'))
        await next()
      })
      // looking changes nothing: mail programs open addresses to see whether they are safe
      .get('/:token', valid('param', Token), (c) => {
        whose(c.req.valid('param').token)
        return c.html(page('No more mails?', html`<form method="post"><button>Send me no more mails</button></form>`))
      })
      .post('/:token', valid('param', Token), async (c) => {
        const { workspaceId, recipientId } = whose(c.req.valid('param').token)
        await setNoMail(deps.db, workspaceId, recipientId, new Date())
        await deps.events.publish({ workspaceId, topic: 'packs' })
        return c.html(page('No more mails will come.', html`<p>The links that you have stay as they are.</p>`))
      })
  )
}

const page = (title: string, content: ReturnType<typeof html>) => html`<!doctype html>
  <html lang="en">
    <head>
      <meta charset="utf-8" />
      <meta name="viewport" content="width=device-width" />
      <title>${title}</title>
    </head>
    <body>
      <main>
        <h1>${title}</h1>
        ${content}
      </main>
    </body>
  </html>`
