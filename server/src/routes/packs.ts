import { Line, Name } from '@satchel/core/forms/names'
import { BRUSHES_MAX, DESTINATIONS_MAX, HELP_MAX_CHARS, NOTE_MAX_CHARS } from '@satchel/core/pack/manifest'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { findBrush } from '../db/brushes.ts'
import { countHandOuts, listHandOuts } from '../db/hand-outs.ts'
import { listLatestJobs } from '../db/jobs.ts'
import { findFacts } from '../db/members.ts'
import { listPackBrushes, listSingle, setNote, setSingle } from '../db/pack-brushes.ts'
import { createPack, findPack, listPackSets, listPacks, setPackSets, updatePack } from '../db/packs.ts'
import { listReleases } from '../db/releases.ts'
import { listSetBrushes } from '../db/sets.ts'
import { changedElsewhere, notFound } from '../errors.ts'
import { layOutText } from '../hand-out/help-texts.ts'
import { whyLost } from '../queue/lost-work.ts'
import type { SignedIn } from './context.ts'
import { about } from './noted.ts'
import { Id, someOf, valid } from './validate.ts'

const Uuid = v.pipe(v.string(), v.uuid())
const NewPack = v.object({ title: Name, maker: v.optional(Line, ''), licence: v.optional(Line, '') })
const Change = someOf({
  title: v.optional(Name),
  maker: v.optional(Line),
  licence: v.optional(Line),
  licenceText: v.optional(v.pipe(v.string(), v.maxLength(HELP_MAX_CHARS))),
  help: v.optional(v.pipe(v.string(), v.maxLength(HELP_MAX_CHARS))),
  coverBrushId: v.optional(v.nullable(Uuid)),
  leastLikeness: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(100))),
  destinationIds: v.optional(v.pipe(v.array(v.pipe(v.string(), v.maxLength(60))), v.maxLength(DESTINATIONS_MAX))),
})
const SetIds = v.pipe(v.array(Uuid), v.maxLength(500))
/** As many hand-outs are shown beside a pack. */
const HAND_OUTS_SHOWN = 6

/** `was` says what it was when the page changed it, so that nobody's change is covered unseen. */
const SingleIds = v.pipe(v.array(Uuid), v.maxLength(BRUSHES_MAX))
const Single = v.object({ brushIds: SingleIds, was: v.optional(SingleIds) })
const OfBrush = v.object({ ...Id.entries, brushId: Uuid })
const Text = v.object({ text: v.pipe(v.string(), v.maxLength(HELP_MAX_CHARS)) })
const NoteText = v.pipe(v.string(), v.trim(), v.maxLength(NOTE_MAX_CHARS))
const Note = v.object({ note: NoteText, was: v.optional(v.string()) })
const Sets = v.object({ setIds: SetIds, was: v.optional(SetIds) })
const Was = v.object({
  was: v.optional(
    v.partial(
      v.object({
        title: v.string(),
        maker: v.string(),
        licence: v.string(),
        licenceText: v.string(),
        help: v.string(),
      }),
    ),
  ),
})

/** Packs: what they are called, and which sets they hold. */
export const packRoutes = (deps: AppDeps) => {
  const { db, events } = deps
  const changed = (workspaceId: string, id?: string) =>
    events.publish({ workspaceId, topic: 'packs', ...(id ? { id } : {}) })
  return (
    new Hono<SignedIn>()
      // nothing is kept of it: a POST because a page of help is longer than an address may be
      .post('/laid-out', valid('json', Text), async (c) => {
        const { text } = c.req.valid('json')
        return c.json({ nodes: await layOutText(deps, text) })
      })
      .get('/', async (c) => c.json({ packs: await listPacks(db, c.get('workspaceId')) }))
      .post('/', valid('json', NewPack), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { maker, licence, ...said } = c.req.valid('json')
        const facts = await findFacts(db, workspaceId)
        const whose = { maker: maker || facts.maker, licence: licence || facts.licence }
        const pack = await createPack(db, workspaceId, { ...said, ...whose })
        await changed(c.get('workspaceId'), pack.id)
        return c.json({ id: pack.id }, 201)
      })
      .get('/:id', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        const pack = await findPack(db, workspaceId, id)
        if (!pack) throw notFound('pack')
        const [sets, single, releases, handOuts, handOutCount] = await Promise.all([
          listPackSets(db, workspaceId, id),
          listSingle(db, workspaceId, id),
          listReleases(db, workspaceId, id),
          listHandOuts(db, workspaceId, id, { most: HAND_OUTS_SHOWN }),
          countHandOuts(db, workspaceId, id),
        ])
        const unbuilt = releases.filter(({ state }) => state !== 'ready').map((release) => release.id)
        const building = await listLatestJobs(db, workspaceId, 'build-release', unbuilt)
        const items = await listSetBrushes(
          db,
          workspaceId,
          sets.map((set) => set.id),
        )
        const counted = sets.map((set) => ({ ...set, count: items.filter((item) => item.setId === set.id).length }))
        const brushes = new Set([...single.map((each) => each.id), ...items.map((item) => item.brushId)]).size
        return c.json({
          ...pack,
          sets: counted,
          single,
          brushes,
          releases: releases.map((release) => {
            const lost = release.state === 'ready' ? undefined : whyLost(building.get(release.id))
            return { ...release, state: lost === undefined ? release.state : ('failed' as const), lost: lost ?? null }
          }),
          // the newest; all of them have a page of their own
          handOuts,
          handOutCount,
        })
      })
      .patch('/:id', valid('param', Id), valid('json', v.intersect([Change, Was])), async (c) => {
        const { was, ...change } = c.req.valid('json')
        if (change.coverBrushId && !(await findBrush(db, c.get('workspaceId'), change.coverBrushId)))
          throw notFound('brush')
        const { id } = c.req.valid('param')
        const pack = await updatePack(db, c.get('workspaceId'), id, change, was)
        if (!pack)
          throw (await findPack(db, c.get('workspaceId'), id)) ? changedElsewhere('This pack') : notFound('pack')
        await changed(c.get('workspaceId'), pack.id)
        return c.json({ ok: true })
      })
      .delete('/:id', valid('param', Id), async (c) => {
        const pack = await updatePack(db, c.get('workspaceId'), c.req.valid('param').id, { deletedAt: new Date() })
        if (!pack) throw notFound('pack')
        about(c, pack.title)
        await changed(c.get('workspaceId'), pack.id)
        return c.json({ ok: true })
      })
      .post('/:id/bring-back', valid('param', Id), async (c) => {
        const pack = await updatePack(db, c.get('workspaceId'), c.req.valid('param').id, { deletedAt: null })
        if (!pack) throw notFound('pack')
        await changed(c.get('workspaceId'), pack.id)
        return c.json({ ok: true })
      })
      .get('/:id/brushes', valid('param', Id), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await findPack(db, workspaceId, id))) throw notFound('pack')
        return c.json({ brushes: await listPackBrushes(db, workspaceId, id) })
      })
      .put('/:id/single', valid('param', Id), valid('json', Single), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await findPack(db, workspaceId, id))) throw notFound('pack')
        if (!(await setSingle(db, workspaceId, id, c.req.valid('json'))))
          throw changedElsewhere('The single brushes of this pack')
        await changed(workspaceId, id)
        return c.json({ ok: true })
      })
      .put('/:id/notes/:brushId', valid('param', OfBrush), valid('json', Note), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id, brushId } = c.req.valid('param')
        if (!(await findPack(db, workspaceId, id))) throw notFound('pack')
        if (!(await findBrush(db, workspaceId, brushId))) throw notFound('brush')
        if (!(await setNote(db, workspaceId, id, { brushId, ...c.req.valid('json') })))
          throw changedElsewhere('This note')
        await changed(workspaceId, id)
        return c.json({ ok: true })
      })
      .put('/:id/sets', valid('param', Id), valid('json', Sets), async (c) => {
        const workspaceId = c.get('workspaceId')
        const { id } = c.req.valid('param')
        if (!(await findPack(db, workspaceId, id))) throw notFound('pack')
        if (!(await setPackSets(db, workspaceId, id, c.req.valid('json'))))
          throw changedElsewhere('The sets of this pack')
        await changed(workspaceId, id)
        return c.json({ ok: true })
      })
  )
}
