import { SAME_KIND_NAMES, SAME_KINDS } from '@satchel/core/same/kinds'
import { Hono } from 'hono'
import * as v from 'valibot'
import type { AppDeps } from '../app-deps.ts'
import { insertAct, lockActs, NOTHING_DONE } from '../db/acts.ts'
import { askAgain, countFreshMarks, keepBeside, loadMemberFacts, setApart } from '../db/same-marks.ts'
import { Problem } from '../errors.ts'
import { type Act, keepOne } from '../library/keep-one.ts'
import { tellOfAct } from '../library/tell-of-act.ts'
import { compareNow } from '../same-marks/compare-marks.ts'
import { countKinds, findGroups, groupsOf, keepingOf, showGroups } from '../same-marks/groups.ts'
import type { SignedIn } from './context.ts'
import { Ids, ListPlace, valid, whole } from './validate.ts'

const PAGE_MAX = 50
/** Brushes that go in one act. */
const AT_ONCE_MAX = 20_000

const Kind = v.picklist(SAME_KIND_NAMES)
const Page = v.object({
  kind: v.optional(Kind),
  kept: v.optional(v.literal('1')),
  from: ListPlace,
  limit: whole(20, PAGE_MAX),
})
const Group = v.object({ kept: v.pipe(v.string(), v.uuid()), gone: Ids })
const Keep = v.object({ ...Group.entries, asFrames: v.optional(v.boolean(), false) })
const Brushes = v.object({ ids: Ids })

const brushes = (count: number) => (count === 1 ? 'One brush' : `${count.toLocaleString('en')} brushes`)
const others = (count: number) => (count === 1 ? 'another one' : `${count.toLocaleString('en')} others`)

/** Brushes of the library whose marks are alike, and what is done with them. */
export const sameMarkRoutes = (deps: AppDeps) => {
  const { db } = deps
  const done = async (workspaceId: string, act: Act) => {
    await tellOfAct(deps, workspaceId)
    return act
  }
  return new Hono<SignedIn>()
    .get('/', valid('query', Page), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { kind, kept, from, limit } = c.req.valid('query')
      // counted first: where none waits, what is grouped then is all of it
      const uncompared = await deps.landmarks.keep(workspaceId, 'marks to compare', () =>
        countFreshMarks(db, workspaceId),
      )
      const all = await findGroups(deps, workspaceId)
      const wanted = groupsOf(all, { kind, isKept: kept !== undefined })
      return c.json({
        groups: await showGroups(deps, workspaceId, wanted.slice(from, from + limit)),
        total: wanted.length,
        counts: countKinds(all),
        uncompared,
      })
    })
    .post('/compare', async (c) => {
      const { id } = await compareNow(deps, c.get('workspaceId'))
      return c.json({ jobId: id })
    })
    .post('/keep-one', valid('json', Keep), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { kept, gone, asFrames } = c.req.valid('json')
      const said = asFrames
        ? `One brush has the pictures of ${others(gone.length)} as frames.`
        : `One brush was kept instead of ${others(gone.length)}.`
      return c.json(await done(workspaceId, await keepOne(deps, workspaceId, [{ kept, gone }], { said, asFrames })))
    })
    .post('/keep-one-of-all', valid('json', v.object({ kind: Kind })), async (c) => {
      const workspaceId = c.get('workspaceId')
      const { kind } = c.req.valid('json')
      const groups = keepingOf(await findGroups(deps, workspaceId), kind)
      const count = groups.reduce((sum, { gone }) => sum + gone.length, 0)
      if (count === 0) throw new Problem(409, 'None of this kind is left; look at the groups as they are now.')
      if (count > AT_ONCE_MAX)
        throw new Problem(422, `These are ${count.toLocaleString('en')}, and ${AT_ONCE_MAX.toLocaleString('en')} can go at once; decide on some of the groups by themselves first.`) // biome-ignore format: a sentence
      const said = `${brushes(groups.length)} kept instead of ${others(count)} that ${count === 1 ? 'was' : 'were'} ${SAME_KINDS[kind].word}.`
      return c.json(await done(workspaceId, await keepOne(deps, workspaceId, groups, { said })))
    })
    .post('/keep-both', valid('json', v.union([Brushes, v.object({ kind: Kind })])), async (c) => {
      const workspaceId = c.get('workspaceId')
      const wish = c.req.valid('json')
      const groups = await findGroups(deps, workspaceId)
      const ids = 'ids' in wish ? new Set(wish.ids) : undefined
      const chosen = groups.flatMap(({ root, others }) =>
        others
          .filter(({ id, kind, isKept }) => !isKept && (ids ? ids.has(id) : 'kind' in wish && kind === wish.kind))
          .map(({ id }) => ({ brushId: id, root })),
      )
      if (chosen.length === 0) throw new Problem(409, 'None of these is in a group any more; look at the groups as they are now.') // biome-ignore format: a sentence
      const said = `${brushes(chosen.length)} kept beside what ${chosen.length === 1 ? 'it is' : 'they are'} like.`
      const act = await db.transaction(async (tx) => {
        await lockActs(tx, workspaceId)
        const kept = await keepBeside(tx, workspaceId, chosen)
        return { id: await insertAct(tx, workspaceId, said, { ...NOTHING_DONE, kept }), said, changed: kept.length }
      })
      return c.json(await done(workspaceId, act))
    })
    .post('/ask-again', valid('json', Brushes), async (c) => {
      const workspaceId = c.get('workspaceId')
      const ids = new Set(c.req.valid('json').ids)
      const kept = (await findGroups(deps, workspaceId)).flatMap(({ root, others }) =>
        others.filter(({ id, isKept }) => isKept && ids.has(id)).map(({ id }) => ({ brushId: id, root })),
      )
      await askAgain(db, workspaceId, kept)
      await tellOfAct(deps, workspaceId)
      return c.json({ changed: kept.length })
    })
    .post('/apart', valid('json', Brushes), async (c) => {
      const workspaceId = c.get('workspaceId')
      const ids = new Set(c.req.valid('json').ids)
      const groups = await findGroups(deps, workspaceId)
      const rootOf = new Map(groups.flatMap(({ root, others }) => others.map(({ id }) => [id, root] as const)))
      const facts = await loadMemberFacts(db, workspaceId, [...ids])
      const pairs = facts.flatMap(({ id, mark }) => {
        const original = rootOf.get(id)
        return original === undefined || original === mark ? [] : [{ mark, original }]
      })
      if (pairs.length === 0)
        throw new Problem(422, 'These have the very same pixels; keep both of them, or change one.')
      const said = `${brushes(ids.size)} called not the same as the other.`
      const act = await db.transaction(async (tx) => {
        await lockActs(tx, workspaceId)
        const apart = await setApart(tx, workspaceId, pairs)
        return { id: await insertAct(tx, workspaceId, said, { ...NOTHING_DONE, apart }), said, changed: pairs.length }
      })
      await compareNow(deps, workspaceId)
      return c.json(await done(workspaceId, act))
    })
}
