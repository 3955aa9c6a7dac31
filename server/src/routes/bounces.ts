import type { HttpBindings } from '@hono/node-server'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { noteReturned } from '../db/mails.ts'
import { Problem } from '../errors.ts'
import { mailOfAddress } from '../mail/return-address.ts'
import { readAtMost } from './body.ts'
import { valid } from './validate.ts'

/** A letter that comes back holds the mail that it is about, or the head of it. */
const LETTER_MAX_BYTES = 512 * 1024
const To = v.object({ to: v.pipe(v.string(), v.maxLength(320)) })

/**
 * Where the operator's mail server hands over what came back, as it is. The address that it came to says which mail it was, and that
 * whoever sent it was sent that mail.
 */
export const bounceRoutes = (deps: AppDeps) =>
  new Hono<{ Bindings: Partial<HttpBindings> }>().post('/', valid('query', To), async (c) => {
    const mailId = mailOfAddress(deps, c.req.valid('query').to)
    if (mailId === undefined) throw new Problem(404, 'No mail of ours comes back to this address.')
    await deps.limits.takeLink(mailId)
    const letter = await readAtMost(c, LETTER_MAX_BYTES)
    if (!letter) throw new Problem(413, 'A letter that comes back has at most 512 KiB; send its head and its report.')
    const told = await deps.workers.run('readReturned', { letter })
    // somebody's own answer, of a holiday say, is no report
    if (!told) return c.json({ taken: false })
    const workspaceId = await noteReturned(deps.db, mailId, told)
    if (workspaceId) await deps.events.publish({ workspaceId, topic: 'packs' })
    return c.json({ taken: workspaceId !== undefined })
  })
