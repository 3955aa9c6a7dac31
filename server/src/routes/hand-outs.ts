import { Zone } from '@satchel/core/editions/moments'
import { DownloadLimit } from '@satchel/core/forms/hand-out'
import { Name } from '@satchel/core/forms/names'
import { CopyMark } from '@satchel/core/pack/issued/mark'
import { MailAddress } from '@satchel/core/people/mail-address'
import { NOTE_MAX_CHARS, PEOPLE_AT_ONCE } from '@satchel/core/people/read-people'
import { type Context, Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { countFigures } from '../db/figures.ts'
import { listHandOutNotes, markHandOutNote } from '../db/hand-out-notes.ts'
import { listHandOuts, updateHandOut } from '../db/hand-outs.ts'
import { findPack } from '../db/packs.ts'
import { updateRecipient } from '../db/recipients.ts'
import { notFound, Problem } from '../errors.ts'
import { changeTerms, createHandOut, createHandOuts, openLinks, renewLink } from '../hand-out/hand-outs.ts'
import { whoseCopies } from '../hand-out/issue.ts'
import { countLessons } from '../hand-out/lesson-figures.ts'
import type { SignedIn } from './context.ts'
import { about } from './noted.ts'
import { Id, valid } from './validate.ts'

/** Hand-outs of one request: all that a page of people has chosen. */
const HAND_OUTS_AT_ONCE = 20_000
const MARKS_AT_ONCE = 100

const Uuid = v.pipe(v.string(), v.uuid())
const When = v.nullable(v.pipe(v.string(), v.isoTimestamp('an end is a date and time')))
const Terms = v.object({
  releaseId: Uuid,
  endsAt: v.optional(When),
  downloadLimit: v.optional(v.nullable(DownloadLimit)),
  follows: v.optional(v.boolean(), false),
  editionId: v.optional(v.nullable(Uuid), null),
})
const NewHandOut = v.object({ ...Terms.entries, name: Name })
const Person = v.object({
  name: Name,
  email: MailAddress,
  note: v.pipe(v.string(), v.trim(), v.maxLength(NOTE_MAX_CHARS, `a note may have ${NOTE_MAX_CHARS} characters`)),
})
const NewHandOuts = v.object({
  ...Terms.entries,
  batchId: Uuid,
  people: v.pipe(
    v.array(Person),
    v.minLength(1, 'somebody is needed'),
    v.maxLength(PEOPLE_AT_ONCE, `${PEOPLE_AT_ONCE} people go at once`),
  ),
})
const InZone = v.object({ zone: v.optional(Zone, 'UTC') })
const Read = v.object({ isRead: v.boolean() })
/** What was found in files that somebody shows. */
const Marks = v.object({ marks: v.pipe(v.array(CopyMark), v.maxLength(MARKS_AT_ONCE)) })
const Ids = v.object({ ids: v.pipe(v.array(Uuid), v.minLength(1), v.maxLength(HAND_OUTS_AT_ONCE)) })
const Changes = v.object({
  changes: v.pipe(
    v.array(
      v.strictObject({
        id: Uuid,
        withdrawnAt: v.optional(When),
        endsAt: v.optional(When),
        downloadLimit: v.optional(v.nullable(DownloadLimit)),
        follows: v.optional(v.boolean()),
        releaseId: v.optional(Uuid),
        editionId: v.optional(v.nullable(Uuid)),
      }),
    ),
    v.minLength(1),
    v.maxLength(HAND_OUTS_AT_ONCE),
  ),
})

const toDate = (text: string | null | undefined) => (text ? new Date(text) : (text as null | undefined))
const toTerms = ({ endsAt, downloadLimit = null, ...rest }: v.InferOutput<typeof Terms>) => ({
  ...rest,
  downloadLimit,
  endsAt: endsAt ? new Date(endsAt) : null,
})

/** Releases given to people through links. */
export const handOutRoutes = (deps: AppDeps) => {
  const { db, events, origin } = deps
  const changed = (workspaceId: string) => events.publish({ workspaceId, topic: 'packs' })
  const linkOf = (token: string) => `${origin}/h/${token}`
  const setWithdrawn = async (c: Context<SignedIn>, id: string, withdrawnAt: Date | null) => {
    const handOut = await updateHandOut(db, c.get('workspaceId'), id, { withdrawnAt })
    if (!handOut) throw notFound('hand-out')
    about(c, handOut.name)
    await changed(c.get('workspaceId'))
  }
  return (
    new Hono<SignedIn>()
      .get('/:id/people', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await findPack(db, workspaceId, id))) throw notFound('pack')
        return c.json({ handOuts: await listHandOuts(db, workspaceId, id) })
      })
      .get('/:id/figures', valid('param', Id), valid('query', InZone), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await findPack(db, workspaceId, id))) throw notFound('pack')
        const figures = await countFigures(db, { workspaceId, packId: id, zone: c.req.valid('query').zone })
        return c.json({ ...figures, lessons: await countLessons(db, workspaceId, id, new Date()) })
      })
      .get('/:id/hand-outs/notes', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await findPack(db, workspaceId, id))) throw notFound('pack')
        return c.json({ notes: await listHandOutNotes(db, workspaceId, id) })
      })
      .put('/hand-outs/note/:id', valid('param', Id), valid('json', Read), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await markHandOutNote(db, workspaceId, id, c.req.valid('json').isRead))) throw notFound('note')
        await changed(workspaceId)
        return c.json({ ok: true })
      })
      .post('/:id/hand-outs', valid('param', Id), valid('json', NewHandOut), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { name, ...terms } = c.req.valid('json')
        const wish = { name, packId: c.req.valid('param').id, ...toTerms(terms) }
        const { handOut, token } = await createHandOut(deps, workspaceId, wish)
        about(c, handOut.name)
        await changed(workspaceId)
        return c.json({ id: handOut.id, link: linkOf(token) }, 201)
      })
      .post('/:id/hand-outs/many', valid('param', Id), valid('json', NewHandOuts), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { people, batchId, ...terms } = c.req.valid('json')
        const wish = { people, batchId, packId: c.req.valid('param').id, ...toTerms(terms) }
        const made = await createHandOuts(deps, workspaceId, wish)
        about(c, `${made.length.toLocaleString('en')} people`)
        await changed(workspaceId)
        return c.json({ ids: made.map(({ id }) => id) }, 201)
      })
      // one act over many: what it gives back, sent again, undoes it
      .post('/:id/hand-outs/change', valid('param', Id), valid('json', Changes), async (c) => {
        const workspaceId = c.get('workspaceId')
        const packId = c.req.valid('param').id
        if (!(await findPack(db, workspaceId, packId))) throw notFound('pack')
        const changes = c.req.valid('json').changes.map(({ endsAt, withdrawnAt, ...rest }) => ({
          ...rest,
          ...(endsAt === undefined ? {} : { endsAt: toDate(endsAt) }),
          ...(withdrawnAt === undefined ? {} : { withdrawnAt: toDate(withdrawnAt) }),
        }))
        const before = await changeTerms(db, workspaceId, packId, changes)
        about(c, changes.length.toLocaleString('en'))
        await changed(workspaceId)
        return c.json({ before })
      })
      // a POST: whoever may only look is told no links
      .post('/hand-outs/links', valid('json', Ids), async (c) => {
        const found = await openLinks(deps, c.get('workspaceId'), c.req.valid('json').ids)
        return c.json({
          links: found.map(({ id, name, token }) => ({ id, name, link: token === undefined ? null : linkOf(token) })),
        })
      })
      // a POST: marks are long, and name people
      .post('/hand-outs/copies', valid('json', Marks), async (c) =>
        c.json({ copies: await whoseCopies(deps, c.get('workspaceId'), c.req.valid('json').marks) }),
      )
      .put('/hand-outs/people/:id', valid('param', Id), valid('json', Person), async (c) => {
        const workspaceId = c.get('workspaceId')
        const was = await updateRecipient(db, workspaceId, c.req.valid('param').id, c.req.valid('json'))
        if (!was) throw notFound('person')
        if (was === 'taken') throw new Problem(409, 'Somebody else has this address, or this name, already.')
        await changed(workspaceId)
        return c.json({ was })
      })
      .post('/hand-outs/:id/withdraw', valid('param', Id), async (c) => {
        await setWithdrawn(c, c.req.valid('param').id, new Date())
        return c.json({ ok: true })
      })
      .post('/hand-outs/:id/give-again', valid('param', Id), async (c) => {
        await setWithdrawn(c, c.req.valid('param').id, null)
        return c.json({ ok: true })
      })
      .post('/hand-outs/:id/new-link', valid('param', Id), async (c) => {
        const token = await renewLink(deps, c.get('workspaceId'), c.req.valid('param').id)
        await changed(c.get('workspaceId'))
        return c.json({ link: linkOf(token) })
      })
  )
}
