import { Zone } from '@satchel/core/editions/moments'
import { MAIL_KIND_NAMES, MAIL_KINDS, MailTemplate } from '@satchel/core/mail/template'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { callOffMails, keepTemplate, listTemplates, setNoMail } from '../db/mails.ts'
import { findPack } from '../db/packs.ts'
import { notFound, Problem } from '../errors.ts'
import { writeMails } from '../mail/write-mails.ts'
import type { SignedIn } from './context.ts'
import { Id, valid } from './validate.ts'

/** Each is sealed on its own, which takes a while for many. */
const MAILS_AT_ONCE = 5000

const Kind = v.picklist(MAIL_KIND_NAMES)
const Ids = v.pipe(
  v.array(v.pipe(v.string(), v.uuid())),
  v.minLength(1),
  v.maxLength(MAILS_AT_ONCE, `${MAILS_AT_ONCE} people are written to at once`),
)
const Writing = v.object({
  kind: Kind,
  ...MailTemplate.entries,
  ids: Ids,
  actId: v.pipe(v.string(), v.uuid()),
  /** Whose days are meant. */
  zone: v.optional(Zone, 'UTC'),
  /** Whether these words stand there the next time. */
  keep: v.optional(v.boolean(), false),
})

/** Mails to people who have a pack. */
export const mailRoutes = (deps: AppDeps) => {
  const { db, events, mailing } = deps
  return (
    new Hono<SignedIn>()
      // the words of each kind, our own where the workspace has none, and through what they go
      .get('/mails/templates', async (c) => {
        const own = new Map((await listTemplates(db, c.get('workspaceId'))).map((each) => [each.kind, each]))
        const templates = MAIL_KIND_NAMES.map((kind) => {
          const { label } = MAIL_KINDS[kind]
          const { subject, body } = own.get(kind) ?? MAIL_KINDS[kind]
          return { kind, label, subject, body }
        })
        return c.json({ templates, from: mailing?.from ?? null, mailbox: mailing?.mailbox ?? null })
      })
      .post('/:id/mails', valid('param', Id), valid('json', Writing), async (c) => {
        const workspaceId = c.get('workspaceId')
        const pack = await findPack(db, workspaceId, c.req.valid('param').id)
        if (!pack) throw notFound('pack')
        if (!mailing)
          throw new Problem(
            409,
            'This server sends no mail; whoever runs it can set SATCHEL_SMTP. Copy the links instead.',
          )
        const { kind, subject, body, ids, actId, zone, keep } = c.req.valid('json')
        if (keep) await keepTemplate(db, workspaceId, kind, { subject, body })
        const result = await writeMails(deps, pack, { kind, template: { subject, body }, ids, actId, zone })
        await events.publish({ workspaceId, topic: 'packs', id: pack.id })
        return c.json(result, 201)
      })
      .post('/hand-outs/mails/call-off', valid('json', v.object({ ids: Ids })), async (c) => {
        const workspaceId = c.get('workspaceId')
        const calledOff = await callOffMails(db, workspaceId, c.req.valid('json').ids)
        await events.publish({ workspaceId, topic: 'packs' })
        return c.json({ calledOff })
      })
      // somebody has said that they want mails after all
      .post('/hand-outs/people/:id/mails-again', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        if (!(await setNoMail(db, workspaceId, c.req.valid('param').id, null))) throw notFound('person')
        await events.publish({ workspaceId, topic: 'packs' })
        return c.json({ ok: true })
      })
  )
}
