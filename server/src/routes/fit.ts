import { WAY_QUESTIONS } from '@satchel/core/destinations/fit-state'
import { Line } from '@satchel/core/forms/names'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { countFiles, type FitCell, listCells, listFitBrushes, pageFitBrushes } from '../db/fit.ts'
import { joinAnswers, listAnswers, saveChoices } from '../db/fit-choices.ts'
import { FIT_PICTURES, type FitPicture } from '../db/schema/fit.ts'
import { findSet } from '../db/sets.ts'
import { notFound } from '../errors.ts'
import { findWished } from '../fit/brush-source.ts'
import { findAnyDestination } from '../fit/destinations.ts'
import { fitKey, readFitInput } from '../fit/fit-input.ts'
import { knownCells } from '../fit/known-cells.ts'
import { measureBrush } from '../fit/measurer.ts'
import { findAnswer } from '../pictures/kept-answers.ts'
import { immutablePng, type SignedIn } from './context.ts'
import { BrushesOrRelease, isEither, ListPlace, valid } from './validate.ts'

const PAGE = 60
const DestinationId = v.pipe(v.string(), v.regex(/^[0-9a-z-]{1,40}$/, 'a destination'))
const BrushId = v.pipe(v.string(), v.uuid())
const Order = v.object({
  by: v.optional(DestinationId),
  worst: v.optional(v.literal('1')),
  left: v.optional(v.literal('1')),
  find: v.optional(Line, ''),
  from: ListPlace,
})
const Counted = v.pipe(
  v.object({ ...BrushesOrRelease, destinationIds: v.pipe(v.array(DestinationId), v.maxLength(100)) }),
  v.check((wish) => isEither(wish), 'brushes of the library are wanted, or a release'),
)
/** Brushes by their ids, parted by commas. */
const Wanted = v.object({
  brushIds: v.pipe(
    v.string(),
    v.transform((text) => text.split(',')),
    v.array(BrushId),
    v.minLength(1),
    v.maxLength(100),
  ),
})
const Cell = v.object({ brushId: BrushId, destinationId: DestinationId })
const Picture = v.object({ key: v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/, 'a name of a picture')) })
const What = v.object({ ...Cell.entries, what: v.picklist(FIT_PICTURES) })
const Answer = v.pipe(v.string(), v.regex(/^[a-zA-Z]{1,40}$/, 'an answer'))
const Chosen = v.object({
  destinationId: DestinationId,
  /** For whom it is answered; for all where neither is said. */
  brushId: v.optional(BrushId),
  setId: v.optional(v.pipe(v.string(), v.uuid())),
  choices: v.strictObject(
    Object.fromEntries(Object.keys(WAY_QUESTIONS).map((name) => [name, v.optional(Answer)])) as Record<
      keyof typeof WAY_QUESTIONS,
      v.OptionalSchema<typeof Answer, undefined>
    >,
  ),
})
/** What of brushes arrives at which destination. */
export const fitRoutes = (deps: AppDeps) => {
  const { db, events, jobs, renders, workers } = deps
  const changed = (workspaceId: string) => events.publish({ workspaceId, topic: 'fit' })

  /** All that one cell is measured of. @throws {Problem} If the brush or the destination is not there. */
  const findCell = async (workspaceId: string, brushId: string, destinationId: string) => {
    const [destination, [brush], answersOf] = await Promise.all([
      findAnyDestination(db, workspaceId, destinationId),
      listFitBrushes(db, workspaceId, [brushId]),
      listAnswers(db, workspaceId, [destinationId], [brushId]),
    ])
    if (!destination) throw notFound('destination')
    if (!brush) throw notFound('brush')
    const answers = answersOf(brushId, destinationId)
    const choices = joinAnswers(answers)
    const key = fitKey(deps, brush, destination, choices)
    return { brush, key, choices, answers, destination, to: [{ destinationId, destination, choices, key }] }
  }

  /** A cell as the page opens it. */
  const toOpenCell = (
    { brush, key, choices, answers }: Awaited<ReturnType<typeof findCell>>,
    { score, result }: Pick<FitCell, 'score' | 'result'>,
  ) => ({ key, name: brush.name, choices, answers, score, result })

  return (
    new Hono<SignedIn>()
      .get('/brushes', valid('query', Order), async (c) => {
        const { by, worst, left, find, from } = c.req.valid('query')
        const order = { by, worst: worst === '1', onlyLeft: left === '1' && by !== undefined, find }
        return c.json(await pageFitBrushes(db, c.get('workspaceId'), order, { from, limit: PAGE }))
      })
      // what is not known yet is measured, the first of it first; the page is told when there is more
      .get('/cells', valid('query', Wanted), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { brushIds } = c.req.valid('query')
        // whoever may only look sets nothing to work
        const measures = c.get('role') !== 'viewer'
        return c.json({ cells: await knownCells(deps, workspaceId, brushIds, { measures }) })
      })
      // a cell as it is known; what is not has to be asked for
      .get('/cells/:brushId/:destinationId', valid('param', Cell), async (c) => {
        const { brushId, destinationId } = c.req.valid('param')
        const wish = await findCell(c.get('workspaceId'), brushId, destinationId)
        const [cell] = await listCells(db, c.get('workspaceId'), [brushId], [destinationId])
        return c.json({ cell: cell?.key === wish.key ? toOpenCell(wish, cell) : null })
      })
      .post('/cells/:brushId/:destinationId', valid('param', Cell), async (c) => {
        const { brushId, destinationId } = c.req.valid('param')
        const workspaceId = c.get('workspaceId')
        const wish = await findCell(workspaceId, brushId, destinationId)
        const [cell] = await listCells(db, workspaceId, [brushId], [destinationId])
        const { brush, key, to } = wish
        // somebody looks at where it will be, whatever else is measured
        const [measured] = cell?.key === key ? [cell] : await measureBrush(deps, { workspaceId, brush, to }, 'view')
        if (!measured) throw notFound('cell')
        return c.json(toOpenCell(wish, measured))
      })
      // it takes seconds: no address to be looked at, but something that is asked for
      .post('/cells/:brushId/:destinationId/better', valid('param', Cell), async (c) => {
        const { brushId, destinationId } = c.req.valid('param')
        const workspaceId = c.get('workspaceId')
        const { brush, destination, choices } = await findCell(workspaceId, brushId, destinationId)
        const input = await readFitInput(deps, workspaceId, brush)
        return c.json(await workers.run('findBetter', { brush: input, destination, choices }))
      })
      .get('/cells/:brushId/:destinationId/:what', valid('param', What), valid('query', Picture), async (c) => {
        const { brushId, destinationId, what } = c.req.valid('param')
        const workspaceId = c.get('workspaceId')
        const wish = await findCell(workspaceId, brushId, destinationId)
        // the address names the picture: another one is not given under it
        if (wish.key !== c.req.valid('query').key) throw notFound('picture')
        const [cell] = await listCells(db, workspaceId, [brushId], [destinationId])
        const ways = cell?.key === wish.key && !('refused' in cell.result) ? cell.result.ways : []
        const choices = { ...Object.fromEntries(ways.map(({ name, chosen }) => [name, chosen])), ...wish.choices }
        const key = renders.key({ fit: wish.key, choices, what })
        // the page asks for all three at once: they are drawn once, together
        const drawn = await findAnswer(renders, { drawnFit: wish.key, choices }, async () => {
          const brush = await readFitInput(deps, workspaceId, wish.brush)
          const pictures = await workers.run('drawFit', { brush, destination: wish.destination, choices })
          const asText = (name: FitPicture) => Buffer.from(pictures[name]).toString('base64')
          return Object.fromEntries(FIT_PICTURES.map((name) => [name, asText(name)])) as Record<FitPicture, string>
        })
        return immutablePng(c, key, new Uint8Array(Buffer.from(drawn[what], 'base64')))
      })
      .put('/choices', valid('json', Chosen), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { destinationId, brushId, setId, choices } = c.req.valid('json')
        if (!(await findAnyDestination(db, workspaceId, destinationId))) throw notFound('destination')
        if (brushId && (await listFitBrushes(db, workspaceId, [brushId])).length === 0) throw notFound('brush')
        if (setId && !(await findSet(db, workspaceId, setId))) throw notFound('set')
        const given = Object.fromEntries(Object.entries(choices).filter(([, value]) => value !== undefined))
        await saveChoices(db, workspaceId, {
          destinationId,
          brushId: brushId ?? null,
          setId: brushId ? null : (setId ?? null),
          choices: given,
        })
        await changed(workspaceId)
        return c.json({ ok: true })
      })
      .post('/count', valid('json', Counted), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { destinationIds, ...wish } = c.req.valid('json')
        if (destinationIds.length === 0) return c.json({ files: 0, measured: 0 })
        const brushIds = wish.brushIds ?? (await findWished(db, workspaceId, wish)).brushIds
        return c.json(await countFiles(db, workspaceId, brushIds, destinationIds))
      })
      .post('/measure', async (c) => {
        const workspaceId = c.get('workspaceId')
        const title = 'Likeness of the whole library'
        const job = await jobs.add({ workspaceId, kind: 'fit-all', subjectId: workspaceId, title, payload: {} })
        return c.json({ jobId: job.id }, 202)
      })
  )
}
