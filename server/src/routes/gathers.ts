import { kindWord } from '@satchel/core/brush-file/kinds'
import { Name } from '@satchel/core/forms/names'
import { PICTURE_USES } from '@satchel/core/grain/picture-use'
import { HEAVY_TIP_SIDE_PX, NAME_MAX_CHARS } from '@satchel/core/limits'
import { Decision } from '@satchel/core/newer/merge'
import { drawParcel } from '@satchel/drawn/starter/parcel'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import {
  countGatherLines,
  decideGatherLines,
  findWholeBrush,
  LINE_GROUPS,
  type LineGroup,
  listGatherLines,
  listLineIds,
  loadGatherLines,
  sumCounts,
} from '../db/gather-lines.ts'
import { countGatherFiles, findGather, findOpenGather, openGather } from '../db/gathers.ts'
import { findOpenJob, listOpenJobs } from '../db/jobs.ts'
import { listNewer } from '../db/newer-packs.ts'
import { chooseOffered, listOfferedCards } from '../db/setup-cards.ts'
import { listUploads } from '../db/uploads.ts'
import { notFound, Problem } from '../errors.ts'
import { findLineStroke, LINE_STROKES } from '../gather/newer/line-stroke.ts'
import { restoreLine } from '../gather/shrink-job.ts'
import { cancelGather, takeIn, undoTakeIn } from '../gather/take-in.ts'
import { takeInFromLink } from '../hand-out/take-in-from-link.ts'
import { strokePicture } from '../pictures/renders.ts'
import { parsePayload } from '../queue/job-kinds.ts'
import { changingPng, type SignedIn } from './context.ts'
import { Token } from './hand-out-token.ts'
import { Id, Ids, ListPlace, PATH_MAX_CHARS, valid, whole } from './validate.ts'

/** A folder in a ledger: its path in the drop, and in archives inside archives. */
const FOLDER_MAX_CHARS = 8 * PATH_MAX_CHARS
const Group = v.picklist(Object.keys(LINE_GROUPS) as LineGroup[])
/** Lines of the ledger: those named, or all of a folder or a group. */
const Choice = v.pipe(
  v.object({
    ids: v.optional(Ids),
    folder: v.optional(v.pipe(v.string(), v.maxLength(FOLDER_MAX_CHARS))),
    group: v.optional(Group),
  }),
  v.check(
    ({ ids, folder, group }) => ids !== undefined || folder !== undefined || group !== undefined,
    'say which lines are meant',
  ),
)
const LINES_AT_ONCE_MAX = 200
const Page = v.object({ from: ListPlace, limit: whole(100, LINES_AT_ONCE_MAX), group: v.optional(Group) })
const Deciding = v.object({
  of: Choice,
  outcome: v.optional(v.picklist(['take', 'skip'])),
  setName: v.optional(v.union([v.literal(''), Name])),
  name: v.optional(Name),
  use: v.optional(v.picklist(PICTURE_USES)),
  /** What is taken of what was changed here and by its maker. */
  decision: v.optional(Decision),
})
const LineStroke = v.object({
  id: v.pipe(v.string(), v.uuid()),
  lineId: v.pipe(v.string(), v.uuid()),
  of: v.picklist(LINE_STROKES),
})
/** Strokes of lines, px. */
const LINE_STROKE = { width: 480, height: 150, what: 'list' } as const
const ChosenCard = v.object({
  fileId: v.pipe(v.string(), v.uuid()),
  key: v.pipe(v.string(), v.maxLength(2 * NAME_MAX_CHARS + 1)),
  isChosen: v.boolean(),
})
const FromLink = v.object({ token: Token.entries.token })
const Shrink = v.object({ of: Choice, smaller: v.boolean() })

/** The ledger: files come in, are read by a job, decided on, and taken in or dropped. */
export const gatherRoutes = (deps: AppDeps) => {
  const { db, jobs, events } = deps
  const known = async (workspaceId: string, id: string) => {
    if (!(await findGather(db, workspaceId, id))) throw notFound('ledger')
  }
  const readAgain = (workspaceId: string, id: string, title: string) =>
    jobs.add({ workspaceId, kind: 'gather-read', subjectId: id, title, payload: {} })
  const compareAgain = (workspaceId: string, id: string) => readAgain(workspaceId, id, 'Comparing pictures')
  return (
    new Hono<SignedIn>()
      .get('/parcel', (c) => c.body(new Uint8Array(drawParcel()), 200, { 'content-type': 'application/zip' }))
      .get('/current', async (c) => {
        const gather = await findOpenGather(db, c.get('workspaceId'))
        return c.json({ id: gather?.id ?? null })
      })
      .post('/', async (c) => {
        const workspaceId = c.get('workspaceId')
        const gather = await openGather(db, workspaceId)
        return c.json({ id: gather.id }, 201)
      })
      // what a link gives, without a way round by the disk
      .post('/from-link', valid('json', FromLink), async (c) => {
        const id = await takeInFromLink(deps, c.get('workspaceId'), c.req.valid('json').token)
        return c.json({ id }, 201)
      })
      .get('/:id', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        const gather = await findGather(db, workspaceId, id)
        if (!gather) throw notFound('ledger')
        const [files, arriving, folders, cards, job] = await Promise.all([
          countGatherFiles(db, workspaceId, id),
          listUploads(db, workspaceId, id),
          countGatherLines(db, workspaceId, id),
          listOfferedCards(db, workspaceId, id),
          findOpenJob(db, workspaceId, 'gather-read', id),
        ])
        return c.json({
          id,
          state: gather.state,
          files,
          /** Files that have come in part. */
          arriving,
          folders: folders.map(({ folder, lines, take, pictures }) => ({ folder, lines, taken: take, pictures })),
          tally: sumCounts(folders),
          /** How far reading is, in pictures; none while nothing is read. */
          reading: job ? { jobId: job.id, done: job.done, total: job.total, startedAt: job.startedAt } : null,
          heavyPx: HEAVY_TIP_SIDE_PX,
          /** Packs of which something was taken before; while files are read that is not known yet. */
          newer: job ? [] : await listNewer(db, workspaceId, id),
          /** Setup cards that came with packs: offered, and laid out only where that is chosen. */
          cards: cards.map(({ handOutId: _, ...card }) => card),
        })
      })
      .get('/:id/lines', valid('param', Id), valid('query', Page), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        await known(workspaceId, id)
        const lines = await listGatherLines(db, workspaceId, id, c.req.valid('query'))
        return c.json({ lines: lines.map((line) => ({ ...line, kindWord: kindWord(line.kind) })) })
      })
      // a brush that was changed here and by its maker: as it is here, as they give it, and as it comes out
      .get('/:id/lines/:lineId/stroke/:of', valid('param', LineStroke), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id, lineId, of } = c.req.valid('param')
        const wish = await findLineStroke(db, workspaceId, { gatherId: id, lineId, of })
        if (!wish) throw notFound('line')
        const { key, png } = await strokePicture(deps, workspaceId, { ...wish, ...LINE_STROKE })
        return changingPng(c, key, png)
      })
      .post('/:id/read', valid('param', Id), async (c) => {
        const { id } = c.req.valid('param')
        await known(c.get('workspaceId'), id)
        await readAgain(c.get('workspaceId'), id, 'Reading files')
        return c.json({ ok: true })
      })
      .post('/:id/decide', valid('param', Id), valid('json', Deciding), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { of: choice, ...change } = c.req.valid('json')
        const { id: gatherId } = c.req.valid('param')
        await known(workspaceId, gatherId)
        const whole = change.use && change.use !== 'tip' && (await findWholeBrush(db, workspaceId, gatherId, choice))
        if (whole !== undefined && whole !== false)
          throw new Problem(
            422,
            `"${whole}" is a whole brush and stays one; only single pictures can be grain or strip.`,
          )
        const changed = await decideGatherLines(db, { workspaceId, gatherId, choice }, change)
        if (change.use) await compareAgain(workspaceId, gatherId)
        await events.publish({ workspaceId, topic: 'gather', id: gatherId })
        return c.json({ changed })
      })
      .post('/:id/cards', valid('param', Id), valid('json', ChosenCard), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        const { fileId, ...choice } = c.req.valid('json')
        await known(workspaceId, id)
        if (!(await chooseOffered(db, { workspaceId, gatherId: id, fileId }, choice))) throw notFound('setup card')
        await events.publish({ workspaceId, topic: 'gather', id })
        return c.json({ ok: true })
      })
      .post('/:id/shrink', valid('param', Id), valid('json', Shrink), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        const { of: choice, smaller } = c.req.valid('json')
        await known(workspaceId, id)
        if (smaller) {
          const ids = await listLineIds(db, workspaceId, id, choice)
          if (ids.length === 0) return c.json({ queued: false })
          const title = ids.length === 1 ? 'Making a smaller copy' : `Making ${ids.length} smaller copies`
          await jobs.add({
            workspaceId,
            kind: 'gather-shrink',
            subjectId: ids[0] ?? id,
            title,
            payload: { gatherId: id, lineIds: ids },
          })
          return c.json({ queued: true })
        }
        for (const line of await loadGatherLines(db, workspaceId, id, choice)) await restoreLine(db, line)
        await compareAgain(workspaceId, id)
        await events.publish({ workspaceId, topic: 'gather', id })
        return c.json({ queued: false })
      })
      .post('/:id/take', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (await findOpenJob(db, workspaceId, 'gather-read', id))
          throw new Problem(409, 'Files are still being read; wait for the last one, or stop the reading.')
        const taken = await takeIn(db, workspaceId, id)
        await Promise.all([
          events.publish({ workspaceId, topic: 'gather', id }),
          events.publish({ workspaceId, topic: 'library' }),
          events.publish({ workspaceId, topic: 'pockets' }),
        ])
        return c.json(taken)
      })
      .post('/:id/undo', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        await known(workspaceId, id)
        const undone = await undoTakeIn(db, workspaceId, id)
        if (!undone) throw new Problem(409, 'This was taken back already; the brushes lie in the bin.')
        await events.publish({ workspaceId, topic: 'library' })
        await events.publish({ workspaceId, topic: 'pockets' })
        return c.json(undone)
      })
      .post('/:id/cancel', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        await known(workspaceId, id)
        const cancelled = await cancelGather(db, workspaceId, id)
        const reading = await findOpenJob(db, workspaceId, 'gather-read', id)
        const shrinking = await listOpenJobs(db, workspaceId, 'gather-shrink')
        const ofThis = shrinking.filter((job) => parsePayload('gather-shrink', job.payload).gatherId === id)
        for (const job of [...(reading ? [reading] : []), ...ofThis]) await jobs.stop(workspaceId, job.id)
        await events.publish({ workspaceId, topic: 'gather', id })
        return c.json({ cancelled })
      })
  )
}
